/** Samples from which memory is worth giving back in parts. */
const LARGE = 100_000_000;

type Samples = Uint8Array | Uint16Array | Float32Array;
type Kind = { new (length: number): Samples; new (buffer: ArrayBuffer): Samples; BYTES_PER_ELEMENT: number };
/** @see ECMAScript 2024, 25.1.6: memory that can shrink where it lies */
type Resizable = ArrayBuffer & { resizable?: boolean; resize(bytes: number): void };

/** Room for a decoded picture; a large one can be given back while its planes are taken from it. */
export function roomFor<T extends Samples>(kind: { new (length: number): T; BYTES_PER_ELEMENT: number }, length: number, large = LARGE): T {
  if (length < large) return new kind(length);
  const bytes = length * kind.BYTES_PER_ELEMENT;
  const buffer = new (ArrayBuffer as unknown as new (length: number, o: { maxByteLength: number }) => ArrayBuffer)(bytes, { maxByteLength: bytes });
  return new (kind as unknown as Kind)(buffer) as T;
}

/**
 * Takes interleaved samples apart, in place where their memory can shrink, so that hardly more than the picture is ever held.
 * @param data interleaved RGB; not to be used any more where it could shrink @param allocate makes a plane
 */
export function takeApart<T extends Samples>(data: T, n: number, allocate: (n: number) => T): [T, T, T] {
  const buffer = data.buffer as Resizable;
  const shrinks = buffer.resizable === true && data.byteLength === buffer.byteLength;
  const planes: T[] = [];
  for (let c = 0; c < 3; c++) {
    const plane = allocate(n);
    // so many samples of a px are left, the one wanted first of them
    const step = shrinks ? 3 - c : 3;
    const first = shrinks ? 0 : c;
    for (let i = 0, p = first; i < n; i++, p += step) plane[i] = data[p];
    planes.push(plane);
    if (!shrinks) continue;
    for (let i = 0, to = 0; i < n; i++) for (let k = 1; k < step; k++, to++) data[to] = data[i * step + k];
    buffer.resize(n * (step - 1) * data.BYTES_PER_ELEMENT);
  }
  return planes as [T, T, T];
}
