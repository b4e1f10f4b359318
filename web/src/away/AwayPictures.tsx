/** Pictures of the feet, taken with a phone over a sheet of paper. */
import { useRef, useState } from "react";
import type { Side } from "../api/client";
import { dropUpload, upload, useUploads } from "../api/uploads";
import { OneOf } from "../ui/choice";
import { sendPicture } from "./away";
import { PaperHow } from "./PaperHow";
import type { Props } from "./props";

const SIDES: Side[] = ["left", "right"];

export function Pictures({ token, page, onPage }: Props) {
  const [paper, setPaper] = useState<"a4" | "letter">("a4");
  const here = useUploads();
  const of = (side: Side) => `${token} ${side}`;
  /** The same picture chosen again is the same picture there. */
  const ids = useRef(new Map<string, string>());
  const take = (side: Side, file: File | undefined) => {
    if (!file) return;
    const key = `${side} ${paper} ${file.name} ${file.size} ${file.lastModified}`;
    const id = ids.current.get(key) ?? crypto.randomUUID();
    ids.current.set(key, id);
    for (const before of here.filter((u) => u.of === of(side) && u.refused)) dropUpload(before.id);
    upload({
      id,
      of: of(side),
      place: `/away/${token}`,
      name: file.name,
      unwatched: true,
      run: async (_, tell) => onPage(await sendPicture(token, { id, side, paper }, file, tell)),
    });
  };
  return (
    <section aria-label="Pictures of your feet">
      <h2 className="mt-5 font-semibold text-lg">Photograph each foot on a sheet of paper</h2>
      <PaperHow />
      <OneOf
        label="The sheet is"
        value={paper}
        options={[
          { value: "a4", text: "A4" },
          { value: "letter", text: "Letter" },
        ]}
        onChange={(v) => setPaper(v as "a4" | "letter")}
      />
      <div className="mt-2 grid grid-cols-2 gap-2">
        {SIDES.map((side) => {
          const sent = here.find((u) => u.of === of(side));
          const done = page.pictures.filter((p) => p.side === side).at(-1);
          return (
            <label
              key={side}
              className="flex min-h-20 cursor-pointer flex-col justify-center border border-ink/50 bg-paper px-3 py-2 focus-within:outline-2 focus-within:outline-madder"
            >
              <b>{side === "left" ? "Left foot" : "Right foot"}</b>
              <span className="text-sm" data-picture={side}>
                {sent && !sent.refused
                  ? sent.trouble
                    ? "kept here, sent again by itself …"
                    : "being measured …"
                  : done?.length_mm
                    ? `${(done.length_mm / 10).toFixed(1)} cm long; again?`
                    : done
                      ? "there; again?"
                      : "take the picture"}
              </span>
              <input
                type="file"
                accept="image/jpeg,image/png,image/heic,image/heif,.heic"
                capture="environment"
                className="sr-only"
                disabled={!!sent && !sent.refused}
                onChange={(e) => {
                  take(side, e.target.files?.[0]);
                  e.target.value = "";
                }}
              />
            </label>
          );
        })}
      </div>
      {here
        .filter((u) => u.trouble && SIDES.some((side) => u.of === of(side)))
        .map((u) => (
          <p key={u.id} role="alert" className="mt-2 text-madder">
            {u.trouble?.title}
          </p>
        ))}
    </section>
  );
}
