/** Mattes on fields whose truth is known: the matrix against its definition, alpha and colours of mixtures made here, figures of shapes that were drawn. */
import { toOklab } from "../color/oklab";
import { freeColours, frontPlanes } from "./freeColours";
import { edgeIs, edgeWidths, findStubs } from "./judgeEdge";
import { endsAtBorders, judgeMatte } from "./judgeMatte";
import { mattingLaplacian, solveBand } from "./mattingLaplacian";
import { backdropPlanes, differsFromPlate, fitBackdrop, gapsBetweenStrands, plateGains, plateIsSeen, plateShowsThrough } from "./plates";
import { KEEP, LEAVE, OPEN } from "./growBand";
import { markBand } from "./markBand";
import { proposeBand } from "./proposeBand";
import { atOnce, inSteps } from "../numeric/stepwise";
import { solveAgain, solveMatte } from "./solveMatte";
import { BACKGROUND, bandOf, FOREGROUND, halvedField, UNKNOWN, type Colours, type MatteField } from "./trimap";

/** The same numbers every time: a linear congruential generator, as in ISO C's example. */
function numbers(seed: number): () => number {
  let state = seed;
  return () => (state = (state * 1103515245 + 12345) % 2147483648) / 2147483648;
}

interface Scene extends MatteField {
  truth: Float32Array;
  front: Colours;
  back: Colours;
}

const [DARK, LIGHT] = [
  [0.06, 0.03, 0.02],
  [0.3, 0.45, 0.6],
];

/** A thing of one colour before another, mixed in linear light with a little noise. @param alphaAt by place @param wave how much the background varies */
function scene(width: number, height: number, alphaAt: (x: number, y: number) => number, { noise = 0, wave = 0, open = 4 } = {}): Scene {
  const n = width * height;
  const random = numbers(7);
  const truth = Float32Array.from({ length: n }, (_, i) => alphaAt(i % width, Math.floor(i / width)));
  const plane = (of: (i: number, c: number) => number) => [0, 1, 2].map((c) => Float32Array.from({ length: n }, (_, i) => of(i, c))) as unknown as Colours;
  const front = plane((_, c) => DARK[c]);
  const back = plane((i, c) => LIGHT[c] * (1 + wave * Math.sin((i % width) / (5 + c)) * Math.cos(Math.floor(i / width) / 7)));
  const rgb = plane((i, c) => truth[i] * front[c][i] + (1 - truth[i]) * back[c][i] + noise * (random() - 0.5));
  const partly = truth.map((a) => (a > 0 && a < 1 ? 1 : 0));
  const known = Uint8Array.from(truth, (a, i) => {
    const [x, y] = [i % width, Math.floor(i / width)];
    for (let v = Math.max(0, y - open); v <= Math.min(height - 1, y + open); v++)
      for (let u = Math.max(0, x - open); u <= Math.min(width - 1, x + open); u++) if (partly[v * width + u]) return UNKNOWN;
    return a > 0.5 ? FOREGROUND : BACKGROUND;
  });
  return { width, height, rgb, known, plate: null, truth, front, back };
}

/** A disc whose border is so many px wide. */
const disc = (cx: number, cy: number, radius: number, soft: number) => (x: number, y: number) =>
  Math.min(1, Math.max(0, 0.5 + (radius - Math.hypot(x - cx, y - cy)) / soft));

const worst = (a: ArrayLike<number>, b: ArrayLike<number>) => Array.from(a).reduce((most, v, i) => Math.max(most, Math.abs(v - b[i])), 0);
const mean = (a: ArrayLike<number>, b: ArrayLike<number>) => Array.from(a).reduce((sum, v, i) => sum + Math.abs(v - b[i]), 0) / a.length;

describe("the matting Laplacian", () => {
  it("is that of its definition, with known samples on the right side", () => {
    const random = numbers(3);
    const [width, height] = [7, 6];
    const n = width * height;
    const rgb = [0, 1, 2].map(() => Float32Array.from({ length: n }, random)) as unknown as Colours;
    const known = Uint8Array.from({ length: n }, (_, i) => (i % 7 < 2 ? FOREGROUND : i % 7 > 5 ? BACKGROUND : UNKNOWN));
    const alpha = Float32Array.from(known, (k) => (k === FOREGROUND ? 1 : 0));
    // Levin, Lischinski, Weiss 2008, equation 12: entries of each window by the inverse of its covariance, summed up
    const dense = Array.from({ length: n }, () => new Float64Array(n));
    for (let y = 1; y < height - 1; y++) {
      for (let x = 1; x < width - 1; x++) {
        const of = Array.from({ length: 9 }, (_, k) => (y + Math.floor(k / 3) - 1) * width + x + (k % 3) - 1);
        const mu = [0, 1, 2].map((c) => of.reduce((s, i) => s + rgb[c][i], 0) / 9);
        const cov = [0, 1, 2].map((a) =>
          [0, 1, 2].map((b) => of.reduce((s, i) => s + (rgb[a][i] - mu[a]) * (rgb[b][i] - mu[b]), 0) / 9 + (a === b ? 1e-7 : 0)),
        );
        for (const i of of) {
          const v = solve3(
            cov,
            [0, 1, 2].map((c) => rgb[c][i] - mu[c]),
          );
          for (const j of of) dense[i][j] += (i === j ? 1 : 0) - (1 + [0, 1, 2].reduce((s, c) => s + v[c] * (rgb[c][j] - mu[c]), 0)) / 9;
        }
      }
    }
    const band = bandOf(known);
    const system = mattingLaplacian({ width, height, rgb, known, plate: null }, band, alpha);
    const got = solveBand(system, new Float64Array(band.places.length), 400, 1e-12);
    // what was solved leaves nothing over, by the definition
    const all = Float64Array.from(alpha);
    band.places.forEach((i, k) => (all[i] = got[k]));
    for (const i of band.places) expect(Math.abs(dense[i].reduce((s, w, j) => s + w * all[j], 0))).toBeLessThan(1e-4);
    band.places.forEach((i, k) => expect(system.diagonal[k]).toBeCloseTo(dense[i][i], 5));
  });
});

function solve3(m: number[][], b: number[]): number[] {
  const det = (a: number[][]) =>
    a[0][0] * (a[1][1] * a[2][2] - a[1][2] * a[2][1]) - a[0][1] * (a[1][0] * a[2][2] - a[1][2] * a[2][0]) + a[0][2] * (a[1][0] * a[2][1] - a[1][1] * a[2][0]);
  return [0, 1, 2].map((c) => det(m.map((row, r) => row.map((v, k) => (k === c ? b[r] : v)))) / det(m));
}

describe("alpha", () => {
  it("of two colours is that of the mixture to 2 % everywhere where there is no noise", () => {
    const s = scene(120, 100, disc(60, 50, 30, 6));
    const { alpha } = atOnce(solveMatte(s));
    expect(worst(alpha, s.truth)).toBeLessThan(0.02);
  });

  it("is found before a background that varies, with noise, on several sizes, and better where the background is known", () => {
    const s = scene(420, 400, disc(210, 200, 110, 9), { noise: 0.01, wave: 0.3, open: 6 });
    const partly = (alpha: Float32Array) => {
      const at = s.truth.reduce<number[]>((all, _, i) => (s.known[i] === UNKNOWN ? [...all, i] : all), []);
      return mean(
        at.map((i) => alpha[i]),
        at.map((i) => s.truth[i]),
      );
    };
    const alone = partly(atOnce(solveMatte(s)).alpha);
    const withPlate = partly(atOnce(solveMatte({ ...s, plate: s.back })).alpha);
    expect(alone).toBeLessThan(0.03);
    expect(withPlate).toBeLessThan(alone);
  });

  it("of strands shows the gaps between them", () => {
    // strands 2 px wide, 8 px apart, that hang down from what is wholly there
    const s = scene(200, 200, (x, y) => (y < 60 ? 1 : y < 150 && x > 20 && x < 180 && x % 8 < 2 ? 0.999 : 0), { noise: 0.004, wave: 0.1 });
    const { alpha } = atOnce(solveMatte(s));
    const at = (x: number, y: number) => alpha[y * 200 + x];
    for (let x = 40; x < 160; x += 8) expect([at(x, 110) > 0.8, at(x + 5, 110) < 0.15]).toEqual([true, true]);
  });

  it("stays as known where nothing is unknown, and stops when it is stopped", async () => {
    const s = scene(60, 60, disc(30, 30, 15, 4));
    const known = s.known.map((k) => (k === UNKNOWN ? BACKGROUND : k));
    expect(
      worst(
        atOnce(solveMatte({ ...s, known })).alpha,
        known.map((k) => (k === FOREGROUND ? 1 : 0)),
      ),
    ).toBe(0);
    await expect(inSteps(solveMatte(s), () => Promise.reject(new Error("stopped")))).rejects.toThrow("stopped");
  });
});

it("alpha solved anew in a part is what it is in the whole, and stays as it was elsewhere", () => {
  const s = scene(120, 100, disc(60, 50, 30, 6), { noise: 0.004 });
  const { alpha } = atOnce(solveMatte(s));
  const spoilt = alpha.map((a, i) => (s.known[i] === UNKNOWN && i % 120 > 60 ? 0.5 : a));
  const open = Uint8Array.from(alpha, (_, i) => (i % 120 > 50 ? 1 : 0));
  const again = atOnce(solveAgain(s, spoilt, open)).alpha;
  expect(mean(again, alpha)).toBeLessThan(0.002);
  again.forEach((a, i) => i % 120 < 50 && expect(a).toBe(alpha[i]));
});

describe("freed colours", () => {
  it.each([false, true])("are those that were mixed (background known: %s)", (isPlateKnown) => {
    const s = scene(120, 100, disc(60, 50, 30, 8), { wave: isPlateKnown ? 0.3 : 0 });
    const band = bandOf(s.known);
    const freed = freeColours({ ...s, plate: isPlateKnown ? s.back : null }, band, s.truth);
    const planes = frontPlanes(s, band, freed);
    let rms = 0;
    let weight = 0;
    band.places.forEach((i) => {
      for (let c = 0; c < 3; c++) rms += s.truth[i] * (planes[c][i] - s.front[c][i]) ** 2;
      weight += 3 * s.truth[i];
    });
    expect(Math.sqrt(rms / weight)).toBeLessThan(0.01);
    expect(planes[0][0]).toBe(0);
  });

  it("leave no spill, which the picture's own colours have", () => {
    const s = scene(120, 100, disc(60, 50, 30, 8));
    const band = bandOf(s.known);
    const freed = freeColours(s, band, s.truth);
    const own = { ...freed, front: Float32Array.from(freed.front, (_, k) => s.rgb[k % 3][band.places[Math.floor(k / 3)]]) };
    expect(judgeMatte(s, band, s.truth, freed).spillDeltaE).toBeLessThan(1);
    expect(judgeMatte(s, band, s.truth, own).spillDeltaE).toBeGreaterThan(10);
  });
});

it("a matte is told by the width of its change, its share, and its parts and gaps with their places", () => {
  const s = scene(200, 150, (x, y) => Math.max(Math.min(disc(80, 75, 40, 6)(x, y), 1 - disc(90, 70, 8, 2)(x, y)), disc(160, 30, 6, 2)(x, y)));
  const band = bandOf(s.known);
  const figures = judgeMatte(s, band, s.truth, freeColours(s, band, s.truth));
  expect(figures.holes.map(({ x, y }) => [x, y])).toEqual([[90, 70]]);
  expect(figures.islands.map(({ x, y }) => [x, y])).toEqual([[160, 30]]);
  expect(Math.abs(figures.holes[0].area / (Math.PI * 64) - 1)).toBeLessThan(0.1);
  expect(figures.share).toBeCloseTo((Math.PI * (40 * 40 - 64 + 36)) / (200 * 150), 2);
  const alone = scene(200, 150, disc(100, 75, 50, 10));
  const widthPx = judgeMatte(alone, bandOf(alone.known), alone.truth, freeColours(alone, bandOf(alone.known), alone.truth)).band.widthPx;
  // 0.02 to 0.98 of a change over 10 px
  expect(Math.abs(widthPx - 9.6)).toBeLessThan(1);
});

it("a matte that ends at a box though the thing goes on is told, with the place and the length; one that ends by itself is not", () => {
  const s = scene(160, 120, disc(80, 60, 30, 4));
  // the box ends 20 samples above the thing's lower end
  const box = { x: 40, y: 20, width: 80, height: 51 };
  const alpha = s.truth.map((a, i) => (Math.floor(i / 160) < box.y + box.height ? a : 0));
  const [lower, ...others] = endsAtBorders(s, alpha, box, 4);
  expect(others).toEqual([]);
  expect([lower.x, lower.y]).toEqual([expect.closeTo(80, -0.5), 70]);
  // the chord of the disc 4 samples beyond the box, where it still goes on, less its soft ends
  expect(Math.abs(lower.area - 2 * Math.sqrt(30 ** 2 - 14 ** 2))).toBeLessThan(5);
  expect(endsAtBorders(s, s.truth, { x: 40, y: 20, width: 80, height: 80 }, 4)).toEqual([]);
  // at the border of the picture anything goes on
  expect(endsAtBorders(s, s.truth.fill(1), { x: 0, y: 0, width: 160, height: 120 }, 4)).toHaveLength(4);
});

describe("gaps between strands", () => {
  // a body with strands on its upper side, six samples apart, taken whole as what differs from the plate
  const [width, height] = [160, 140];
  const isStrand = (x: number, y: number) => y >= 20 && y < 50 && x >= 40 && x < 120 && x % 6 < 2;
  const isBody = (x: number, y: number) => y >= 50 && y < 130 && x >= 30 && x < 130;
  const s = scene(width, height, (x, y) => (isBody(x, y) || isStrand(x, y) ? 1 : 0), { wave: 0.2, noise: 0.002 });
  const mask = Uint8Array.from(s.truth, (_, i) => {
    const [x, y] = [i % width, Math.floor(i / width)];
    return isBody(x, y) || (y >= 20 && y < 50 && x >= 40 && x < 120) ? 1 : 0;
  });

  it("are seen by the plate, and the body is not taken for one", () => {
    const seen = gapsBetweenStrands(s.rgb, s.back, mask, width, height);
    let [gaps, found, wrong] = [0, 0, 0];
    for (let i = 0; i < seen.length; i++) {
      const [x, y] = [i % width, Math.floor(i / width)];
      if (mask[i] && s.truth[i] === 0 && y > 24) {
        gaps++;
        found += seen[i];
      }
      if (isBody(x, y) && y > 54) wrong += seen[i];
    }
    expect(found / gaps).toBeGreaterThan(0.8);
    expect(wrong).toBe(0);
  });

  it("are none where what stands before the plate has a grain of its own", () => {
    const grain = {
      ...s,
      rgb: s.rgb.map((plane, c) => plane.map((v, i) => (mask[i] ? DARK[c] * (Math.floor(i / 3) % 2 ? 1 : 2.5) : v))) as unknown as Colours,
    };
    expect(gapsBetweenStrands(grain.rgb, s.back, mask, width, height).includes(1)).toBe(false);
  });
});

describe("the edge of a matte", () => {
  const s = scene(200, 160, disc(100, 80, 50, 6), { noise: 0.004 });
  const withEdge = (soft: number) => Float32Array.from(s.truth, (_, i) => disc(100, 80, 50, soft)(i % 200, Math.floor(i / 200)));

  it("is held to that of the picture, whose width is known", () => {
    const right = edgeWidths(s, s.truth)!;
    // along rows and columns an edge is wider than across it, by 1 to √2
    expect(right.own).toBeGreaterThan(5.5);
    expect(right.own).toBeLessThan(8.5);
    expect(Math.abs(right.own / right.matte - 1)).toBeLessThan(0.1);
    expect(edgeIs(right)).toBe("right");
    const hard = edgeWidths(s, withEdge(1))!;
    expect([edgeIs(hard), hard.matte < 2]).toEqual(["hard", true]);
    const soft = edgeWidths(s, withEdge(20))!;
    expect([edgeIs(soft), Math.abs(soft.own / right.own - 1) < 0.15]).toEqual(["soft", true]);
  });

  it("is not told where both sides look the same, or too little of it shows", () => {
    const plain = { ...s, rgb: s.rgb.map((plane) => plane.map(() => 0.2)) as unknown as Colours };
    expect(edgeWidths(plain, s.truth)).toBeNull();
    expect(
      edgeWidths(
        s,
        s.truth.map(() => 1),
      ),
    ).toBeNull();
  });

  it("has stubs where a thin piece of the ground was taken along, and none where the thing itself is thin", () => {
    // a reed of the background's colour, and an arm of the thing's, both taken
    const isReed = (x: number, y: number) => Math.abs(x - 100) <= 1 && y < 34 && y > 16;
    const isArm = (x: number, y: number) => Math.abs(y - 80) <= 1 && x > 146 && x < 170;
    const armed = scene(200, 160, (x, y) => Math.max(disc(100, 80, 50, 4)(x, y), isArm(x, y) ? 1 : 0));
    const alpha = Float32Array.from(armed.truth, (a, i) => (isReed(i % 200, Math.floor(i / 200)) ? 1 : a));
    const stubs = findStubs(armed, alpha, 8);
    expect(stubs).toHaveLength(1);
    expect(Math.abs(stubs[0].x - 100)).toBeLessThanOrEqual(2);
    expect(stubs[0].y).toBeLessThan(34);
    expect(findStubs(armed, armed.truth, 8)).toEqual([]);
  });
});

describe("plates", () => {
  const s = scene(160, 120, disc(80, 60, 25, 4), { wave: 0.3, noise: 0.004 });

  it("are brought to the picture's light", () => {
    const darker = s.back.map((p, c) => p.map((v) => v * [0.5, 0.8, 0.9][c])) as unknown as Colours;
    const gains = plateGains(s.rgb, darker);
    [2, 1.25, 1 / 0.9].forEach((gain, c) => expect(Math.abs(gains[c] / gain - 1)).toBeLessThan(0.02));
  });

  it("tell what stands before them, and one of another view is none", () => {
    const differs = differsFromPlate(s.rgb, s.back, 160, 120)!;
    const off = differs.reduce((sum, on, i) => sum + (s.truth[i] === 1 && !on ? 1 : s.truth[i] === 0 && on ? 1 : 0), 0);
    expect(off / differs.length).toBeLessThan(0.02);
    const other = s.back.map((p) => p.map((_, i) => p[(i * 37) % p.length])) as unknown as Colours;
    expect(differsFromPlate(s.rgb, other, 160, 120)).toBeNull();
  });

  it("show through gauze and not through what is solid", () => {
    const gauze = scene(160, 120, (x) => (x < 60 ? 0.999 : x < 110 ? 0.5 : 0), { wave: 0.3, noise: 0.004 });
    const through = plateShowsThrough(gauze.rgb, gauze.back, 160, 120);
    const at = (x: number) => through[60 * 160 + x];
    expect([at(30), at(85), at(140)]).toEqual([0, 1, 1]);
    const seen = plateIsSeen(gauze.rgb, gauze.back, 160, 120, true);
    expect([30, 85, 140].map((x) => seen[60 * 160 + x])).toEqual([0, 1, 1]);
    // a backdrop has no detail to be seen by: only where it is itself
    const even = plateIsSeen(gauze.rgb, gauze.back, 160, 120, false);
    expect([30, 85, 140].map((x) => even[60 * 160 + x])).toEqual([0, 0, 1]);
  });

  it("of an even backdrop follow its falloff; borders that are not even have none", () => {
    const falling = [0, 1, 2].map((c) =>
      Float32Array.from({ length: 160 * 120 }, (_, i) => 0.4 + 0.1 * c - 0.2 * ((i % 160) / 160 - 0.5) ** 2 - 0.1 * (Math.floor(i / 160) / 120)),
    ) as unknown as Colours;
    const standing = falling.map((p) => p.map((v, i) => (Math.hypot((i % 160) - 80, Math.floor(i / 160) - 90) < 40 ? 0.05 : v))) as unknown as Colours;
    const planes = backdropPlanes(fitBackdrop(standing, 160, 120)!, { width: 160, height: 120 }, { x: 0, y: 0, width: 160, height: 120 });
    planes.forEach((p, c) => expect(worst(p, falling[c])).toBeLessThan(0.005));
    const random = numbers(1);
    expect(fitBackdrop([0, 1, 2].map(() => Float32Array.from({ length: 160 * 120 }, random)) as unknown as Colours, 160, 120)).toBeNull();
  });
});

describe("a band from a box", () => {
  const small = (s: Scene) => {
    const lab = [0, 1, 2].map(() => new Float32Array(s.truth.length)) as unknown as Colours;
    const out = new Float64Array(3);
    s.truth.forEach((_, i) => {
      toOklab(s.rgb[0][i], s.rgb[1][i], s.rgb[2][i], out);
      for (let c = 0; c < 3; c++) lab[c][i] = out[c];
    });
    return { ...s, lab };
  };
  const s = scene(160, 120, disc(80, 60, 25, 4), { wave: 0.2, noise: 0.01 });
  const box = { x0: 45, y0: 25, x1: 115, y1: 95 };

  it("holds the border and nothing far from it", () => {
    const { known } = atOnce(proposeBand(small(s), box))!;
    s.truth.forEach((a, i) => {
      if (a > 0.05 && a < 0.95) expect(known[i]).toBe(UNKNOWN);
    });
    expect(known[60 * 160 + 80]).toBe(FOREGROUND);
    expect(known[5 * 160 + 5]).toBe(BACKGROUND);
    expect(known.filter((k) => k === UNKNOWN).length).toBeLessThan(0.1 * known.length);
  });

  it("is none where nothing stands out", () => {
    expect(atOnce(proposeBand(small(s), { x0: 5, y0: 5, x1: 35, y1: 35 }))).toBeNull();
  });

  /** What a mark about a place makes of a proposal. */
  const marked = (of: Scene, code: number, x: number, y: number) => {
    const mark = Uint8Array.from(of.truth, (_, i) => (Math.hypot((i % of.width) - x, Math.floor(i / of.width) - y) < 2.5 ? 1 : 0));
    const before = atOnce(proposeBand(small(of), box))!;
    return {
      before,
      after: atOnce(
        markBand(
          small(of),
          before,
          mark,
          mark.map((on) => on * code),
        ),
      ),
      at: y * of.width + x,
    };
  };
  const full = ({ alpha }: { alpha: Float32Array }) => alpha.reduce((sum, a) => sum + a, 0);

  it("follows what is marked, with what is like it and goes on from it, and no farther", () => {
    // a second thing of the same colour, outside of the box, comes along whole; nothing else changes
    const two = scene(160, 120, (x, y) => Math.max(disc(80, 60, 25, 4)(x, y), disc(135, 30, 9, 3)(x, y)), { wave: 0.2, noise: 0.01 });
    const kept = marked(two, KEEP, 135, 30);
    expect(Math.abs(full(kept.after) - full(kept.before) - Math.PI * 81)).toBeLessThan(0.15 * Math.PI * 81);
    const left = marked(two, LEAVE, 80, 60);
    expect(left.after.known[left.at]).toBe(BACKGROUND);
    expect(full(left.after)).toBeLessThan(0.2 * full(left.before));
    const opened = marked(two, OPEN, 80, 60);
    expect(opened.after.known[opened.at]).toBe(UNKNOWN);
    expect(Math.abs(full(opened.after) - full(opened.before))).toBeLessThan(25);
  });
});

it("half a field has means, and is known only where all of it is", () => {
  const s = scene(5, 3, (x) => (x < 2 ? 1 : 0), { open: 0 });
  const half = halvedField({ ...s, known: Uint8Array.of(2, 2, 0, 0, 0, 2, 2, 1, 0, 0, 2, 2, 0, 0, 2) });
  expect([half.width, half.height, [...half.known]]).toEqual([3, 2, [2, 1, 0, 2, 0, 2]]);
  expect(half.rgb[0][0]).toBeCloseTo(DARK[0], 6);
});
