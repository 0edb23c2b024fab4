/** Adjustments against their own statements: what stays, what moves, and by how much. */
import { PLAIN_FILTERS } from "../../core/raster/filters";
import { randomOf } from "../../../tests/support/kernels";
import { fromOklab, toOklab } from "../../core/color/oklab";
import { LUMINANCE } from "../../core/color/primaries";
import { LOWEST_OCTAVE, NODES } from "../../core/color/toneCurve";
import { ADJUSTMENT_RECORDS, adjustmentReach, valuesOf, valuesOfKind, type Adjustment } from "./records";
import { ADJUSTMENT_WORDS } from "./words";
import { adjustHueBand, balanceByTone, hueBand, scaleChroma, tintByTone, veil } from "../../core/adjust/colour";
import { detailContrast, glow, highPass, lightFalloff, reduceNoise, sharpen } from "../../core/adjust/spatial";
import { curveTable, levelsResponse, zonesFor, zoneTable } from "../../core/adjust/tone";

const random = randomOf(21);
const N = 4000;
const colours = (): [Float32Array, Float32Array, Float32Array] => {
  const plane = () => Float32Array.from({ length: N }, () => 0.9 * random() ** 2);
  return [plane(), plane(), plane()];
};
const copy = ([r, g, b]: Float32Array[]): [Float32Array, Float32Array, Float32Array] => [r.slice(), g.slice(), b.slice()];
const light = (p: Float32Array[], i: number) => LUMINANCE.reduce((s, w, c) => s + w * p[c][i], 0);
const oklch = (p: Float32Array[], i: number) => {
  const lab = new Float64Array(3);
  toOklab(p[0][i], p[1][i], p[2][i], lab);
  return { L: lab[0], C: Math.hypot(lab[1], lab[2]), h: ((Math.atan2(lab[2], lab[1]) * 180) / Math.PI + 360) % 360 };
};
/** Carries out a change of Oklab planes on light. */
function onLight(planes: Float32Array[], change: (lab: [Float32Array, Float32Array, Float32Array]) => void): void {
  const lab: [Float32Array, Float32Array, Float32Array] = [planes[0].slice(), planes[0].slice(), planes[0].slice()];
  const three = new Float64Array(3);
  for (let i = 0; i < planes[0].length; i++) {
    toOklab(planes[0][i], planes[1][i], planes[2][i], three);
    lab.forEach((p, c) => (p[i] = three[c]));
  }
  const before = lab.map((p) => p.slice());
  change(lab);
  for (let i = 0; i < planes[0].length; i++) {
    if (lab.every((p, c) => p[i] === before[c][i])) continue;
    fromOklab(lab[0][i], lab[1][i], lab[2][i], three);
    planes.forEach((p, c) => (p[i] = Math.max(0, three[c])));
  }
}
const given = (adjustment: Adjustment, values: Record<string, number>) => valuesOf(adjustment, values);
const turned = (from: number, to: number) => ((to - from + 540) % 360) - 180;

it("every value lies between its limits when it does nothing", () => {
  for (const adjustment of Object.keys(ADJUSTMENT_RECORDS) as Adjustment[])
    for (const value of Object.values(valuesOfKind(adjustment))) {
      expect(value.neutral).toBeGreaterThanOrEqual(value.min);
      expect(value.neutral).toBeLessThanOrEqual(value.max);
    }
});

it("every value is called something, and every choice has as many names as it has numbers", () => {
  for (const adjustment of Object.keys(ADJUSTMENT_RECORDS) as Adjustment[]) {
    const { values } = ADJUSTMENT_WORDS[adjustment];
    expect(Object.keys(values).sort()).toEqual(Object.keys(valuesOfKind(adjustment)).sort());
    for (const [name, { choice, max }] of Object.entries(valuesOfKind(adjustment))) {
      const words = values[name];
      expect(typeof words === "object" && words.choices ? words.choices.length : 0).toBe(choice ? max + 1 : 0);
    }
  }
});

it("a tonal zone is brightened by its EV at its centre and leaves the other centres alone", () => {
  const cases = [5, 9].flatMap((zones) => Array.from({ length: zones }, (_, zone) => ({ zones, zone })));
  for (const { zones, zone } of cases) {
    const table = zoneTable(given("zones", { darkestEv: -8, brightestEv: 0, zones, [`zone${zone}`]: 1.5 }));
    Array.from({ length: zones }).forEach((_, other) => {
      const octave = -8 + (8 * other) / (zones - 1);
      expect(Math.log2(table[(octave - LOWEST_OCTAVE) * NODES])).toBeCloseTo(other === zone ? 1.5 : 0, 5);
    });
  }
});

it("the range of light says how many zones", () => {
  expect([0, 8, 9.4, 14, 40].map(zonesFor)).toEqual([3, 5, 6, 8, 10]);
});

it("a curve on log light moves light by EV: a node half way up raised by a sixteenth is one EV", () => {
  const table = curveTable(given("curve", { log: 1, nodes: 3, x1: 0.5, y1: 0.5625, x2: 1, y2: 1 }));
  const at = (octave: number) => Math.log2(table[(octave - LOWEST_OCTAVE) * NODES]);
  expect([at(-12), at(-4), at(4)].map((v) => Math.round(1e4 * v) / 1e4)).toEqual([-12, -3, 4]);
  // nodes in any order, and one upon another, are the same curve
  const shuffled = curveTable(given("curve", { log: 1, nodes: 4, x0: 1, y0: 1, x1: 0.5, y1: 0.5625, x2: 0, y2: 0, x3: 0.5, y3: 0.9 }));
  expect(shuffled).toEqual(table);
});

it("high-pass leaves even light as mid grey and keeps the contrast of fine detail", () => {
  const size = 64;
  const light = Float32Array.from({ length: size * size }, (_, i) => ((i % size) % 2 ? 0.2 : -0.2) - 3);
  const planes = [0.1, 0.2, 0.3].map((v) => new Float32Array(size * size).fill(v)) as [Float32Array, Float32Array, Float32Array];
  highPass(
    planes,
    light,
    given("highPass", { amount: 1, radiusPx: 8, gain: 1 }),
    {
      level: 0,
      rect: { x: 0, y: 0, width: size, height: size },
      width: size,
      height: size,
    },
    PLAIN_FILTERS,
  );
  const middle = 32 * size + 32;
  expect(planes[0][middle]).toBeCloseTo(planes[2][middle], 6);
  expect(Math.log2(planes[0][middle + 1] / planes[0][middle])).toBeCloseTo(0.4, 2);
  // an encoded half is 0.2140 of linear light (IEC 61966-2-1)
  expect(Math.sqrt(planes[0][middle + 1] * planes[0][middle])).toBeCloseTo(0.214, 2);
});

it("levels move the ends, and an exponent between them", () => {
  const levels = levelsResponse(given("levels", { inLow: 0.1, inHigh: 0.9, outLow: 0.2, outHigh: 0.8, gamma: 2 }));
  expect([levels(0), levels(0.1), levels(0.9), levels(1)]).toEqual([0.2, 0.2, 0.8, 0.8]);
  expect(levels(0.3)).toBeCloseTo(0.2 + 0.6 * 0.5, 6);
});

it("a hue band is turned by its angle, other hues are left; colourless things have no hue", () => {
  const before = colours();
  const after = copy(before);
  onLight(after, (lab) => adjustHueBand(lab, given("hueBand", { hueDeg: 40, widthDeg: 80, shiftDeg: 25, factor: 0.9 })));
  let inside = 0;
  for (let i = 0; i < N; i++) {
    const [p, q] = [oklch(before, i), oklch(after, i)];
    const away = Math.abs(turned(40, p.h));
    if (away > 41 || p.C < 0.008) expect([0, 1, 2].map((c) => after[c][i])).toEqual([0, 1, 2].map((c) => before[c][i]));
    // colours that leave the working primaries are clipped
    if (away > 18 || p.C < 0.05 || [0, 1, 2].some((c) => after[c][i] === 0)) continue;
    inside++;
    expect(turned(p.h, q.h)).toBeCloseTo(25, 1);
    expect(q.C / p.C).toBeCloseTo(0.9, 3);
    expect(q.L).toBeCloseTo(p.L, 4);
  }
  expect(inside).toBeGreaterThan(50);
  expect(hueBand(0, 60)(0.001, 0)).toBe(0);
});

it("chroma grows by its factor where it is weak and less where it is strong; 0 is grey", () => {
  const before = colours();
  const [after, grey] = [copy(before), copy(before)];
  onLight(after, (lab) => scaleChroma(lab, { factor: 1.5, protect: 1 }));
  onLight(grey, (lab) => scaleChroma(lab, { factor: 0, protect: 0.5 }));
  for (let i = 0; i < N; i++) {
    const [p, q] = [oklch(before, i), oklch(after, i)];
    expect(oklch(grey, i).C).toBeLessThan(1e-4);
    if ([0, 1, 2].some((c) => after[c][i] === 0) || p.C < 1e-3) continue;
    expect(q.C / p.C).toBeLessThanOrEqual(1.5 + 1e-3);
    expect(q.C / p.C).toBeGreaterThanOrEqual(1 - 1e-3);
  }
});

it("a tint by tone keeps luminance and colours where it was told to", () => {
  const greys = () => Float32Array.from({ length: 3 }, (_, i) => 2 ** [-7, -3.5, 0][i]);
  const planes: [Float32Array, Float32Array, Float32Array] = [greys(), greys(), greys()];
  tintByTone(planes, given("tint", { ev0: -7, ev2: 0, hue0: 250, strength0: 0.5, hue2: 70, strength2: 0.3 }));
  [0, 1, 2].forEach((i) => expect(light(planes, i)).toBeCloseTo(greys()[i], 5));
  expect(Math.abs(turned(250, oklch(planes, 0).h))).toBeLessThan(2);
  expect(Math.abs(turned(70, oklch(planes, 2).h))).toBeLessThan(2);
  expect(oklch(planes, 1).C).toBeLessThan(1e-3);
});

it("a veil that is laid on and taken away again leaves the picture as it was", () => {
  const before = colours();
  const after = copy(before);
  veil(after, { amount: -0.4, veilEv: -1, mired: 20 });
  expect(Math.min(...after[0])).toBeGreaterThan(0.1);
  veil(after, { amount: 0.4, veilEv: -1, mired: 20 });
  before.forEach((plane, c) => plane.forEach((v, i) => expect(Math.abs(after[c][i] - v)).toBeLessThan(1e-6)));
});

it("the balance by tone warms only the tones it is told to", () => {
  const at = (ev: number) => Float32Array.of(2 ** ev);
  for (const [ev, moved] of [
    [-7, true],
    [0, false],
  ] as const) {
    const planes: [Float32Array, Float32Array, Float32Array] = [at(ev), at(ev), at(ev)];
    balanceByTone(planes, given("balance", { darkMired: 60 }));
    expect(planes[0][0] / planes[2][0] > 1.2).toBe(moved);
    if (!moved) expect(planes[0][0]).toBeCloseTo(1, 5);
  }
});

describe("adjustments that look around", () => {
  const [W, H] = [80, 60];
  const where = { level: 0, rect: { x: 0, y: 0, width: W, height: H }, width: W, height: H };
  const flat = (value: (x: number, y: number) => number): [Float32Array, Float32Array, Float32Array] => {
    const plane = Float32Array.from({ length: W * H }, (_, i) => value(i % W, Math.floor(i / W)));
    return [plane, plane.slice(), plane.slice()];
  };
  const spread = (plane: Float32Array, from: number, to: number) => {
    const values = Array.from(plane).filter((_, i) => i % W >= from && i % W < to);
    const mean = values.reduce((a, b) => a + b, 0) / values.length;
    return { mean, sigma: Math.sqrt(values.reduce((s, v) => s + (v - mean) ** 2, 0) / values.length) };
  };

  /** What an EV plane does to light. */
  const brightened = (planes: [Float32Array, Float32Array, Float32Array], evOf: (light: Float32Array) => Float32Array) => {
    const ev = evOf(planes[0].map((_, i) => Math.log2(light(planes, i))));
    planes.forEach((p) => p.forEach((v, i) => (p[i] = v * 2 ** ev[i])));
  };

  it("noise is evened out and an edge ten times as large is kept", () => {
    const noisy = () => 0.02 * (random() + random() + random() - 1.5) * 2;
    const planes = flat((x) => (x < 40 ? 0.3 : 0.6) ** 2);
    planes.forEach((p) => p.forEach((v, i) => (p[i] = (Math.sqrt(v) + noisy()) ** 2)));
    const before = spread(planes[1], 5, 35);
    reduceNoise(planes, given("noise", { sigma: 0.02, light: 2, color: 3 }), where, PLAIN_FILTERS);
    expect(spread(planes[1], 5, 35).sigma).toBeLessThan(before.sigma / 2);
    // the step from 0.09 to 0.36, right beside it, is there to a tenth
    expect(Math.abs(spread(planes[1], 36, 39).mean - 0.09)).toBeLessThan(0.027);
    expect(Math.abs(spread(planes[1], 41, 44).mean - 0.36)).toBeLessThan(0.027);
  });

  it("sharpening steepens an edge and leaves even areas and what is below the threshold", () => {
    const planes = flat((x) => 0.2 * 2 ** Math.min(1, Math.max(0, (x - 38) / 4)));
    brightened(planes, (ev) => sharpen(ev, given("sharpen", { amount: 1, radiusPx: 2 }), where, PLAIN_FILTERS));
    expect(planes[0][30 * W + 36]).toBeLessThan(0.2);
    expect(planes[0][30 * W + 44]).toBeGreaterThan(0.4);
    expect(planes[0][30 * W + 10]).toBeCloseTo(0.2, 6);
    const weak = flat((x) => (x < 40 ? 0.2 : 0.202));
    brightened(weak, (ev) => sharpen(ev, given("sharpen", { amount: 2, radiusPx: 2, thresholdEv: 0.1 }), where, PLAIN_FILTERS));
    expect(weak[0][30 * W + 39]).toBeCloseTo(0.2, 6);
  });

  it("detail of a size grows by its share, coarser structure stays", () => {
    const fine = (x: number) => 0.05 * (x % 2 ? 1 : -1);
    const planes = flat((x) => 0.2 * 2 ** fine(x));
    brightened(planes, (ev) => detailContrast(ev, given("detail", { fine: 1, finePx: 4 }), where, PLAIN_FILTERS));
    const ev = Math.log2(planes[0][30 * W + 41] / planes[0][30 * W + 40]);
    expect(ev).toBeCloseTo(0.2, 2);
  });

  it("a glow adds light around what is above its limit; falloff is nothing inside and all at the furthest corner", () => {
    const planes = flat((x, y) => (Math.hypot(x - 40, y - 30) < 4 ? 4 : 0.01));
    glow(planes, given("glow", { amount: 1, radiusPx: 6, fromEv: 0 }), where, PLAIN_FILTERS);
    expect(planes[0][30 * W + 48]).toBeGreaterThan(0.05);
    expect(planes[0][2 * W + 2]).toBeCloseTo(0.01, 4);
    const even = flat(() => 1);
    lightFalloff(even, given("falloff", { ev: -2, start: 0.3 }), where);
    expect(even[0][30 * W + 40]).toBe(1);
    expect(even[0][0]).toBeCloseTo(0.25, 1);
    expect(adjustmentReach("glow", given("glow", { radiusPx: 40 }), 2)).toBeGreaterThanOrEqual(29);
    expect(adjustmentReach("exposure", {}, 0)).toBe(0);
  });
});
