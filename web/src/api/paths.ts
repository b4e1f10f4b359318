/** A value in a body, by its path. */

export function getPath(body: unknown, path: string): unknown {
  return path.split("/").reduce<unknown>((value, key) => {
    return value && typeof value === "object" ? (value as Record<string, unknown>)[key] : undefined;
  }, body);
}

export function withPath(body: unknown, path: string, value: unknown): unknown {
  const [key = "", ...rest] = path.split("/");
  const copy = { ...(body && typeof body === "object" ? (body as Record<string, unknown>) : {}) };
  copy[key] = rest.length ? withPath(copy[key], rest.join("/"), value) : value;
  return copy;
}
