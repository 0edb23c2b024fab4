import { confidenceOf } from "./judgeFit";
import type { LocalShift } from "./localShifts";

/** Places by what they show: the same and in place, the same and elsewhere, something else. */
const places = (agreeing: number, elsewhere: number, changed: number): LocalShift[] => [
  ...Array.from({ length: agreeing }, (_, i) => ({ x: i, y: 0, dx: 0.1, dy: 0, correlation: 0.95 })),
  ...Array.from({ length: elsewhere }, (_, i) => ({ x: i, y: 1, dx: 4, dy: 0, correlation: 0.9 })),
  ...Array.from({ length: changed }, (_, i) => ({ x: i, y: 2, dx: 3, dy: 2, correlation: 0.2 })),
];

describe("how sure a fit is", () => {
  it("nothing that agrees, or nothing measured, is no confidence", () => {
    expect(confidenceOf([])).toBe(0);
    expect(confidenceOf(places(0, 40, 40))).toBe(0);
  });

  it("what was changed between the frames speaks against it far less than what lies elsewhere", () => {
    const changed = confidenceOf(places(100, 0, 200));
    const elsewhere = confidenceOf(places(100, 200, 0));
    expect(changed).toBeGreaterThan(0.75);
    expect(elsewhere).toBeLessThan(0.4);
  });

  it("a handful of places proves little, and more never lessens it", () => {
    const sure = [2, 8, 24, 80].map((n) => confidenceOf(places(n, 0, 0)));
    expect(sure[1]).toBeCloseTo(1 - Math.exp(-1), 6);
    expect(sure).toEqual([...sure].sort((a, b) => a - b));
    expect(sure[3]).toBeGreaterThan(0.999);
  });

  it("one in twenty that lies elsewhere is forgiven, half is not", () => {
    expect(confidenceOf(places(190, 10, 0))).toBeGreaterThan(0.99);
    expect(confidenceOf(places(100, 100, 0))).toBeLessThan(0.6);
  });
});
