/** Places of a row that are told apart by their number. */
const ROW = 1_000_003;

/** What is smooth beside a sample, known at every so many samples and straight between them: the same in every rectangle. @param of its value at a sample, asked for once each */
export function between(apart: number, of: (x: number, y: number) => number): (x: number, y: number) => number {
  const known = new Map<number, number>();
  const corner = (i: number, j: number): number => {
    const key = j * ROW + i;
    const held = known.get(key);
    if (held !== undefined) return held;
    const made = of(i * apart, j * apart);
    known.set(key, made);
    return made;
  };
  return (x, y) => {
    const i = Math.floor(x / apart);
    const j = Math.floor(y / apart);
    const u = x / apart - i;
    const v = y / apart - j;
    return (corner(i, j) * (1 - u) + corner(i + 1, j) * u) * (1 - v) + (corner(i, j + 1) * (1 - u) + corner(i + 1, j + 1) * u) * v;
  };
}
