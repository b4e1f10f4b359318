/** The beginning of a fingerprint, to be compared by eye. */
export const inPairs = (hex: string): string => hex.slice(0, 16).toUpperCase().match(/../g)?.join(" ") ?? "";
