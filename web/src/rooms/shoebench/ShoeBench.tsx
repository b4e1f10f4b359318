/** The shoe bench: one model to scale with every reading, photographed, tested by hand, and what it is good for. */
import { useQuery } from "@tanstack/react-query";
import { lazy, Suspense, useCallback, useRef, useState } from "react";
import { useParams } from "react-router";
import { ask, http } from "../../api/client";
import { Button } from "../../ui/Button";
import { printed } from "../../ui/pair";
import { UploadList } from "../../ui/UploadList";
import { Heading, Loading, Note } from "../../ui/words";
import { RoomPage } from "../RoomPage";
import { ShoeDrawing } from "./Drawings";
import { GoodForList } from "./GoodForList";
import { HandTests } from "./HandTests";
import { HOW, WAY_NAMES } from "./names";
import { PictureInput } from "./PictureInput";
import { type Picture, usePictures, type Way } from "./usePictures";

const PictureCheck = lazy(() => import("./PictureCheck").then((m) => ({ default: m.PictureCheck })));
const WAYS: Way[] = ["insole", "sole", "side"];

export default function ShoeBench() {
  const { line = "" } = useParams();
  const pair = useQuery({
    queryKey: ["line", line, "pair"],
    queryFn: () => ask(http.GET("/api/stock/{line_id}", { params: { path: { line_id: line } } })),
  });
  const model = pair.data?.model_id;
  const bench = useQuery({
    queryKey: ["shoe-bench", model],
    enabled: !!model,
    queryFn: () =>
      ask(http.GET("/api/models/{model_id}/bench", { params: { path: { model_id: model ?? "" } } })),
  });
  const other = useQuery({
    queryKey: ["shoe-bench", model, "elsewhere"],
    enabled: !!model,
    queryFn: () =>
      ask(http.GET("/api/models/{model_id}/elsewhere", { params: { path: { model_id: model ?? "" } } })),
  });
  const [looked, setLooked] = useState<Picture | null>(null);
  const onDone = useCallback((p: Picture) => setLooked(p), []);
  const place = `/stockroom/bench/${line}`;
  const pictures = usePictures({ to: `/api/stock/${line}`, place }, onDone);
  const [way, setWay] = useState<Way>("insole");
  const file = useRef<HTMLInputElement>(null);
  const seeds = useRef(1);
  if (!pair.data || !bench.data) {
    const trouble = pair.error ?? bench.error;
    return (
      <RoomPage title="Shoe bench">
        {trouble ? (
          <Note title="This shoe can't be shown" again>
            {trouble.message}
          </Note>
        ) : (
          <Loading what="the bench" />
        )}
      </RoomPage>
    );
  }
  const shown = pair.data;
  const newest = (w: Way) => bench.data.pictures.find((p) => p.way === w);
  const size = printed({ system: shown.system ?? "eu", label: shown.label ?? shown.eu_label });
  return (
    <RoomPage title={`${shown.maker} ${shown.name}`} side={<span>Shoe bench, {size}</span>}>
      <div className="grid grid-cols-[22.5rem_1fr_1fr] gap-5 max-xl:grid-cols-[22.5rem_1fr] max-md:grid-cols-1">
        <div className="space-y-2">
          {WAYS.map((w) => (
            <ShoeDrawing key={w} way={w} picture={newest(w)} onOpen={() => setLooked(newest(w) ?? null)} />
          ))}
        </div>
        <div>
          <Heading>Photograph it</Heading>
          <div className="grid grid-cols-3 gap-1.5">
            {WAYS.map((w) => (
              <Button
                key={w}
                aria-pressed={way === w}
                className="aria-pressed:bg-ink aria-pressed:text-sheet"
                onClick={() => setWay(w)}
              >
                {WAY_NAMES[w]}
              </Button>
            ))}
          </div>
          <p className="my-1.5 text-sm">{HOW[way]}</p>
          <PictureInput ref={file} of={way} onFile={(chosen) => pictures.bring(way, chosen)} />
          <div className="flex flex-wrap gap-1.5">
            <Button kind="strong" onClick={() => file.current?.click()}>
              Take or choose the picture
            </Button>
            <Button
              onClick={() => {
                pictures.practise(line, way, seeds.current);
                seeds.current += 1;
              }}
            >
              Practice shoe
            </Button>
          </div>
          <UploadList of={place} />
          <Heading>By hand</Heading>
          <HandTests key={bench.data.model_id} bench={bench.data} />
        </div>
        <div className="max-xl:col-span-full">
          <Heading>Good for</Heading>
          <GoodForList label="Good for" found={bench.data.good_for} />
          {!!other.data?.length && (
            <>
              <Heading>In other sports it may serve</Heading>
              <GoodForList label="In other sports" found={other.data} />
            </>
          )}
          <Heading>What is known</Heading>
          <ul className="text-sm" aria-label="What is known">
            {bench.data.properties.map((p) => (
              <li
                key={p.slug}
                className="flex items-center justify-between gap-2 border-line border-b py-0.5"
              >
                <span>{p.name}</span>
                <span className="flex items-center gap-2 font-mono">
                  <svg width="90" height="12" aria-hidden="true">
                    <path d="M1 6H89" stroke="var(--line)" strokeWidth="2" />
                    <circle
                      cx={5 + 80 * Math.min(Math.max((p.value - p.low) / (p.high - p.low), 0), 1)}
                      cy="6"
                      r="4"
                      fill="var(--ink)"
                    />
                  </svg>
                  {String(p.value).replace("-", "−")} {p.unit}
                </span>
              </li>
            ))}
          </ul>
        </div>
      </div>
      {looked && (
        <Suspense fallback={null}>
          <PictureCheck
            key={looked.id}
            picture={looked}
            canKeep
            onNow={(now) => setLooked((was) => (was?.id === now.id ? now : was))}
            onClose={() => setLooked(null)}
          />
        </Suspense>
      )}
    </RoomPage>
  );
}
