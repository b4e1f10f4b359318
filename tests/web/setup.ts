/** As much of a browser as the state of the interface needs: a window that hears events, and two storages. */
function storage(): Storage {
  const kept: Record<string, string> = {};
  const methods = {
    getItem: (key: string) => kept[key] ?? null,
    setItem: (key: string, value: string) => {
      kept[key] = String(value);
    },
    removeItem: (key: string) => {
      delete kept[key];
    },
    clear: () => {
      for (const key of Object.keys(kept)) delete kept[key];
    },
    key: (index: number) => Object.keys(kept)[index] ?? null,
  };
  return new Proxy(kept, {
    get: (_, name) =>
      name === "length" ? Object.keys(kept).length : (methods[name as keyof typeof methods] ?? kept[String(name)]),
  }) as unknown as Storage;
}

const events = new EventTarget();
const page = {
  localStorage: storage(),
  sessionStorage: storage(),
  addEventListener: events.addEventListener.bind(events),
  removeEventListener: events.removeEventListener.bind(events),
  dispatchEvent: events.dispatchEvent.bind(events),
  location: { pathname: "/", origin: "http://127.0.0.1:8000", href: "http://127.0.0.1:8000/" },
};
/** A page's requests are to where it came from. */
class PageRequest extends Request {
  constructor(to: RequestInfo | URL, init?: RequestInit) {
    super(typeof to === "string" && to.startsWith("/") ? page.location.origin + to : to, init);
  }
}
const all = { ...page, window: globalThis, navigator: {}, Request: PageRequest };
// Where a test asks for a whole page (`@vitest-environment jsdom`), that is the page.
for (const [name, value] of Object.entries("document" in globalThis ? {} : all)) {
  Object.defineProperty(globalThis, name, { value, configurable: true, writable: true });
}
