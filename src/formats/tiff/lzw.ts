/** TIFF 6.0 section 13: LZW, most significant bit first, code width grows one code early. */
export function decodeLzw(input: Uint8Array, needed: number): Uint8Array {
  const out = new Uint8Array(needed);
  const prefix = new Uint16Array(4097);
  const suffix = new Uint8Array(4097);
  const length = new Uint16Array(4097);
  for (let i = 0; i < 256; i++) {
    suffix[i] = i;
    length[i] = 1;
  }
  let next = 258;
  let width = 9;
  let previous = -1;
  let bitBuffer = 0;
  let bitCount = 0;
  let p = 0;
  let at = 0;
  while (at < needed) {
    while (bitCount < width && p < input.length) {
      bitBuffer = ((bitBuffer << 8) | input[p++]) & 0xffffff;
      bitCount += 8;
    }
    if (bitCount < width) break;
    const code = (bitBuffer >> (bitCount - width)) & ((1 << width) - 1);
    bitCount -= width;
    if (code === 257) break;
    if (code === 256) {
      next = 258;
      width = 9;
      previous = -1;
      continue;
    }
    if (code > next || (code === next && previous < 0) || (previous < 0 && code > 255)) break;
    const source = code < next ? code : previous;
    const n = length[source] + (code < next ? 0 : 1);
    let q = source;
    for (let k = length[source] - 1; k >= 0; k--) {
      if (at + k < needed) out[at + k] = suffix[q];
      q = prefix[q];
    }
    const first = out[at];
    if (code === next && at + n - 1 < needed) out[at + n - 1] = first;
    at += n;
    if (previous >= 0 && next < 4096) {
      prefix[next] = previous;
      suffix[next] = first;
      length[next] = length[previous] + 1;
      next++;
    }
    if (next >= 511 && width === 9) width = 10;
    else if (next >= 1023 && width === 10) width = 11;
    else if (next >= 2047 && width === 11) width = 12;
    previous = code;
  }
  return at >= needed ? out : out.subarray(0, at);
}
