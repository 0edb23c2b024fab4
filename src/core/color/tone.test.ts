import fc from "fast-check";
import { localBase } from "./localTone";
import { LOWEST_OCTAVE, NODES, OCTAVES, toneResponse, toneTable } from "./toneCurve";

const filmic = { curve: 1, headroomEv: 4, shoulderEv: 2.5, toeEv: 6, toeLiftEv: 1 };

it("Reinhard's curve is equation 4 of Reinhard et al. 2002: white at the headroom, x / (1 + x) far below it", () => {
  const response = toneResponse({ ...filmic, curve: 0 });
  expect(response(16)).toBeCloseTo(1, 12);
  expect(response(0.01)).toBeCloseTo(0.01 / 1.01, 6);
});

it("between toe and shoulder light stays as it is; white is reached at the headroom, the darkest are raised by the lift", () => {
  const response = toneResponse(filmic);
  for (const ev of [-6, -5, -4, -3, -2.5]) expect(response(2 ** ev)).toBeCloseTo(2 ** ev, 12);
  expect(response(2 ** 4)).toBe(1);
  expect(response(2 ** 9)).toBe(1);
  expect(response(0)).toBe(0);
  expect(Math.log2(response(2 ** -12))).toBeCloseTo(-11, 9);
});

it("more light never gives less, and nothing jumps, whatever is set", () => {
  fc.assert(
    fc.property(
      fc.double({ min: 0, max: 16, noNaN: true }),
      fc.double({ min: 0.1, max: 6, noNaN: true }),
      fc.double({ min: 2, max: 12, noNaN: true }),
      fc.double({ min: -4, max: 3.5, noNaN: true }),
      (headroomEv, shoulderEv, toeEv, toeLiftEv) => {
        const response = toneResponse({ curve: 1, headroomEv, shoulderEv, toeEv, toeLiftEv });
        let last = response(2 ** -18);
        for (let ev = -18; ev <= 17; ev += 0.05) {
          const out = response(2 ** ev);
          expect(out).toBeGreaterThanOrEqual(last * (1 - 1e-12));
          // a twentieth of a stop never becomes more than a fifth
          if (last > 0) expect(Math.log2(out / last)).toBeLessThan(0.2);
          last = out;
        }
      },
    ),
    { numRuns: 60 },
  );
});

it("the table holds the factor at its nodes", () => {
  const table = toneTable(toneResponse(filmic));
  expect(table).toHaveLength(OCTAVES * NODES + 1);
  expect(table[-LOWEST_OCTAVE * NODES]).toBeCloseTo(toneResponse(filmic)(1), 6);
});

describe("the local base", () => {
  const [width, height] = [120, 60];
  /** Two surfaces six stops apart with detail of a twentieth of a stop on both. */
  const data = Float32Array.from({ length: width * height }, (_, i) => (i % width < 60 ? -6 : 0) + 0.05 * Math.sin(i * 1.7));
  const base = localBase({ width, height, data }, 8);
  const at = (x: number, y = 30) => base.slope[y * width + x] * data[y * width + x] + base.offset[y * width + x];

  it("keeps an edge of six stops without a halo above a tenth of a stop", () => {
    for (let x = 4; x < 116; x++) if (x < 58 || x > 61) expect(Math.abs(at(x) - (x < 60 ? -6 : 0))).toBeLessThan(0.1);
  });

  it("leaves detail out of the base, so that evening out the base keeps it", () => {
    const swing = (f: (x: number) => number) => Math.max(...[20, 21, 22, 23, 24, 25].map(f)) - Math.min(...[20, 21, 22, 23, 24, 25].map(f));
    expect(swing((x) => at(x))).toBeLessThan(0.1 * swing((x) => data[30 * width + x]));
  });
});
