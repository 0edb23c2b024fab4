/** TIFF 6.0 section 9: byte-oriented run lengths. */
export function decodePackBits(input: Uint8Array, needed: number): Uint8Array {
  const out = new Uint8Array(needed);
  let at = 0;
  let p = 0;
  while (at < needed && p < input.length) {
    const n = (input[p++] << 24) >> 24;
    if (n >= 0) {
      const run = input.subarray(p, Math.min(p + n + 1, input.length));
      out.set(run.subarray(0, needed - at), at);
      at += n + 1;
      p += n + 1;
    } else if (n !== -128) {
      out.fill(input[p++] ?? 0, at, Math.min(needed, at - n + 1));
      at += 1 - n;
    }
  }
  return at >= needed ? out : out.subarray(0, at);
}
