/** Two pairs held beside each other over the foot: new and worn in, what each gives up, what was felt in each. */
import { useQuery } from "@tanstack/react-query";
import { type ReactNode, useState } from "react";
import { ask, http, type Schemas } from "../api/client";
import { useDesk, useTypedThere } from "../api/desk";
import { useZones } from "../api/vocabulary";
import { LINES, TwoPairs } from "../benches/TwoPairs";
import { BesideScale } from "../drawing/BesideScale";
import { useKeys } from "../shell/keys";
import { Button } from "../ui/Button";
import { OneOf } from "../ui/choice";
import { Dialog } from "../ui/Dialog";
import { Loading } from "../ui/words";
import { useBlind } from "./blind";

type Pair = Schemas["PairBeside"];
type When = "new" | "settled";

interface Props {
  /** A pair looked at that isn't in the tray. */
  also?: string | undefined;
  /** The pair looked at: one of the two that are shown first. */
  first?: string | undefined;
}

/** The button, its key, and the dialog they open. */
export function BesideEachOther({ also, first }: Props) {
  const { fitting } = useDesk();
  const [open, setOpen] = useState(false);
  const many = fitting.tray.length + (also && !fitting.tray.some((p) => p.id === also) ? 1 : 0);
  useKeys(many > 1 ? { b: () => setOpen(true) } : {});
  if (many < 2) return null;
  return (
    <>
      <Button onClick={() => setOpen(true)} aria-keyshortcuts="b">
        Beside each other
      </Button>
      {open && (
        <Dialog open wide onClose={() => setOpen(false)} title="Beside each other, over the foot">
          <Shown also={also} first={first} />
        </Dialog>
      )}
    </>
  );
}

function Shown({ also, first }: Props) {
  const { fitting } = useDesk();
  const there = useTypedThere(fitting);
  const { parts } = fitting;
  const versions = [parts.feet, parts.brief, parts.spec, parts.trial].map((p) => p.version);
  const tray = fitting.tray.map((p) => p.id);
  const found = useQuery({
    queryKey: ["of", fitting.id, "beside", also ?? "", ...versions, ...tray],
    queryFn: () =>
      ask(
        http.GET("/api/fittings/{fitting_id}/beside", {
          params: { path: { fitting_id: fitting.id }, query: also ? { line: [also] } : {} },
        }),
      ),
    enabled: there,
  });
  if (found.error && !found.data) return <p role="alert">{found.error.message}</p>;
  if (!found.data) return <Loading what="the pairs" />;
  return <Two all={found.data} first={first} />;
}

function Two({ all, first }: { all: Pair[]; first: string | undefined }) {
  const { fitting } = useDesk();
  const { blind, nameOf } = useBlind();
  const zones = useZones();
  const start = all.find((p) => p.line_id === first) ?? all[0];
  const [a, setA] = useState(start?.line_id ?? "");
  const [b, setB] = useState(all.find((p) => p.line_id !== start?.line_id)?.line_id ?? "");
  const [when, setWhen] = useState<When>("settled");
  const called = (p: Pair) =>
    blind && !fitting.tray.some((t) => t.id === p.line_id)
      ? "The shoe looked at"
      : nameOf({ id: p.line_id, name: p.name });
  /** In the tray's words, without the maker. */
  const shortly = (p: Pair) => fitting.tray.find((t) => t.id === p.line_id && !blind)?.name ?? called(p);
  const two = [a, b].flatMap((id) => all.find((p) => p.line_id === id) ?? []);
  const options = all.map((p) => ({ value: p.line_id, text: `${shortly(p)} ${p.size}` }));
  const pick = (one: string, other: string, put: (id: string) => void, swap: () => void) => {
    // The two change places rather than being the same.
    if (one === other) swap();
    put(one);
  };
  return (
    <div className="space-y-3">
      <div className="grid grid-cols-[430px_1fr] gap-4 max-md:grid-cols-1">
        <TwoPairs pairs={two} settled={when === "settled"} width={430} />
        <div className="space-y-3">
          <OneOf
            label="As they are"
            value={when}
            options={[
              { value: "new", text: "new" },
              { value: "settled", text: "settled" },
            ]}
            onChange={(v) => setWhen(v as When)}
          />
          {all.length > 2 && (
            <>
              <Picked letter="A">
                <OneOf
                  label="A"
                  value={a}
                  options={options}
                  onChange={(id) => pick(id, b, setA, () => setB(a))}
                />
              </Picked>
              <Picked letter="B">
                <OneOf
                  label="B"
                  value={b}
                  options={options}
                  onChange={(id) => pick(id, a, setB, () => setA(b))}
                />
              </Picked>
            </>
          )}
        </div>
      </div>
      <BesideScale
        pairs={two.map((p, i) => ({ ...(LINES[i] ?? LINES[0]), zones: p.fit.zones }))}
        names={zones}
        width={680}
      />
      <div className="grid grid-cols-2 gap-5 max-sm:grid-cols-1">
        {two.map((p, i) => (
          <section key={p.line_id} aria-label={called(p)}>
            <h3 className="font-semibold">
              {LINES[i]?.letter}: {called(p)} <span className="font-mono">{p.size}</span>
            </h3>
            <p>{p.gives_up}</p>
            <ul className="mt-1 list-disc pl-5">
              {p.felt.map((line) => (
                <li key={line}>{line}.</li>
              ))}
            </ul>
            {!p.tried && <p className="text-faint">Not tried yet.</p>}
          </section>
        ))}
      </div>
    </div>
  );
}

/** Which pair goes by a letter. */
function Picked({ letter, children }: { letter: string; children: ReactNode }) {
  return (
    <div>
      <b aria-hidden="true">{letter}</b>
      {children}
    </div>
  );
}
