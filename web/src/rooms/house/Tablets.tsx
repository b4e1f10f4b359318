/** The shop's tablets: how one comes in, which there are, and where links for others lead. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { ask, http, type Schemas } from "../../api/client";
import { useTrust } from "../../api/trust";
import { Checks } from "../../trust/Checks";
import { inPairs } from "../../trust/marks";
import { Button } from "../../ui/Button";
import { moment } from "../../ui/clock";
import { Dialog } from "../../ui/Dialog";
import { Qr } from "../../ui/Qr";
import { TextField } from "../../ui/TextField";
import { Heading, Loading, Note } from "../../ui/words";

type Tablet = Schemas["TabletOut"];
const key = ["tablets"];

interface TabletsProps {
  me: Schemas["Me"];
  address: string | null;
  onAddress: (address: string | null) => void;
}

const isAddress = (text: string): boolean => URL.canParse(text) && new URL(text).origin === text;

export function Tablets({ me, address, onAddress }: TabletsProps) {
  return (
    <div className="grid max-w-5xl grid-cols-2 gap-x-10 max-lg:grid-cols-1">
      <div>
        <Heading>Let one in</Heading>
        <LetIn />
        <Heading>This device</Heading>
        <Checks />
        <ThisOne me={me} />
      </div>
      <div>
        <Heading>The shop's own</Heading>
        <Listed />
        <Heading>Where links lead</Heading>
        <p className="mb-2">
          Links for athletes, calendars and invitations, and their codes for a camera, begin with this. An
          athlete at home needs an address of yours on the internet; without one they begin with the address
          tablets use here.
        </p>
        <TextField
          label="Address for links, as https://bench.example"
          value={address ?? ""}
          error={
            address && !isAddress(address)
              ? "As https://bench.example, with nothing after the name."
              : undefined
          }
          onChange={(text) => onAddress(text.trim().replace(/\/+$/, "") || null)}
        />
      </div>
    </div>
  );
}

/** The code that brings a tablet to the page which says how to trust this machine. */
function LetIn() {
  const trust = useTrust();
  if (trust.isPending) return <Loading what="the code" />;
  if (!trust.data) return <Note again>{trust.error.message}</Note>;
  const { trust: where, secure, fingerprint } = trust.data;
  if (!secure[0])
    return (
      <p className="border-madder border-l-4 pl-3">
        This machine serves no tablets yet. Whoever runs it starts it with{" "}
        <b className="font-mono">./kalon serve --tablets</b>, or makes it a service with{" "}
        <b className="font-mono">sudo ./kalon install --tablets</b>.
      </p>
    );
  const code = where ?? `${secure[0]}/trust`;
  return (
    <div className="flex gap-4 max-sm:block">
      <Qr text={code} label="Where a tablet is let in" />
      <div>
        <p>
          Let the tablet's camera read this, in the shop's own network. The page it opens says the rest, in
          pictures: {where ? "trust this machine, then open the secure page." : "it opens the secure page."}
        </p>
        <p className="mt-2 break-all font-mono text-sm">{code}</p>
        {fingerprint && (
          <p className="mt-2 text-faint text-sm">
            The certificate's mark begins with <span className="font-mono">{inPairs(fingerprint)}</span>.
          </p>
        )}
        <p className="mt-2 text-sm">Secure afterwards:</p>
        <ul className="break-all font-mono text-sm">
          {secure.map((url) => (
            <li key={url}>{url}</li>
          ))}
        </ul>
      </div>
    </div>
  );
}

/** Whether the browser this stands in is one of them. */
function ThisOne({ me }: { me: Schemas["Me"] }) {
  const client = useQueryClient();
  const [name, setName] = useState("");
  const [id, setId] = useState(() => crypto.randomUUID());
  const add = useMutation({
    mutationFn: () => ask(http.POST("/api/tablets", { body: { id, name } })),
    onSuccess: (list) => {
      client.setQueryData(key, list);
      setId(crypto.randomUUID());
      setName("");
      for (const other of ["me", "today"]) void client.invalidateQueries({ queryKey: [other] });
    },
  });
  if (me.tablet)
    return (
      <p className="mt-3 mb-4">
        This is <b>{me.tablet}</b>, a tablet of the shop's own: your name at the lower left leaves it to
        somebody else, and it locks by itself when nobody touches it.
      </p>
    );
  return (
    <form
      className="mt-3 mb-4 flex flex-wrap items-end gap-2"
      onSubmit={(e) => {
        e.preventDefault();
        if (name.trim() && !add.isPending) add.mutate();
      }}
    >
      <p className="basis-full">
        If this device is the shop's own and stays here: on it, whoever works here signs in by a PIN.
      </p>
      <TextField className="w-56" label="What it is called" value={name} onChange={setName} />
      <Button kind="strong" type="submit" weight="weighty" disabled={!name.trim() || add.isPending}>
        It is the shop's
      </Button>
      {add.error && (
        <p role="alert" className="basis-full border-madder border-l-4 pl-2">
          {add.error.message}
        </p>
      )}
    </form>
  );
}

function Listed() {
  const list = useQuery({ queryKey: key, queryFn: () => ask(http.GET("/api/tablets")) });
  const [chosen, setChosen] = useState<Tablet | null>(null);
  if (list.isPending) return <Loading what="the tablets" />;
  if (!list.data) return <Note again>{list.error.message}</Note>;
  if (!list.data.length)
    return (
      <p className="text-faint">
        None yet. Say on the tablet itself, under This device, that it is the shop's.
      </p>
    );
  return (
    <ul>
      {list.data.map((t) => (
        <li key={t.id} className="flex min-h-12 items-center gap-3 border-line border-b">
          <span className="min-w-0 flex-1">
            <b>{t.name}</b>
            <span className="block text-faint text-sm">
              {t.seen_by ? `${t.seen_by}, ${moment(t.seen_at)}` : `since ${moment(t.added_at)}`}
            </span>
          </span>
          <Button kind="quiet" aria-label={`Change ${t.name}`} onClick={() => setChosen(t)}>
            Change
          </Button>
        </li>
      ))}
      {chosen && <Change tablet={chosen} onClose={() => setChosen(null)} />}
    </ul>
  );
}

/** Another name, or no tablet of the shop's any more. */
function Change({ tablet, onClose }: { tablet: Tablet; onClose: () => void }) {
  const client = useQueryClient();
  const [name, setName] = useState(tablet.name);
  const path = { params: { path: { tablet_id: tablet.id } } };
  const done = (list: Tablet[]) => {
    client.setQueryData(key, list);
    for (const other of ["me", "today"]) void client.invalidateQueries({ queryKey: [other] });
    onClose();
  };
  const rename = useMutation({
    mutationFn: () => ask(http.PATCH("/api/tablets/{tablet_id}", { ...path, body: { name } })),
    onSuccess: done,
  });
  const out = useMutation({
    mutationFn: () => ask(http.DELETE("/api/tablets/{tablet_id}", path)),
    onSuccess: done,
  });
  const error = rename.error ?? out.error;
  return (
    <Dialog open onClose={onClose} title={tablet.name}>
      <p className="mb-3">
        The shop's since {moment(tablet.added_at)}, by {tablet.added_by}.
      </p>
      <form
        className="flex items-end gap-2"
        onSubmit={(e) => {
          e.preventDefault();
          if (name.trim() && !rename.isPending) rename.mutate();
        }}
      >
        <TextField className="flex-1" label="What it is called" value={name} onChange={setName} />
        <Button type="submit" kind="strong" disabled={!name.trim() || rename.isPending}>
          Call it that
        </Button>
      </form>
      <div className="mt-4 flex items-center gap-3">
        <Button weight="weighty" disabled={out.isPending} onClick={() => out.mutate()}>
          Take it out
        </Button>
        <span className="text-sm">Lost, sold or somebody's own: no PIN counts on it any more.</span>
      </div>
      {error && (
        <p role="alert" className="mt-3 border-madder border-l-4 pl-2">
          {error.message}
        </p>
      )}
    </Dialog>
  );
}
