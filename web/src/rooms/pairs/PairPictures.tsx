/** A pair photographed again: its side and its sole laid over those of the first day, and what is gone since. */
import { useQuery } from "@tanstack/react-query";
import { lazy, Suspense, useCallback, useRef, useState } from "react";
import { ask, http } from "../../api/client";
import { Button } from "../../ui/Button";
import { day } from "../../ui/clock";
import { UploadList } from "../../ui/UploadList";
import { Heading } from "../../ui/words";
import { ShoeDrawing } from "../shoebench/Drawings";
import { HOW, WAY_NAMES } from "../shoebench/names";
import { PictureInput } from "../shoebench/PictureInput";
import { type Picture, usePictures, type Way } from "../shoebench/usePictures";

const PictureCheck = lazy(() =>
  import("../shoebench/PictureCheck").then((m) => ({ default: m.PictureCheck })),
);
const WAYS: Way[] = ["side", "sole"];

export function PairPictures({ pair }: { pair: string }) {
  const seen = useQuery({
    queryKey: ["pair-pictures", pair],
    queryFn: () => ask(http.GET("/api/pairs/{pair_id}/pictures", { params: { path: { pair_id: pair } } })),
  }).data;
  const [looked, setLooked] = useState<Picture | null>(null);
  const [way, setWay] = useState<Way>("side");
  const onDone = useCallback((p: Picture) => setLooked(p), []);
  const place = `/pairs/${pair}`;
  const pictures = usePictures({ to: `/api${place}`, place }, onDone);
  const file = useRef<HTMLInputElement>(null);
  const choose = (w: Way) => {
    setWay(w);
    file.current?.click();
  };
  return (
    <section aria-label="Photographed" className="mt-4">
      <Heading>Photographed</Heading>
      <PictureInput ref={file} of={way} onFile={(chosen) => pictures.bring(way, chosen)} />
      <p className="mb-1 text-faint text-sm">{HOW.side}</p>
      <div className="flex flex-wrap gap-1.5">
        {WAYS.map((w) => (
          <Button key={w} onClick={() => choose(w)}>
            Photograph its {WAY_NAMES[w].toLowerCase()}
          </Button>
        ))}
      </div>
      <UploadList of={place} />
      {(seen?.lost ?? []).map((l) => (
        <div key={l.way} className="mt-2">
          {l.now && <ShoeDrawing way={l.way} picture={l.now} then={l.then} onOpen={() => setLooked(l.now)} />}
          {l.then && l.now && (
            <p className="text-faint text-sm">
              {`Dashed: ${l.of_model ? "the model, new" : "this pair"}, ${day(l.then.taken_at.slice(0, 10))}. Drawn through: ${day(l.now.taken_at.slice(0, 10))}.`}
            </p>
          )}
          <ul>
            {l.lost.map((x) => (
              <li key={x.name} className={x.sure ? "font-semibold" : "text-faint text-sm"}>
                {x.text}
              </li>
            ))}
          </ul>
        </div>
      ))}
      {looked && (
        <Suspense fallback={null}>
          <PictureCheck
            key={looked.id}
            picture={looked}
            canKeep={false}
            onNow={(now) => setLooked((was) => (was?.id === now.id ? now : was))}
            onClose={() => setLooked(null)}
          />
        </Suspense>
      )}
    </section>
  );
}
