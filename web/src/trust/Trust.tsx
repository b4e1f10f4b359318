/** How a tablet comes to trust this machine, told in the clear; and once it does, that it is secure. */
import { useState } from "react";
import { useTrust } from "../api/trust";
import { OneOf } from "../ui/choice";
import { Loading, Note } from "../ui/words";
import { Checks } from "./Checks";
import { inPairs } from "./marks";
import { StepPicture } from "./StepPicture";
import { KINDS, kindHere } from "./steps";

const STRONG = "inline-flex min-h-12 items-center border border-madder bg-madder px-5 text-lg text-on-madder";

/** The page of a tablet: beside the bench, asking nobody who they are. */
export default function Trust() {
  const trust = useTrust();
  if (trust.isPending) return <Loading what="this page" />;
  if (!trust.data)
    return (
      <Note title="This page can't be shown" again>
        {trust.error.message}
      </Note>
    );
  const { secure, fingerprint } = trust.data;
  return (
    <main className="mx-auto h-full max-w-3xl overflow-auto p-8 max-sm:p-4">
      <title>This tablet · Kalon</title>
      <p className="font-semibold text-2xl tracking-tight">Kalon</p>
      {window.isSecureContext ? (
        <>
          <h1 className="mt-2 mb-4 font-semibold text-3xl tracking-tight">This tablet</h1>
          <Checks />
          <p className="mt-6">
            <a className={STRONG} href="/">
              To the bench
            </a>
          </p>
        </>
      ) : (
        <Steps secure={secure} fingerprint={fingerprint} />
      )}
    </main>
  );
}

function Steps({ secure, fingerprint }: { secure: string[]; fingerprint: string | null }) {
  const [kind, setKind] = useState(() => kindHere(navigator.userAgent, navigator.maxTouchPoints));
  const steps = KINDS.find((k) => k.value === kind)?.steps ?? [];
  const [first, ...others] = secure;
  if (!first)
    return (
      <Note title="This machine doesn't serve tablets">
        Whoever runs it starts it with ./kalon serve --tablets.
      </Note>
    );
  return (
    <>
      <h1 className="mt-2 font-semibold text-3xl tracking-tight">Let this tablet trust the shop's machine</h1>
      <p className="mt-2 max-w-prose">
        Once on each tablet. Then the page is secure, and a browser lets it use the camera and work without
        connection. Do it only in the shop, on the shop's own network.
      </p>
      {fingerprint && (
        <>
          <Numbered n={1}>
            <a className={STRONG} href="/api/trust/authority.crt" download>
              Get the certificate
            </a>
            <p className="mt-2 text-faint text-sm">
              Its mark (SHA-256) begins with <span className="font-mono">{inPairs(fingerprint)}</span>, the
              same as in House, Tablets.
            </p>
          </Numbered>
          <Numbered n={2}>
            <OneOf label="What it is" value={kind} options={KINDS} onChange={setKind} />
            <ol className="mt-3 grid grid-cols-2 gap-4 max-sm:grid-cols-1">
              {steps.map((s) => (
                <li key={s.title + s.press}>
                  <StepPicture {...s} />
                  <p className="mt-1">{s.said}</p>
                </li>
              ))}
            </ol>
          </Numbered>
        </>
      )}
      <Numbered n={fingerprint ? 3 : 1}>
        <a className={STRONG} href={`${first}/trust`}>
          Open the secure page
        </a>
        <p className="mt-2 text-sm">
          It says whether camera and offline work. Keep that page on the home screen.
          {others.length > 0 && " If it doesn't open:"}
        </p>
        {others.map((url) => (
          <a key={url} className="mr-4 inline-flex min-h-11 items-center underline" href={`${url}/trust`}>
            {url}
          </a>
        ))}
      </Numbered>
    </>
  );
}

const Numbered = ({ n, children }: { n: number; children: React.ReactNode }) => (
  <section aria-label={`Step ${n}`} className="mt-6 grid grid-cols-[2.5rem_1fr]">
    <b className="font-mono text-2xl leading-none">{n}</b>
    <div>{children}</div>
  </section>
);
