/** The house: schools, numbers, sizes and tax as the shop sets them, version by version; and who works here. */
import { useState } from "react";
import { useLocation } from "react-router";
import type { Schemas } from "../../api/client";
import { useHouse } from "../../api/house";
import { OneOf } from "../../ui/choice";
import { day } from "../../ui/clock";
import { Loading, Note } from "../../ui/words";
import { RoomPage } from "../RoomPage";
import { HouseNumbers } from "./HouseNumbers";
import { Kept } from "./Kept";
import { People } from "./People";
import { Save } from "./Save";
import { Schools } from "./Schools";
import { Sizes } from "./Sizes";
import { Tablets } from "./Tablets";

type HouseData = Schemas["House"];

export default function House({ me }: { me: Schemas["Me"] }) {
  const house = useHouse();
  const [draft, setDraft] = useState<HouseData | null>(null);
  const { hash } = useLocation();
  const [part, setPart] = useState(hash.slice(1) || "schools");
  if (house.error && !house.data)
    return (
      <Note title="The house can't be shown" again>
        {house.error.message}
      </Note>
    );
  if (!house.data) return <Loading what="the house" />;
  const manages = me.role === "manager";
  const now = draft ?? house.data.house;
  const change = (values: Partial<HouseData>) => setDraft({ ...now, ...values });
  const pages = [
    { value: "schools", text: "Schools" },
    { value: "numbers", text: "Numbers" },
    { value: "sizes", text: "Sizes and tax" },
    ...(manages
      ? [
          { value: "people", text: "People" },
          { value: "tablets", text: "Tablets" },
          { value: "kept", text: "Archive" },
        ]
      : []),
  ];
  return (
    <RoomPage
      title="House"
      side={<OneOf label="Part of the house" value={part} options={pages} onChange={setPart} />}
    >
      <p className="mb-2 text-faint">
        {me.shop_name}. Version {house.data.house.version}
        {house.data.versions[0] &&
          `, set by ${house.data.versions[0].set_by} on ${day(house.data.versions[0].set_at)}`}
        . Fittings begun before keep theirs.{!manages && " A manager changes it."}
      </p>
      {draft && <Save draft={draft} base={house.data.house.version ?? 0} onDone={() => setDraft(null)} />}
      {part === "schools" && (
        <Schools
          schools={house.data.schools}
          now={now}
          disabled={!manages}
          onChange={(slug, side) => change({ schools: { ...now.schools, [slug]: side } })}
        />
      )}
      {part === "numbers" && (
        <HouseNumbers
          defaults={house.data.defaults}
          now={now}
          disabled={!manages}
          onChange={(slug, value) => {
            const numbers = { ...now.numbers };
            if (value === null) delete numbers[slug];
            else numbers[slug] = value;
            change({ numbers });
          }}
        />
      )}
      {part === "sizes" && <Sizes now={now} disabled={!manages} onChange={change} />}
      {part === "people" && manages && <People />}
      {part === "kept" && manages && <Kept />}
      {part === "tablets" && manages && (
        <Tablets
          me={me}
          address={now.public_address ?? null}
          onAddress={(public_address) => change({ public_address })}
        />
      )}
    </RoomPage>
  );
}
