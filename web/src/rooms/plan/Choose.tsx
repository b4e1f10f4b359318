/** Whose plan it is: an athlete, or a squad. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { ask, http } from "../../api/client";
import { RoomPage } from "../RoomPage";

/** Whom to plan for. */
export function Choose() {
  const [text, setText] = useState("");
  const people = useQuery({
    queryKey: ["athletes", text],
    queryFn: () => ask(http.GET("/api/athletes", { params: { query: { text } } })),
    placeholderData: (old) => old,
  });
  const squads = useQuery({ queryKey: ["squads"], queryFn: () => ask(http.GET("/api/squads")) });
  return (
    <RoomPage title="Plan of pairs">
      <p className="max-w-prose">
        Which pairs somebody should own for all they do, within a budget: what to buy first, what stays
        uncovered, and what more money would bring.
      </p>
      <div className="mt-3 grid grid-cols-2 gap-8 max-md:grid-cols-1">
        <section aria-labelledby="one">
          <h2 id="one" className="font-semibold text-lg">
            One athlete
          </h2>
          <label className="block text-faint text-xs">
            Name or squad
            <input
              data-first
              value={text}
              onChange={(e) => setText(e.target.value)}
              className="mb-1 block min-h-11 w-full border border-ink/45 bg-sheet px-2.5 text-base text-ink"
            />
          </label>
          <ul>
            {people.data?.slice(0, 12).map((a) => (
              <li key={a.id} className="border-line border-b">
                <Link
                  to={`/pairs?athlete=${a.id}`}
                  className="flex min-h-11 items-center px-2 hover:bg-sheet"
                >
                  {a.name} <span className="ml-2 text-faint text-sm">{a.squad}</span>
                </Link>
              </li>
            ))}
          </ul>
        </section>
        <section aria-labelledby="squads">
          <h2 id="squads" className="font-semibold text-lg">
            A squad
          </h2>
          {squads.data && !squads.data.length && <p className="text-faint">No squads yet.</p>}
          <ul>
            {squads.data?.map((s) => (
              <li key={s.name} className="flex min-h-11 items-center gap-2 border-line border-b">
                <Link
                  to={`/pairs?squad=${encodeURIComponent(s.name)}`}
                  className="flex min-h-11 flex-1 items-center px-2 hover:bg-sheet"
                >
                  {s.name} <span className="ml-2 text-faint text-sm">{s.athletes}</span>
                </Link>
                <Link
                  to={`/squads?name=${encodeURIComponent(s.name)}`}
                  className="flex min-h-11 items-center px-2 underline"
                >
                  Fit them in a row
                </Link>
              </li>
            ))}
          </ul>
        </section>
      </div>
    </RoomPage>
  );
}
