/** What this browser is allowed here: a secure page has the camera and works without connection, another has neither. */

export interface Check {
  name: string;
  fine: boolean;
  said: string;
}

const WORKER_MS = 15_000;

/** Kalon's own worker is here and active, which a browser grants only where it trusts the certificate itself. */
async function worker(): Promise<boolean> {
  if (!("serviceWorker" in navigator)) return false;
  try {
    await navigator.serviceWorker.register("/sw.js");
    const ready = navigator.serviceWorker.ready.then((r) => !!r.active);
    return await Promise.race([ready, new Promise<boolean>((no) => setTimeout(() => no(false), WORKER_MS))]);
  } catch {
    return false;
  }
}

async function camera(): Promise<Check> {
  const name = "Camera";
  if (!navigator.mediaDevices?.getUserMedia)
    return { name, fine: false, said: "this page may not ask for it" };
  const state = await navigator.permissions
    ?.query({ name: "camera" as PermissionName })
    .then((s) => s.state)
    .catch(() => "prompt");
  if (state === "denied")
    return {
      name,
      fine: false,
      said: "was refused on this device: allow it in the browser's settings of this page",
    };
  const some = (await navigator.mediaDevices.enumerateDevices()).some((d) => d.kind === "videoinput");
  return { name, fine: true, said: some ? "works here" : "may be used; this device has none" };
}

/** One after the other: the page is secure, Kalon works without connection, the camera can be had. */
export async function checkDevice(): Promise<Check[]> {
  const secure = window.isSecureContext;
  const offline = secure && (await worker());
  return [
    { name: "Secure", fine: secure, said: secure ? location.host : "this page came in the clear" },
    {
      name: "Without connection",
      fine: offline,
      said: offline
        ? "opens and keeps what is typed"
        : "doesn't open here: the certificate isn't trusted yet",
    },
    secure ? await camera() : { name: "Camera", fine: false, said: "this page may not ask for it" },
  ];
}

/** All of it in a sentence, if all of it is fine. */
export const allFine = (checks: Check[]): string | null =>
  checks.every((c) => c.fine) ? "Secure: camera and offline work here." : null;
