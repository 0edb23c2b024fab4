/** Responses, ghosts and coloured lines on made-up samples whose truth is known by construction. */
import { randomOf } from "../../../tests/support/kernels";
import { decodeSrgb, encodeSrgb } from "../color/srgbCurve";
import { countCells, runBounds } from "../masks/cellRuns";
import { deviationAt, fitResponse, RESPONSE_KNOTS, type ResponsePlace } from "./fitResponse";
import { areasOver, differenceAt, differenceBeyondBlur, GHOST_THRESHOLD, type GhostCells } from "./findGhosts";
import { EDGE_RATIO, EVEN_RATIO, findFringe, type FringeStrip } from "./findFringe";
import { edgeKind } from "../../kernels/twins/twins";

const random = randomOf(11);
const normal = () => Math.sqrt(-2 * Math.log(random() + 1e-12)) * Math.cos(2 * Math.PI * random());
const assumed = [0, 1, 2].map(() => (code: number) => Math.log2(Math.max(1e-6, decodeSrgb(Math.min(1, Math.max(0, code))))));

/** Places seen at the given exposures through a response, in 8-bit steps with a little noise. */
function places(
  respond: (light: number, channel: number) => number,
  ev: number[],
  count = 3000,
  lightOf: (i: number) => number = () => 2 ** (-7 + 8 * random()),
): ResponsePlace[] {
  return Array.from({ length: count }, (_, i) => {
    const channel = (i % 3) as 0 | 1 | 2;
    const light = lightOf(i);
    const codes = ev.map((e) => Math.round(255 * respond(Math.min(1, light * 2 ** e), channel) + 0.3 * normal()) / 255);
    return { channel, codes };
  });
}

/** Settings are rounded. */
const known = (ev: number[]) => ev.map(() => 0.03);

describe("the response", () => {
  it.each([
    ["a plain gamma of 2.6", (x: number) => x ** (1 / 2.6)],
    [
      "a contrasty curve",
      (x: number) => {
        const y = x ** (1 / 2.2);
        return y + 0.2 * y * (1 - y) * Math.sin(2 * Math.PI * (y - 0.5));
      },
    ],
  ])("%s is found from four exposures to a few hundredths of a stop", (_, respond) => {
    const ev = [-3, -1.5, 0, 1.5];
    const fit = fitResponse(places(respond, ev), assumed, ev, known(ev))!;
    expect(fit.convincing).toBe(true);
    expect(fit.deviationEv).toHaveLength(1);
    // light of a code against the truth, white and black apart
    for (let code = 0.15; code < 0.95; code += 0.05) {
      let [low, high] = [0, 1];
      for (let k = 0; k < 40; k++)
        if (respond((low + high) / 2) < code) low = (low + high) / 2;
        else high = (low + high) / 2;
      expect(Math.abs(assumed[0](code) + deviationAt(fit.deviationEv[0], code) - Math.log2(low))).toBeLessThan(0.08);
    }
    fit.ev.forEach((v, k) => expect(Math.abs(v - (ev[k] - ev[0]))).toBeLessThan(0.04));
  });

  it("what the files say is kept where it holds, and a wrongly noted exposure is put right", () => {
    const [ev, noted] = [
      [-2, 0.1, 2],
      [-2, 0, 2],
    ];
    const fit = fitResponse(
      places((x) => encodeSrgb(x), ev),
      assumed,
      noted,
      known(noted),
    )!;
    expect(fit.convincing).toBe(false);
    expect(fit.ev[1] - fit.ev[0]).toBeCloseTo(2.1, 1);
  });

  it("a scene of two tones, which every curve fits, gives no reason to leave what the files say", () => {
    const ev = [-2, 0, 2];
    const tones = (i: number) => (i % 2 ? 0.022 + 0.004 * (i % 3) : 0.8 + 0.05 * random());
    for (const respond of [encodeSrgb, (x: number) => x ** (1 / 2.6)]) {
      expect(fitResponse(places(respond, ev, 3000, tones), assumed, ev, known(ev))!.convincing).toBe(false);
    }
  });

  it("a channel with a curve of its own gets its own", () => {
    const ev = [-2, 0, 2];
    const fit = fitResponse(
      places((x, c) => x ** (1 / (c === 2 ? 3 : 2)), ev),
      assumed,
      ev,
      known(ev),
    )!;
    expect(fit.deviationEv).toHaveLength(3);
    // at a code of 0.5 the light is 0.5^2 and 0.5^3: one stop apart
    expect(deviationAt(fit.deviationEv[0], 0.5) - deviationAt(fit.deviationEv[2], 0.5)).toBeCloseTo(1, 0);
  });

  it("says nothing where too little is shared", () => {
    expect(
      fitResponse(
        places((x) => x, [0, 6], 30),
        assumed,
        [0, 6],
        known([0, 6]),
      ),
    ).toBeNull();
  });

  it("lies between its knots on straight lines", () => {
    const d = Array.from({ length: RESPONSE_KNOTS }, (_, k) => k);
    expect(deviationAt(d, 0.5)).toBe(16);
    expect(deviationAt(d, 0.5 + 0.5 / 32)).toBeCloseTo(16.5, 9);
    expect(deviationAt(d, 2)).toBe(32);
  });
});

/** Cells of one tone with noise, and something of another tone in a rectangle. */
function cellsOf(columns: number, rows: number, light: number, noise: number, thing?: { x: number; y: number; side: number; light: number }): GhostCells {
  const n = columns * rows;
  const at = (i: number) => {
    const [x, y] = [i % columns, Math.floor(i / columns)];
    const inside = thing && x >= thing.x && x < thing.x + thing.side && y >= thing.y && y < thing.y + thing.side;
    return Math.min(1, (inside ? thing.light : light) + noise * normal());
  };
  const plane = Float32Array.from({ length: n }, (_, i) => at(i));
  const mean = new Float32Array(3 * n);
  for (const c of [0, 1, 2])
    mean.set(
      plane.map((v) => v + (noise * normal()) / 2),
      c * n,
    );
  return { mean, top: plane, bottom: plane, range: new Float32Array(n).fill(noise * 4), covered: new Uint8Array(n).fill(1) };
}

describe("what moved", () => {
  const [columns, rows, n] = [60, 40, 2400];
  const noise = { shot: 1e-4, readSquared: 1e-6 };
  const map = (a: GhostCells, b: GhostCells, gainA: number, gainB: number) =>
    Float32Array.from({ length: n }, (_, i) => differenceAt(a, b, gainA, gainB, noise, i, n));

  it("is found with its place and size, and noise is not", () => {
    const still = cellsOf(columns, rows, 0.1, 0.002);
    const moved = cellsOf(columns, rows, 0.4, 0.004, { x: 20, y: 10, side: 8, light: 0.04 });
    const areas = areasOver(map(still, moved, 1, 4), columns, rows, GHOST_THRESHOLD);
    expect(areas).toHaveLength(1);
    const bounds = runBounds(areas[0].runs)!;
    // three cells wider on every side
    expect(bounds).toEqual({ x: 17, y: 7, width: 14, height: 14 });
    expect(areasOver(map(still, cellsOf(columns, rows, 0.4, 0.004), 1, 4), columns, rows, GHOST_THRESHOLD)).toEqual([]);
  });

  it("holes are filled", () => {
    const difference = new Float32Array(n);
    for (let y = 10; y < 30; y++) for (let x = 10; x < 30; x++) if (x < 12 || x > 27 || y < 12 || y > 27) difference[y * columns + x] = 20;
    const [area] = areasOver(difference, columns, rows, GHOST_THRESHOLD);
    expect(countCells(area.runs)).toBe(26 * 26);
  });

  it("between frames focused differently blur is not, of an edge and of what lies in front; what stands in one frame alone is", () => {
    const frame = (light: (x: number, y: number) => number, gain = 1): GhostCells => {
      const cells = cellsOf(columns, rows, 0, 0.0005);
      cells.mean = cells.mean.map((v, i) => v + gain * light(i % columns, Math.floor((i % n) / columns)));
      return { ...cells, top: cells.mean.subarray(n, 2 * n) };
    };
    const edge = (x: number) => (x < 30 ? 0.05 : 0.3);
    const soft = (x: number) => 0.05 + 0.25 * Math.min(1, Math.max(0, (x - 27.5) / 4));
    const most = (a: GhostCells, b: GhostCells, gainA: number, gainB: number) => Math.max(...differenceBeyondBlur(a, b, gainA, gainB, noise, columns, 2));
    expect(most(frame(edge), frame(soft, 2), 1, 2)).toBeLessThan(GHOST_THRESHOLD);
    expect(most(frame(soft, 2), frame(edge), 2, 1)).toBeLessThan(GHOST_THRESHOLD);
    // without the other's surroundings it would be taken for something that moved
    expect(Math.max(...map(frame(edge), frame(soft, 2), 1, 2))).toBeGreaterThan(GHOST_THRESHOLD);
    const leaf = (x: number, y: number) => (x >= 40 && x < 48 && y >= 10 && y < 18 ? 0.02 : edge(x));
    const difference = differenceBeyondBlur(frame(edge), frame(leaf, 2), 1, 2, noise, columns, 2);
    // what lies two cells inside the leaf, as far as blur reaches, and three cells wider on every side
    expect(runBounds(areasOver(difference, columns, rows, GHOST_THRESHOLD)[0].runs)).toEqual({ x: 39, y: 9, width: 10, height: 10 });
  });

  it("a clipped frame only says 'at least', a black one 'at most'", () => {
    const at = (light: number): GhostCells => {
      const v = Float32Array.of(light);
      return { mean: Float32Array.of(light, light, light), top: v, bottom: v, range: Float32Array.of(0), covered: Uint8Array.of(1) };
    };
    const z = (a: number, gainA: number, b: number, gainB: number) => differenceAt(at(a), at(b), gainA, gainB, noise, 0, 1);
    // sky clipped in the bright frame, brighter than its white in the dark one: no contradiction
    expect(z(0.5, 1, 1, 4)).toBe(0);
    // dark in one, clipped in the other: something was there
    expect(z(0.05, 1, 1, 4)).toBeGreaterThan(GHOST_THRESHOLD);
    expect(z(0.0005, 1 / 16, 0.004, 1)).toBe(0);
    expect(z(1, 1, 1, 4)).toBe(0);
  });
});

describe("coloured lines", () => {
  const [width, rows] = [64, 40];
  const weights = [0.2627, 0.678, 0.0593];
  const sky = [0.6, 0.75, 1];
  const dark = [0.02, 0.018, 0.015];
  /** An edge between a blue sky and a dark surface, two columns of it magenta where asked for. */
  const strip = (line: boolean) => {
    const planes = [0, 1, 2].map((c) =>
      Float32Array.from({ length: width * rows }, (_, i) => {
        const x = i % width;
        const t = Math.min(1, Math.max(0, (x - 30) / 3));
        const plain = sky[c] * (1 - t) + dark[c] * t;
        return line && (x === 31 || x === 32) && c !== 1 ? plain * 1.9 : plain;
      }),
    ) as [Float32Array, Float32Array, Float32Array];
    return planes;
  };
  const luminance = (planes: Float32Array[], i: number) => weights.reduce((sum, w, c) => sum + w * planes[c][i], 0);
  const found = (planes: FringeStrip["planes"]) => {
    const light = planes[0].map((_, i) => Math.max(1e-6, luminance([...planes], i)));
    const kinds = Uint8Array.from(light, (_, i) => edgeKind(light, width, rows, i % width, Math.floor(i / width), EDGE_RATIO, EVEN_RATIO));
    return findFringe({ planes, light, kinds, width, rows, from: 0, to: rows }, weights);
  };

  it("are found where they are, two samples wide, and what they should be has their luminance and the colours of both sides", () => {
    const planes = strip(true);
    const lines = found(planes);
    expect(new Set(lines.map((f) => f.index % width))).toEqual(new Set([31, 32]));
    expect(lines).toHaveLength(2 * rows);
    for (const { index, before, after } of lines) {
      expect(before).toEqual(planes.map((p) => p[index]));
      expect(weights.reduce((sum, w, c) => sum + w * after[c], 0)).toBeCloseTo(luminance(planes, index), 4);
      // red against green is again between what sky and dark show
      expect(after[0] / after[1]).toBeGreaterThan(0.79);
      expect(after[0] / after[1]).toBeLessThan(1.12);
    }
  });

  it("an edge without one, and a thin coloured thing on an even ground, stay as they are", () => {
    expect(found(strip(false))).toEqual([]);
    const red = strip(false);
    for (let y = 0; y < rows; y++) for (const c of [0, 1, 2]) red[c].fill(sky[c], y * width, (y + 1) * width);
    for (let y = 0; y < rows; y++) red[0][y * width + 20] = 0.9;
    expect(found(red)).toEqual([]);
  });
});
