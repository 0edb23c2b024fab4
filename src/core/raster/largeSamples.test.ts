import { roomFor, takeApart } from "./largeSamples";

it.each([Uint8Array, Uint16Array, Float32Array])("%p: planes are the same from memory that shrinks, and it is given back as they are taken", (kind) => {
  const n = 1000;
  const values = Array.from({ length: 3 * n }, (_, i) => (i * 37) % 251);
  const [plain, shrinking] = [roomFor<InstanceType<typeof kind>>(kind as never, 3 * n), roomFor<InstanceType<typeof kind>>(kind as never, 3 * n, 1)];
  plain.set(values);
  shrinking.set(values);
  const held: number[] = [];
  const allocate = (length: number) => {
    held.push(shrinking.byteLength);
    return new kind(length) as never;
  };
  const taken = takeApart(shrinking as never, n, allocate) as ArrayLike<number>[];
  expect(held.map((bytes) => bytes / kind.BYTES_PER_ELEMENT)).toEqual([3 * n, 2 * n, n]);
  const wanted = takeApart(plain as never, n, (length) => new kind(length) as never) as ArrayLike<number>[];
  taken.forEach((plane, c) => expect(Array.from(plane)).toEqual(Array.from(wanted[c])));
  expect(Array.from(wanted[1]).slice(0, 3)).toEqual([values[1], values[4], values[7]]);
  expect(plain).toHaveLength(3 * n);
});
