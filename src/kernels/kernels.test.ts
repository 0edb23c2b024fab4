/** Every kernel against its plain twin, over odd sizes and borders. Tolerances: float32 sums, and 3e-7 of the curve polynomials. */
import { loadKernels, randomOf } from "../../tests/support/kernels";
import { LOWEST_OCTAVE, OCTAVES, toneResponse, toneTable } from "../core/color/toneCurve";
import { decodeSrgb, encodeSrgb } from "../core/color/srgbCurve";
import { distort } from "../core/geometry/lens";
import { invert, project } from "../core/geometry/matrix3";
import type { Kernels, Scope } from "./Kernels";
import * as twins from "./twins/twins";
import { readFileSync } from "node:fs";

let kernels: Kernels;
const random = randomOf(7);
const floats = (n: number, low = 0, high = 1) => Float32Array.from({ length: n }, () => low + (high - low) * random());
const put = (scope: Scope, values: ArrayLike<number>): number => {
  const at = scope.floats(values.length + 16);
  kernels.f32(at, values.length).set(values);
  return at;
};
const closeTo = (got: ArrayLike<number>, wanted: (i: number) => number, relative: number, absolute = 1e-6) => {
  for (let i = 0; i < got.length; i++) {
    const w = wanted(i);
    if (!(Math.abs(got[i] - w) <= absolute + relative * Math.abs(w))) throw new Error(`Sample ${i}: got ${got[i]}, the twin says ${w}.`);
  }
};
const tested = new Set<string>();
const kernelTest = (name: string, work: (scope: Scope) => void) => {
  tested.add(name);
  it(`${name} equals its twin`, () => kernels.withScope(work));
};

beforeAll(async () => {
  kernels = await loadKernels();
});

const SIZES = [
  [1, 1],
  [2, 3],
  [5, 4],
  [17, 9],
  [40, 23],
] as const;

kernelTest("halveRows", (scope) => {
  for (const [w, h] of SIZES) {
    const src = floats(w * h);
    const [dw, dh] = [(w + 1) >> 1, (h + 1) >> 1];
    const out = scope.floats(dw * dh + 16);
    kernels.run("halveRows", [put(scope, src), w, h, out, dw], 0, dh, 3);
    closeTo(kernels.f32(out, dw * dh), (i) => twins.halve(src, w, h, i % dw, Math.floor(i / dw)), 1e-6);
  }
});

kernelTest("reduceRows", (scope) => {
  for (const [w, h] of SIZES) {
    const src = floats(w * h);
    const [dw, dh] = [(w + 1) >> 1, (h + 1) >> 1];
    const out = scope.floats(dw * dh + 16);
    kernels.run("reduceRows", [put(scope, src), w, h, out, dw], 0, dh, 3);
    closeTo(kernels.f32(out, dw * dh), (i) => twins.reduce(src, w, h, i % dw, Math.floor(i / dw)), 2e-6);
  }
});

kernelTest("collapseRows", (scope) => {
  for (const [w, h] of SIZES) {
    const [cw, ch] = [(w + 1) >> 1, (h + 1) >> 1];
    const [fine, coarse] = [floats(w * h), floats(cw * ch)];
    const at = put(scope, fine);
    kernels.run("collapseRows", [at, w, h, put(scope, coarse), cw, ch], 0, h, 5);
    closeTo(kernels.f32(at, w * h), (i) => fine[i] + twins.expand(coarse, cw, ch, i % w, Math.floor(i / w)), 2e-6);
  }
});

kernelTest("accumulateBand", (scope) => {
  for (const [w, h] of SIZES) {
    const [cw, ch] = [(w + 1) >> 1, (h + 1) >> 1];
    const [fine, coarse, weight, acc] = [floats(w * h), floats(cw * ch), floats(w * h), floats(w * h)];
    const at = put(scope, acc);
    kernels.run("accumulateBand", [put(scope, fine), w, h, put(scope, coarse), cw, ch, put(scope, weight), at], 0, h, 5);
    closeTo(kernels.f32(at, w * h), (i) => acc[i] + weight[i] * (fine[i] - twins.expand(coarse, cw, ch, i % w, Math.floor(i / w))), 2e-6, 2e-6);
  }
});

kernelTest("accumulateProduct", (scope) => {
  const [a, b, c] = [floats(37), floats(37), floats(37)];
  const at = put(scope, c);
  kernels.run("accumulateProduct", [put(scope, a), put(scope, b), at], 0, 37, 10);
  closeTo(kernels.f32(at, 37), (i) => c[i] + a[i] * b[i], 1e-6);
});

kernelTest("divideSamples", (scope) => {
  const [a, b] = [floats(21), floats(21)];
  b[4] = 0;
  const at = put(scope, a);
  kernels.run("divideSamples", [at, put(scope, b)], 0, 21, 8);
  closeTo(kernels.f32(at, 21), (i) => (b[i] > 0 ? a[i] / b[i] : 0), 1e-6);
});

kernelTest("lookUpSamples", (scope) => {
  const table = put(
    scope,
    Float32Array.from({ length: 65536 }, (_, i) => Math.sin(i)),
  );
  const src = scope.bytes(64);
  kernels.u16(src, 20).set(Uint16Array.from({ length: 20 }, (_, i) => i * 3449));
  const out = scope.floats(20);
  kernels.run("lookUpSamples", [src, table, out], 0, 20, 7);
  closeTo(kernels.f32(out, 20), (i) => Math.sin(i * 3449), 1e-6);
});

kernelTest("lookUpBytes", (scope) => {
  const table = put(
    scope,
    Float32Array.from({ length: 256 }, (_, i) => Math.cos(i)),
  );
  const src = scope.bytes(64);
  kernels.u8(src, 20).set(Uint8Array.from({ length: 20 }, (_, i) => i * 13));
  const out = scope.floats(20);
  kernels.run("lookUpBytes", [src, table, out], 0, 20, 7);
  closeTo(kernels.f32(out, 20), (i) => Math.cos(i * 13), 1e-6);
});

kernelTest("keepLargest", (scope) => {
  const weights = [floats(30), floats(30), floats(30)];
  const best = put(scope, new Float32Array(30));
  const index = scope.bytes(64);
  kernels.u8(index, 30).fill(0);
  weights.forEach((w, k) => kernels.run("keepLargest", [put(scope, w), best, index, k], 0, 30, 7));
  for (let i = 0; i < 30; i++) {
    const values = weights.map((w) => w[i]);
    expect(kernels.u8(index, 30)[i]).toBe(values.indexOf(Math.max(...values)));
  }
});

kernelTest("applyMatrix", (scope) => {
  const planes = [floats(16), floats(16), floats(16)];
  const at = planes.map((p) => put(scope, p));
  const m = [0.5, 0.2, -0.1, 0.3, 0.9, 0, -0.2, 0.1, 1.4];
  kernels.run("applyMatrix", [...at, scope.matrix(m)], 0, 16, 8);
  at.forEach((p, c) => closeTo(kernels.f32(p, 16), (i) => m[c * 3] * planes[0][i] + m[c * 3 + 1] * planes[1][i] + m[c * 3 + 2] * planes[2][i], 1e-6));
});

kernelTest("warpRows", (scope) => {
  const [sw, sh, w, h] = [31, 23, 28, 21];
  const pixels = Uint16Array.from({ length: sw * sh * 4 }, () => Math.floor(random() * 65536));
  const src = scope.bytes(pixels.length * 2 + 64);
  kernels.u16(src, pixels.length).set(pixels);
  const matrix = [1.02, 0.03, -1.4, -0.02, 0.98, 0.7, 1e-4, -2e-4, 1];
  const lens = { k1: -0.05, k2: 0.01 };
  const out = scope.bytes(w * h * 6 + 64);
  const perHalf = 4 / (sw * sw + sh * sh);
  kernels.run("warpRows", [src, sw, sh, 0, 0, scope.doubles([...matrix, lens.k1, lens.k2, (sw - 1) / 2, (sh - 1) / 2, perHalf]), out, w * h, 0, w, 0], 0, h, 4);
  for (let c = 0; c < 3; c++) {
    const plane = kernels.u16(out + c * w * h * 2, w * h);
    closeTo(
      plane,
      (i) => {
        const [u, v] = distort(lens, { width: sw, height: sh }, ...project(matrix, i % w, Math.floor(i / w)));
        return Math.round(
          Math.min(
            65535,
            Math.max(
              0,
              twins.sampleCubic((x, y) => pixels[(y * sw + x) * 4 + c], sw, sh, u, v),
            ),
          ),
        );
      },
      0,
      1.01,
    );
  }
});

kernelTest("warpFloatRows", (scope) => {
  const [sw, sh, w, h] = [19, 17, 15, 13];
  const src = floats(sw * sh);
  const matrix = [0.99, 0.1, 0.3, -0.1, 0.99, 1.2, 1e-4, -2e-4, 1];
  const lens = { k1: 0.04, k2: -0.02 };
  const parameters = [...matrix, lens.k1, lens.k2, (sw - 1) / 2, (sh - 1) / 2, 4 / (sw * sw + sh * sh)];
  const out = scope.floats(w * h);
  kernels.run("warpFloatRows", [put(scope, src), sw, sh, 0, 0, scope.doubles(parameters), out, 0, w, 0], 0, h, 4);
  closeTo(
    kernels.f32(out, w * h),
    (i) => {
      const [u, v] = distort(lens, { width: sw, height: sh }, ...project(matrix, i % w, Math.floor(i / w)));
      return Math.max(
        0,
        twins.sampleCubic((x, y) => src[y * sw + x], sw, sh, u, v),
      );
    },
    2e-6,
    2e-6,
  );
});

kernelTest("fusionWeightRows", (scope) => {
  const [w, h] = [13, 6];
  const stride = w + 16;
  for (const exponents of [
    [1, 1, 1],
    [0, 1, 0],
    [0.5, 2, 1.5],
  ]) {
    const padded = [0, 1, 2].map(() => floats(stride * (h + 2) + 32));
    const at = padded.map((p) => put(scope, p) + (stride + 4) * 4);
    const coverage = Float32Array.from({ length: w * h + 8 }, () => (random() > 0.1 ? 1 : 0));
    const [weight, total] = [put(scope, new Float32Array(w * h + 8)), put(scope, new Float32Array(w * h + 8))];
    kernels.run("fusionWeightRows", [...at, stride, put(scope, coverage), weight, total, w, ...exponents], 0, h, 4);
    const rgb = (x: number, y: number) => padded.map((p) => p[(y + 1) * stride + 4 + x]);
    const grey = (x: number, y: number) => {
      const [r, g, b] = rgb(x, y);
      return 0.299 * r + 0.587 * g + 0.114 * b;
    };
    closeTo(
      kernels.f32(weight, w * h),
      (i) => {
        const [x, y] = [i % w, Math.floor(i / w)];
        const greys = { centre: grey(x, y), around: [grey(x - 1, y), grey(x + 1, y), grey(x, y - 1), grey(x, y + 1)] };
        return coverage[i] * twins.fusionWeight(rgb(x, y), greys, exponents);
      },
      2e-4,
      3e-6,
    );
    expect([...kernels.f32(total, w * h)]).toEqual([...kernels.f32(weight, w * h)]);
  }
});

kernelTest("largestChannel", (scope) => {
  const planes = [floats(40), floats(40), floats(40)];
  const top = scope.floats(40);
  kernels.run("largestChannel", [...planes.map((p) => put(scope, p)), top], 0, 40, 8);
  closeTo(kernels.f32(top, 40), (i) => Math.max(...planes.map((p) => p[i])), 0);
});

kernelTest("judgeRows", (scope) => {
  for (const [w, h] of SIZES) {
    const top = floats(w * h, 0.7, 1);
    const coverage = Float32Array.from({ length: w * h }, (_, i) => Number(i % 5 > 0));
    for (const reach of [0, 1]) {
      const at = put(scope, coverage);
      kernels.run("judgeRows", [put(scope, top), w, h, reach, at], 0, h, 3);
      const near = (i: number) => {
        const [x, y] = [i % w, Math.floor(i / w)];
        return top.filter((_, j) => Math.abs((j % w) - x) <= reach && Math.abs(Math.floor(j / w) - y) <= reach);
      };
      closeTo(kernels.f32(at, w * h), (i) => coverage[i] * (twins.unclipped(Math.max(...near(i))) + 1e-7), 1e-5, 2e-8);
    }
  }
});

kernelTest("mergeRadiance", (scope) => {
  const n = 64;
  const exposures = [0.25, 1, 4];
  const values = exposures.map(() => floats(n));
  const validities = exposures.map(() => Float32Array.from({ length: n }, () => (random() < 0.2 ? 0 : random() < 0.3 ? 1e-7 : random())));
  const [table, valid] = [scope.bytes(12), scope.bytes(12)];
  kernels.u32(table, 3).set(values.map((v) => put(scope, v)));
  kernels.u32(valid, 3).set(validities.map((v) => put(scope, v)));
  const [out, index] = [scope.floats(n), scope.bytes(n)];
  const shares = exposures.map(() => scope.floats(n));
  const gives = scope.bytes(12);
  kernels.u32(gives, 3).set(shares);
  kernels.run("mergeRadiance", [3, table, valid, scope.matrix(exposures), 1e-4, 1e-6, out, index, gives], 0, n, 16);
  const wanted = Array.from({ length: n }, (_, i) =>
    twins.radiance(
      values.map((v) => v[i]),
      validities.map((v) => v[i]),
      exposures,
      1e-4,
      1e-6,
    ),
  );
  const got = kernels.f32(out, n);
  wanted.forEach(({ value }, i) =>
    Number.isNaN(value) ? expect(got[i]).toBeNaN() : expect(Math.abs(got[i] - value)).toBeLessThanOrEqual(1e-5 * Math.abs(value) + 1e-6),
  );
  wanted.forEach(({ value, index: k }, i) => !Number.isNaN(value) && expect(kernels.u8(index, n)[i]).toBe(k));
  shares.forEach((at, k) => wanted.forEach(({ value, shares: w }, i) => !Number.isNaN(value) && expect(kernels.f32(at, n)[i]).toBeCloseTo(w[k], 5)));
});

kernelTest("combineRepeats", (scope) => {
  const n = 64;
  const count = 9;
  // a common value with a little noise, and here and there something else or nothing at all
  const base = floats(n, 0.1, 0.9);
  const values = Array.from({ length: count }, () => base.map((v) => v + (random() - 0.5) * 0.02 + (random() < 0.1 ? 0.5 : 0)));
  const covered = Array.from({ length: count }, () => Float32Array.from({ length: n }, (_, i) => Number(i === 7 || random() > 0.15)));
  covered.forEach((c) => (c[3] = 0));
  const [table, coverages] = [scope.bytes(count * 4), scope.bytes(count * 4)];
  kernels.u32(table, count).set(values.map((v) => put(scope, v)));
  kernels.u32(coverages, count).set(covered.map((v) => put(scope, v)));
  const [out, index] = [scope.floats(n), scope.bytes(n)];
  const shares = values.map(() => scope.floats(n));
  const gives = scope.bytes(count * 4);
  kernels.u32(gives, count).set(shares);
  for (const mode of [0, 1, 2] as const) {
    kernels.run("combineRepeats", [count, table, coverages, mode, 3, 1e-5, 1e-6, out, index, gives], 0, n, 16);
    const got = kernels.f32(out, n).slice();
    for (let i = 0; i < n; i++) {
      const wanted = twins.repeats(
        values.map((v) => v[i]),
        covered.map((c) => c[i] > 0),
        mode,
        3,
        1e-5,
        1e-6,
      );
      expect(Math.abs(got[i] - wanted.value)).toBeLessThan(2e-6);
      // an even median lies as near to one frame as to the other
      const away = (k: number) => Math.abs(values[k][i] - wanted.value);
      if (i !== 3) expect(away(kernels.u8(index, n)[i])).toBeLessThanOrEqual(away(wanted.index) + 1e-6);
      // what each gave makes the result; of an even median one of the two in the middle gives all
      const parts = shares.map((at) => kernels.f32(at, n)[i]);
      if (i !== 3) expect(parts.reduce((a, b) => a + b, 0)).toBeCloseTo(1, 5);
      if (mode !== 1) expect(Math.abs(parts.reduce((sum, p, k) => sum + p * values[k][i], 0) - wanted.value)).toBeLessThan(2e-6);
    }
    expect(got[3]).toBe(0);
  }
});

kernelTest("gradeSamples", (scope) => {
  const planes = [floats(24, 0, 3), floats(24, 0, 3), floats(24, 0, 3)];
  for (const [contrast, pivot, chroma] of [
    [1.3, 0.18, 1.2],
    [1, 0.18, 0],
    [0.7, 0.4, 1],
  ]) {
    const at = planes.map((p) => put(scope, p));
    kernels.run("gradeSamples", [...at, contrast, pivot, chroma], 0, 24, 8);
    at.forEach((p, c) =>
      closeTo(
        kernels.f32(p, 24),
        (i) =>
          twins.grade(
            planes.map((q) => q[i]),
            contrast,
            pivot,
            chroma,
          )[c],
        5e-6,
        2e-6,
      ),
    );
  }
});

kernelTest("toneSamples", (scope) => {
  const planes = [floats(24, -0.1, 30), floats(24, 0, 30), floats(24, 0, 30)];
  const narrow = [1.66, -0.59, -0.07, -0.12, 1.13, -0.01, -0.02, -0.1, 1.12];
  for (const values of [
    { curve: 0, headroomEv: 4, shoulderEv: 2, toeEv: 6, toeLiftEv: 0 },
    { curve: 1, headroomEv: 5, shoulderEv: 2.5, toeEv: 5, toeLiftEv: 1.5 },
  ]) {
    const response = toneResponse(values);
    const at = planes.map((p) => put(scope, p));
    kernels.run("toneSamples", [...at, put(scope, toneTable(response)), LOWEST_OCTAVE, OCTAVES, scope.matrix(narrow)], 0, 24, 8);
    // the table is linear between 256 nodes an octave
    const wanted = (i: number) =>
      twins.tone(
        planes.map((q) => q[i]),
        response,
        narrow,
      );
    at.forEach((p, c) => closeTo(kernels.f32(p, 24), (i) => wanted(i)[c], 1e-5, 1e-6));
  }
});

kernelTest("localToneRows", (scope) => {
  for (const [w, h] of SIZES) {
    const planes = [floats(w * h, 0, 4), floats(w * h, 0.001, 4), floats(w * h, 0, 4)];
    const [cw, ch] = [(w + 1) >> 1, (h + 1) >> 1];
    const [slope, offset] = [floats(cw * ch), floats(cw * ch, -3, 1)];
    const at = planes.map((p) => put(scope, p));
    const parameters = [0.26, 0.68, 0.06, 0.6, -2.5, -6, 1, 1e-5, 0.5];
    kernels.run("localToneRows", [...at, w, 3, 2, put(scope, slope), put(scope, offset), cw, ch, scope.matrix(parameters)], 0, h, 3);
    const wanted = (i: number) =>
      twins.localTone(
        planes.map((p) => p[i]),
        (plane) => twins.coarse(plane === 0 ? slope : offset, cw, ch, ((i % w) + 3.5) / 2 - 0.5, (Math.floor(i / w) + 2.5) / 2 - 0.5),
        parameters,
      );
    at.forEach((p, c) => closeTo(kernels.f32(p, w * h), (i) => wanted(i)[c], 2e-5, 1e-6));
  }
});

kernelTest("blendSamples", (scope) => {
  const [base, top, alpha] = [floats(32, 0, 2), floats(32, 0, 2), floats(32)];
  alpha.fill(0, 0, 8);
  for (const mode of ["normal", "lighten"] as const) {
    const at = put(scope, base);
    kernels.run("blendSamples", [at, put(scope, top), put(scope, alpha), 0.8, mode === "lighten" ? 1 : 0], 0, 32, 8);
    closeTo(kernels.f32(at, 32), (i) => twins.blend(base[i], top[i], alpha[i] * Math.fround(0.8), mode), 3e-6, 1e-6);
    expect([...kernels.f32(at, 8)]).toEqual([...base.subarray(0, 8)]);
  }
});

kernelTest("encodeSamples", (scope) => {
  const src = floats(64, -0.1, 1.2);
  const out = scope.floats(64);
  kernels.run("encodeSamples", [put(scope, src), out, 65535], 0, 64, 16);
  closeTo(kernels.f32(out, 64), (i) => Math.round(65535 * Math.min(1, encodeSrgb(Math.max(0, src[i])))), 0, 1);
});

kernelTest("decodeSamples", (scope) => {
  const src = floats(64, -0.1, 1.5);
  const out = scope.floats(64);
  kernels.run("decodeSamples", [put(scope, src), out], 0, 64, 16);
  closeTo(kernels.f32(out, 64), (i) => decodeSrgb(Math.max(0, src[i])), 2e-6);
});

kernelTest("encodeRows8", (scope) => {
  const [w, h] = [11, 5];
  const planes = [floats(w * h + 8, 0, 1), floats(w * h + 8, 0, 1), floats(w * h + 8, 0, 1)];
  const bayer = put(scope, new Float32Array(128).fill(0.5));
  const out = scope.bytes(w * h * 4 + 64);
  const identity = scope.matrix([1, 0, 0, 0, 1, 0, 0, 0, 1]);
  kernels.run("encodeRows8", [...planes.map((p) => put(scope, p)), identity, bayer, out, w, 0, 0], 0, h, 2);
  const got = kernels.u8(out, w * h * 4);
  for (let i = 0; i < w * h; i++) {
    for (let c = 0; c < 3; c++) expect(Math.abs(got[i * 4 + c] - Math.round(255 * encodeSrgb(planes[c][i])))).toBeLessThanOrEqual(1);
    expect(got[i * 4 + 3]).toBe(255);
  }
});

kernelTest("stampDisc", (scope) => {
  const [w, h] = [20, 16];
  const acc = floats(w * h, 0, 0.5);
  const at = put(scope, acc);
  kernels.stampDisc(at, w, h, 7.3, 9.1, 6.5, 2, 0.4);
  closeTo(kernels.f32(at, w * h), (i) => twins.stamp(acc[i], Math.hypot((i % w) - 7.3, Math.floor(i / w) - 9.1), 6.5, 2, 0.4), 3e-6);
});

it("tests every kernel that ships", async () => {
  const module = await WebAssembly.compile(readFileSync("public/wasm/kernels.wasm"));
  const names = WebAssembly.Module.exports(module)
    .filter((e) => e.kind === "function")
    .map((e) => e.name);
  expect([...tested].sort()).toEqual(names.sort());
});

it("gives the same samples however the rows are cut", () => {
  kernels.withScope((scope) => {
    const [w, h] = [64, 48];
    const src = put(scope, floats(w * h));
    const outs = [1, 7, 64].map((grain) => {
      const out = scope.floats(32 * 24 + 16);
      kernels.run("reduceRows", [src, w, h, out, 32], 0, 24, grain);
      return [...kernels.f32(out, 32 * 24)];
    });
    expect(outs[1]).toEqual(outs[0]);
    expect(outs[2]).toEqual(outs[0]);
  });
});

it("keeps the arena tidy: everything allocated is released", () => {
  const before = kernels.arena.inUse;
  kernels.withScope((scope) => scope.floats(1_000_000));
  expect(() =>
    kernels.withScope(() => {
      throw new Error("stop");
    }),
  ).toThrow("stop");
  expect(kernels.arena.inUse).toBe(before);
  expect(() => invert([1, 2, 3, 2, 4, 6, 0, 0, 1])).toThrow(RangeError);
});
