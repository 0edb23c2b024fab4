/** Bytes from the first to the last, both among them. */
export interface ByteRange {
  first: number;
  last: number;
}

/**
 * The one range of bytes that a request asks for. Several at once, other units and what makes no sense count as if nothing was asked, as the standard allows.
 * @returns null for the whole, "beyond" where nothing of it is there @see RFC 9110, 14.1.2 and 14.2
 */
export function rangeOf(header: string | null, bytes: number): ByteRange | null | "beyond" {
  const [, from, to] = /^bytes=\s*(\d{0,15})-(\d{0,15})\s*$/.exec(header ?? "") ?? [];
  if (from === undefined || (from === "" && to === "")) return null;
  if (from === "") {
    const length = Math.min(Number(to), bytes);
    return length === 0 ? "beyond" : { first: bytes - length, last: bytes - 1 };
  }
  const first = Number(from);
  const last = to === "" ? bytes - 1 : Math.min(Number(to), bytes - 1);
  if (to !== "" && Number(to) < first) return null;
  return first >= bytes ? "beyond" : { first, last };
}
