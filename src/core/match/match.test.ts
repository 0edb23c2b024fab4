/** Matching against transforms that were made here, independently of what solves them. */
import { FROM_REC709 } from "../color/primaries";
import { encodeSrgb, decodeSrgb } from "../color/srgbCurve";
import { differenceCiede2000, workingToLab } from "../color/colorDifference";
import { randomOf } from "../../../tests/support/kernels";
import { colourDistance, matchFigures, neutralDistance, toneDistance } from "./figures";
import { fitTransfer } from "./fitTransfer";
import { contradiction, matchPairs } from "./pairs";
import { adjustmentsOf } from "./proposal";
import { matchColours } from "./sliced";
import { applyStep, matchSteps } from "./steps";
import { applyTransfer, type Samples } from "./transfer";

/** Colours of a made-up scene: a sky, grass, wood, grey stone, some red; sRGB light. */
function scene(count: number, seed: number): number[][] {
  const random = randomOf(seed);
  const kinds = [
    [0.35, 0.5, 0.8],
    [0.12, 0.2, 0.05],
    [0.3, 0.2, 0.12],
    [0.4, 0.4, 0.4],
    [0.5, 0.08, 0.06],
  ];
  return Array.from({ length: count }, () => {
    const kind = kinds[Math.floor(random() ** 1.4 * kinds.length)];
    const light = 2 ** (3.2 * random() - 2.6);
    return kind.map((v) => Math.min(1, Math.max(0, v * light * (0.85 + 0.3 * random()))));
  });
}
const toWorking = (own: number[][]): Samples => {
  const light = new Float32Array(3 * own.length);
  own.forEach((v, i) => {
    for (let c = 0; c < 3; c++) light[3 * i + c] = FROM_REC709[3 * c] * v[0] + FROM_REC709[3 * c + 1] * v[1] + FROM_REC709[3 * c + 2] * v[2];
  });
  return { count: own.length, light };
};
/** A camera's matrix, exposure and exponents, to 8 bits. */
const camera = (v: readonly number[]): number[] => {
  const m = [0.86, 0.1, 0.04, -0.05, 1.02, 0.03, 0.02, -0.12, 1.1];
  return [0, 1, 2].map((c) => {
    const mixed = Math.max(0, (m[3 * c] * v[0] + m[3 * c + 1] * v[1] + m[3 * c + 2] * v[2]) * 0.7) ** [0.9, 1.05, 1.15][c];
    return decodeSrgb(Math.round(255 * Math.min(1, encodeSrgb(mixed))) / 255);
  });
};
const mean = (p: Samples, q: Samples): number => {
  let sum = 0;
  for (let i = 0; i < p.count; i++)
    sum += differenceCiede2000(workingToLab([...p.light.subarray(3 * i, 3 * i + 3)]), workingToLab([...q.light.subarray(3 * i, 3 * i + 3)]));
  return sum / p.count;
};
const own = scene(4000, 1);
const [mine, theirs] = [toWorking(own), toWorking(own.map(camera))];

it("solves a camera's matrix, exposure and curve from the same places", () => {
  const before = mean(mine, theirs);
  const fitted = fitTransfer(mine, theirs);
  expect(before).toBeGreaterThan(4);
  expect(mean(applyTransfer(mine, fitted), theirs)).toBeLessThan(0.35);
});

it("is not led astray by a fifth of places at which something moved", () => {
  const moved = { count: theirs.count, light: theirs.light.slice() };
  for (let i = 0; i < moved.count; i += 5) moved.light.set([0.6, 0.05, 0.05], 3 * i);
  const fitted = applyTransfer(mine, fitTransfer(mine, moved));
  const kept = [...Array(mine.count).keys()].filter((i) => i % 5 !== 0);
  const only = (s: Samples): Samples => ({ count: kept.length, light: Float32Array.from(kept.flatMap((i) => [...s.light.subarray(3 * i, 3 * i + 3)])) });
  expect(mean(only(fitted), only(theirs))).toBeLessThan(0.6);
});

it("solves it from the colours alone, whatever lies where", () => {
  const others = toWorking(scene(5000, 2).map(camera));
  const { transfer, left } = matchColours(mine, others);
  expect(left).toBeLessThan(0.01);
  expect(mean(applyTransfer(mine, transfer), theirs)).toBeLessThan(1.2);
});

it("the adjustments of a transfer name its mix and its curves in their order", () => {
  const made = adjustmentsOf(fitTransfer(mine, theirs));
  expect(made.map((a) => a.adjustment)).toEqual(["mixture", "curve", "curve", "curve", "mixture"]);
  expect(made.slice(1, 4).map((a) => a.values.channel)).toEqual([1, 2, 3]);
  for (const { values } of made.slice(1, 4)) for (let k = 1; k < values.nodes; k++) expect(values[`y${k}`]).toBeGreaterThanOrEqual(values[`y${k - 1}`]);
});

describe("pairs", () => {
  const colours = [
    [0.4, 0.4, 0.4],
    [0.3, 0.15, 0.08],
    [0.12, 0.2, 0.06],
    [0.3, 0.42, 0.7],
  ];
  const pairsOf = (change: (v: readonly number[]) => number[], of = colours) =>
    of.map((v) => {
      const [a, b] = [toWorking([v]), toWorking([change(v)])];
      return { own: [...a.light], wanted: [...b.light] };
    });

  it("one pair solves exposure and white balance", () => {
    const warm = (v: readonly number[]) => [1.4 * v[0], v[1], 0.6 * v[2]];
    const { transfer, left } = matchPairs(pairsOf(warm, [colours[0]]));
    expect(left[0]).toBeLessThan(0.05);
    const all = toWorking(own.map((v) => v.map((w) => 0.6 * w)));
    expect(mean(applyTransfer(all, transfer), toWorking(own.map((v) => warm(v.map((w) => 0.6 * w)))))).toBeLessThan(0.3);
  });

  it("four pairs solve a camera's matrix and curve nearly", () => {
    const { transfer, left } = matchPairs(pairsOf(camera));
    for (const v of left) expect(v).toBeLessThan(1.5);
    expect(mean(applyTransfer(mine, transfer), theirs)).toBeLessThan(1);
  });

  it("two that contradict each other are told", () => {
    const pairs = pairsOf(camera);
    expect(contradiction(pairs)).toBeNull();
    expect(contradiction([...pairs, { own: pairs[1].own, wanted: [0.5, 0.5, 0.5] }])).toEqual([1, 4]);
  });
});

describe("figures", () => {
  it("tell ends in EV, and a few glints from white", () => {
    const grey = Array.from({ length: 1000 }, (_, i) => [i, i, i].map((v) => 0.02 + (0.5 * v) / 1000));
    const told = matchFigures(toWorking(grey))!;
    expect(told.mono.white).toBeCloseTo(Math.log2(0.02 + 0.5 * 0.99), 2);
    expect(told.mono.black).toBeCloseTo(Math.log2(0.02 + 0.5 * 0.01), 1);
    const glinting = matchFigures(toWorking([...grey, ...Array.from({ length: 15 }, () => [6, 6, 6])]))!;
    expect(glinting.mono.white).toBeCloseTo(told.mono.white, 1);
    expect(glinting.glints).toBeCloseTo(15 / 1015, 4);
    // what many are is no glint
    expect(matchFigures(toWorking([...grey, ...Array.from({ length: 200 }, () => [6, 6, 6])]))!.mono.white).toBeGreaterThan(2);
  });

  it("tell nothing of fewer than a hundred samples", () => {
    expect(matchFigures(toWorking(own.slice(0, 99)))).toBeNull();
  });
});

describe("steps", () => {
  // a darker, flatter, colder and duller picture of another scene
  const dulled = (chroma: number) =>
    scene(3000, 3).map((v) => {
      const grey = 0.3 * v[0] + 0.6 * v[1] + 0.1 * v[2];
      return [0.8, 1, 1.25].map((gain, c) => 0.04 + 0.4 * gain * (grey + chroma * (v[c] - grey)));
    });
  const dull = dulled(0.6);
  const to = matchFigures(mine)!;

  it("bring tone, cast and chroma nearer one after the other, each by an ordinary adjustment", () => {
    const from = toWorking(dull);
    const steps = matchSteps(from, to)!;
    expect(steps.map((s) => s.step).slice(0, 2)).toEqual(["tone", "cast"]);
    const done = steps.reduce((s, { adjustment, values }) => applyStep(s, adjustment, values), from);
    const [before, after] = [matchFigures(from)!, matchFigures(done)!];
    expect(toneDistance(after, to)).toBeLessThan(0.5 * toneDistance(before, to));
    expect(neutralDistance(after, to)).toBeLessThan(0.8 * neutralDistance(before, to));
    expect(colourDistance(after, to)).toBeLessThan(colourDistance(before, to));
  });

  it("bring back chroma, as far as a factor of two goes", () => {
    const from = toWorking(dulled(0.2));
    const steps = matchSteps(from, to)!;
    expect(steps[steps.length - 1].step).toBe("chroma");
    expect(steps[steps.length - 1].values.factor).toBeGreaterThan(1.2);
    const done = matchFigures(steps.reduce((s, { adjustment, values }) => applyStep(s, adjustment, values), from))!;
    const chroma = (f: typeof to) => f.tones.reduce((s, t) => s + t.share * t.chroma, 0);
    expect(Math.abs(chroma(done) - chroma(to))).toBeLessThan(0.9 * Math.abs(chroma(matchFigures(from)!) - chroma(to)));
  });

  it("turn no hue by tone: light is scaled by luminance alone", () => {
    const [zones] = matchSteps(toWorking(dull), to)!;
    expect(zones.adjustment).toBe("zones");
    const wood = toWorking([[0.4, 0.25, 0.12]]);
    const done = applyStep(wood, "zones", zones.values).light;
    expect(done[0] / done[1]).toBeCloseTo(wood.light[0] / wood.light[1], 5);
    expect(done[2] / done[1]).toBeCloseTo(wood.light[2] / wood.light[1], 5);
  });

  it("clip nothing that was not clipped, and leave a match as it is", () => {
    const done = matchSteps(toWorking(dull), to)!.reduce((s, { adjustment, values }) => applyStep(s, adjustment, values), toWorking(dull));
    expect(done.light.every((v) => v >= 0)).toBe(true);
    const share = (s: Samples) => s.light.filter((v) => v >= 1).length / s.light.length;
    expect(share(done)).toBeLessThanOrEqual(0.002);
    expect(matchSteps(mine, to)).toEqual([]);
  });

  it("go as far as they are told", () => {
    const half = matchSteps(toWorking(dull), to, 0.5)!;
    const whole = matchSteps(toWorking(dull), to)!;
    expect(half[0].after).toBeGreaterThan(1.5 * whole[0].after);
    expect(half[0].after).toBeLessThan(0.75 * half[0].before);
  });
});
