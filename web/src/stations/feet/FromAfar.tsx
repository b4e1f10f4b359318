/** The athlete isn't here: a link to send them, what they answered, the foot that follows, and taking it over. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { ask, http, type Schemas } from "../../api/client";
import { useDesk } from "../../api/desk";
import { fittingKey } from "../../api/fitting";
import { useZones } from "../../api/vocabulary";
import { Button } from "../../ui/Button";
import { moment } from "../../ui/clock";
import { Dialog } from "../../ui/Dialog";
import { Shown } from "../../ui/Shown";

const SAYS = { tight: "too short", right: "right", loose: "too long" };

export function FromAfar() {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button className="mt-2 w-full" onClick={() => setOpen(true)}>
        They aren't here …
      </Button>
      {open && <FromAfarDialog onClose={() => setOpen(false)} />}
    </>
  );
}

function FromAfarDialog({ onClose }: { onClose: () => void }) {
  const { fitting, locked } = useDesk();
  const client = useQueryClient();
  const path = { params: { path: { fitting_id: fitting.id } } };
  const key = ["of", fitting.id, "link"];
  const link = useQuery({
    queryKey: key,
    queryFn: () => ask(http.GET("/api/fittings/{fitting_id}/link", path)),
    refetchInterval: 15_000,
    gcTime: 0,
  });
  // A picture that came by the link is a tracing of these feet: the sheet behind shows it at once.
  const pictures = link.data?.pictures ?? 0;
  useEffect(() => {
    if (pictures) void client.invalidateQueries({ queryKey: fittingKey(fitting.id) });
  }, [pictures, client, fitting.id]);
  const again = () => client.invalidateQueries({ queryKey: key });
  const [made, setMade] = useState<string | null>(null);
  const make = useMutation({
    mutationFn: () =>
      ask(http.POST("/api/fittings/{fitting_id}/link", { ...path, body: { id: crypto.randomUUID() } })),
    onSuccess: ({ token }) => {
      setMade(`/away/${token}`);
      void again();
    },
  });
  const end = useMutation({
    mutationFn: () => ask(http.DELETE("/api/fittings/{fitting_id}/link", path)),
    onSuccess: () => {
      setMade(null);
      void again();
    },
  });
  const now = link.data;
  const holds = now && !now.over;
  return (
    <Dialog open wide onClose={onClose} title="An athlete who isn't here">
      {made ? (
        <Shown label="The link" path={made}>
          Send this to {fitting.athlete.name} alone. It is shown only now; it ends by itself in two weeks.
        </Shown>
      ) : (
        <p>
          {holds
            ? `A link made by ${now.made_by} holds until ${moment(now.expires_at)}. A new one ends it.`
            : "A link lets them answer on their phone what the shoes are for, what they wear and how it fits, and photograph their feet on a sheet of paper."}
        </p>
      )}
      <span className="mt-2 flex flex-wrap gap-2">
        <Button
          kind={holds ? "plain" : "strong"}
          disabled={locked || make.isPending}
          onClick={() => make.mutate()}
        >
          {holds ? "Make a new link" : "Make a link"}
        </Button>
        {holds && (
          <Button disabled={end.isPending} onClick={() => end.mutate()}>
            End it now
          </Button>
        )}
      </span>
      {(make.error ?? end.error) && <p role="alert">{(make.error ?? end.error)?.message}</p>}
      {now?.agreed_at && <Answered link={now} onTaken={onClose} />}
      {now && !now.agreed_at && holds && (
        <p className="mt-3 text-faint">They haven't opened it and agreed yet.</p>
      )}
    </Dialog>
  );
}

function Answered({ link, onTaken }: { link: Schemas["LinkOut"]; onTaken: () => void }) {
  const { set, locked } = useDesk();
  const { fitting } = useDesk();
  const client = useQueryClient();
  const zones = useZones();
  const { answers, foot } = link;
  const take = () => {
    if (!foot) return;
    const sets: Record<string, number> = {};
    for (const side of ["left", "right"]) {
      for (const [zone, name] of [
        ["length", "length_mm"],
        ["ball_girth", "ball_girth_mm"],
      ] as const) {
        sets[`${side}/${name}`] = Math.round(foot[zone].mm * 10) / 10;
        sets[`${side}/sigma_mm/${name}`] = Math.round(foot[zone].sd_mm * 100) / 100;
      }
    }
    set("feet", sets);
    void client.invalidateQueries({ queryKey: fittingKey(fitting.id) });
    onTaken();
  };
  return (
    <section aria-label="What they answered" className="mt-4">
      <h3 className="font-semibold">
        What they answered{link.answered_at && `, ${moment(link.answered_at)}`}
      </h3>
      {answers?.words && <blockquote className="border-ink border-l-4 pl-3">{answers.words}</blockquote>}
      <ul className="mt-1">
        {answers?.stature_cm && <li>{answers.stature_cm} cm tall</li>}
        {answers?.worn.map((w, i) => (
          <li key={i}>
            {[w.maker, w.model].filter(Boolean).join(" ") || "a shoe"} {w.system.split("_")[0]?.toUpperCase()}{" "}
            {w.label ?? "?"}, for {w.sport === "street" ? "every day" : w.sport}:{" "}
            {w.says ? SAYS[w.says] : "how long it feels isn't said"}
          </li>
        ))}
        <li>
          {link.pictures
            ? `${link.pictures} ${link.pictures === 1 ? "picture" : "pictures"} on paper, at Feet as ${link.pictures === 1 ? "a tracing" : "tracings"}`
            : "no picture yet"}
        </li>
      </ul>
      {foot ? (
        <>
          <p className="mt-2 font-mono" data-afar-foot>
            {(["length", "ball_girth", "instep_girth", "heel_width"] as const).map((z) => (
              <span key={z} className="mr-4 inline-block">
                {zones[z]} {foot[z].mm.toFixed(0)} ± {(2 * foot[z].sd_mm).toFixed(0)} mm
              </span>
            ))}
          </p>
          <p className="font-semibold">{link.size}</p>
          <p>{foot.next}</p>
          {foot.conflicts.map((c) => (
            <p key={c} className="border-madder border-l-4 pl-2">
              {c}
            </p>
          ))}
          {!link.pictures && (
            <Button kind="strong" className="mt-2" disabled={locked} onClick={take}>
              Take this as the feet, as unsure as it is
            </Button>
          )}
        </>
      ) : (
        <p className="mt-2 text-faint">Nothing yet that tells a foot.</p>
      )}
    </section>
  );
}
