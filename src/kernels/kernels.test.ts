/** Every kernel against its plain twin, over odd sizes and borders. Tolerances: float32 sums, and 3e-7 of the curve polynomials. */
import { loadKernels, randomOf } from "../../tests/support/kernels";
import { lightTable, LOWEST_OCTAVE, OCTAVES, toneResponse, toneTable } from "../core/color/toneCurve";
import { BLEND_INS, BLEND_MODES } from "../core/blend/blendModes";
import { fromOklab, OKLAB, toOklab } from "../core/color/oklab";
import { LUMINANCE } from "../core/color/primaries";
import { decodeSrgb, encodeSrgb } from "../core/color/srgbCurve";
import { distort } from "../core/geometry/lens";
import { invert, project } from "../core/geometry/matrix3";
import { guidedCoefficients } from "../core/raster/blur";
import { boxMean } from "../core/raster/boxMean";
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

kernelTest("halveBytes", (scope) => {
  for (const [w, h] of SIZES) {
    const [dw, dh] = [(w + 1) >> 1, (h + 1) >> 1];
    const [src, out] = [scope.bytes(w * h + 64), scope.bytes(dw * dh + 64)];
    const samples = kernels.u8(src, w * h);
    samples.forEach((_, i) => (samples[i] = random() * 256));
    kernels.run("halveBytes", [src, w, h, out, dw], 0, dh, 3);
    closeTo(kernels.u8(out, dw * dh), (i) => twins.halveInteger(samples, w, h, i % dw, Math.floor(i / dw)), 0);
  }
});

kernelTest("halveSamples", (scope) => {
  for (const [w, h] of SIZES) {
    const [dw, dh] = [(w + 1) >> 1, (h + 1) >> 1];
    const [src, out] = [scope.bytes(w * h * 2 + 64), scope.bytes(dw * dh * 2 + 64)];
    const samples = kernels.u16(src, w * h);
    samples.forEach((_, i) => (samples[i] = i % 7 ? random() * 65536 : 65535));
    kernels.run("halveSamples", [src, w, h, out, dw], 0, dh, 3);
    closeTo(kernels.u16(out, dw * dh), (i) => twins.halveInteger(samples, w, h, i % dw, Math.floor(i / dw)), 0);
  }
});

kernelTest("measureCells", (scope) => {
  for (const [w, h] of SIZES) {
    const size = 4;
    const [columns, rows] = [Math.ceil(w / size), Math.ceil(h / size)];
    const planes = [0, 1, 2].map(() => floats(w * h));
    const coverage = floats(w * h).map((_, i) => (i % 23 ? 1 : 0));
    const out = scope.floats(columns * rows * 8 + 16);
    kernels.run("measureCells", [...planes.map((p) => put(scope, p)), put(scope, coverage), w, h, size, columns, out], 0, rows, 2);
    closeTo(
      kernels.f32(out, columns * rows * 8),
      (i) => twins.cellOf(planes, coverage, w, h, size, (i >> 3) % columns, Math.floor((i >> 3) / columns))[i & 7],
      2e-6,
    );
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

kernelTest("convolveRows", (scope) => {
  for (const [w, h] of SIZES) {
    for (const weights of [
      [0.5, 0.25],
      [0.3, 0.2, 0.1, 0.03, 0.015, 0.005],
    ]) {
      const src = floats(w * h);
      const out = scope.floats(w * h + 16);
      kernels.run("convolveRows", [put(scope, src), w, h, put(scope, weights), weights.length - 1, out], 0, h, 3);
      closeTo(kernels.f32(out, w * h), (i) => twins.convolve(src, w, h, weights, i % w, Math.floor(i / w)), 3e-6);
    }
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

kernelTest("accumulateBands", (scope) => {
  for (const [w, h] of SIZES) {
    const [cw, ch] = [(w + 1) >> 1, (h + 1) >> 1];
    const acc = floats(w * h);
    const pictures = [0, 1, 2].map(() => ({ fine: floats(w * h), coarse: floats(cw * ch), weight: floats(w * h) }));
    const bands = scope.addresses(pictures.flatMap(({ fine, coarse, weight }) => [put(scope, fine), put(scope, coarse), put(scope, weight)]));
    const band = (i: number) =>
      pictures.reduce((sum, { fine, coarse, weight }) => sum + weight[i] * (fine[i] - twins.expand(coarse, cw, ch, i % w, Math.floor(i / w))), 0);
    for (const fresh of [0, 1]) {
      const at = put(scope, fresh ? acc.map(() => NaN) : acc);
      kernels.run("accumulateBands", [pictures.length, bands, w, h, cw, ch, at, fresh], 0, h, 5);
      closeTo(kernels.f32(at, w * h), (i) => (fresh ? 0 : acc[i]) + band(i), 4e-6, 4e-6);
    }
  }
});

kernelTest("accumulateProduct", (scope) => {
  const [a, b, c] = [floats(37), floats(37), floats(37)];
  for (const fresh of [0, 1]) {
    const at = put(scope, fresh ? c.map(() => NaN) : c);
    kernels.run("accumulateProduct", [put(scope, a), put(scope, b), at, fresh], 0, 37, 10);
    closeTo(kernels.f32(at, 37), (i) => (fresh ? 0 : c[i]) + a[i] * b[i], 1e-6);
  }
});

kernelTest("shareWeights", (scope) => {
  const n = 32;
  const weights = [floats(n), floats(n), floats(n)];
  weights.forEach((w) => (w[4] = 0));
  const at = weights.map((w) => put(scope, w));
  const [table, index] = [scope.bytes(12), scope.bytes(n)];
  kernels.u32(table, 3).set(at);
  kernels.run("shareWeights", [3, table, index], 0, n, 8);
  const all = (i: number) => weights.map((w) => w[i]);
  const sum = (i: number) => all(i).reduce((a, b) => a + b, 0);
  at.forEach((p, k) => closeTo(kernels.f32(p, n), (i) => (sum(i) > 0 ? weights[k][i] / sum(i) : 0), 1e-6));
  for (let i = 0; i < n; i++) expect(kernels.u8(index, n)[i]).toBe(all(i).indexOf(Math.max(...all(i))));
});

kernelTest("unitBytes", (scope) => {
  const [src, out] = [scope.bytes(256), scope.floats(256)];
  kernels.u8(src, 251).set(Uint8Array.from({ length: 251 }, (_, i) => i + 5));
  kernels.run("unitBytes", [src, out], 0, 251, 100);
  for (let i = 0; i < 251; i++) expect(kernels.f32(out, 251)[i]).toBe(Math.fround((i + 5) * Math.fround(1 / 255)));
});

kernelTest("unitSamples", (scope) => {
  // every code there is: those of 8-bit sources become what unitBytes makes of them
  const [src, out] = [scope.bytes(65536 * 2), scope.floats(65536)];
  kernels.u16(src, 65536).set(Uint16Array.from({ length: 65536 }, (_, i) => i));
  kernels.run("unitSamples", [src, out], 0, 65535, 1003);
  const got = kernels.f32(out, 65535);
  for (let v = 0; v < 65535; v++)
    if (got[v] !== Math.fround(v % 257 === 0 ? (v / 257) * Math.fround(1 / 255) : v / 65535)) throw new Error(`Code ${v}: ${got[v]}`);
  expect(got[257]).toBe(Math.fround(1 / 255));
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

kernelTest("shareRows", (scope) => {
  for (const [w, h] of SIZES) {
    const plane = floats(w * h, -0.01, 1.01);
    const [columns, rows] = [Math.ceil(w / 4), Math.ceil(h / 4)];
    const out = scope.bytes(columns * rows + 16);
    kernels.run("shareRows", [put(scope, plane), w, h, out], 0, rows, 2);
    const mean = (cx: number, cy: number) => {
      const inside = [...plane.keys()].filter((i) => Math.floor((i % w) / 4) === cx && Math.floor(i / w / 4) === cy);
      return inside.reduce((sum, i) => sum + plane[i], 0) / inside.length;
    };
    // half a step more where a mean lies between two codes
    closeTo(kernels.u8(out, columns * rows), (i) => Math.min(255, Math.max(0, 255 * mean(i % columns, Math.floor(i / columns)))), 0, 0.501);
  }
});

kernelTest("luminanceSamples", (scope) => {
  const planes = [floats(24), floats(24), floats(24)];
  planes.forEach((p) => (p[3] = 0));
  const out = scope.floats(24);
  const weights = [0.2627, 0.678, 0.0593];
  kernels.run("luminanceSamples", [...planes.map((p) => put(scope, p)), scope.matrix(weights), out], 0, 24, 8);
  closeTo(
    kernels.f32(out, 24),
    (i) =>
      Math.max(
        1e-6,
        weights.reduce((sum, w, c) => sum + w * planes[c][i], 0),
      ),
    1e-6,
  );
});

kernelTest("edgeRows", (scope) => {
  for (const [w, h] of SIZES) {
    const light = floats(w * h, 0.2, 1).map((v, i) => (i % 3 ? 0.5 + v / 9 : v));
    const kinds = scope.bytes(w * h + 16);
    kernels.run("edgeRows", [put(scope, light), w, h, 2, 1.4, kinds], 0, h, 3);
    const wanted = Array.from({ length: w * h }, (_, i) => twins.edgeKind(light, w, h, i % w, Math.floor(i / w), 2, 1.4));
    expect([...kernels.u8(kinds, w * h)]).toEqual(wanted);
  }
});

kernelTest("supportedEdgeRows", (scope) => {
  for (const [w, h] of [...SIZES, [70, 11]]) {
    const kinds = Uint8Array.from({ length: w * h }, () => Math.floor(random() * 3));
    const [src, out] = [scope.bytes(w * h + 16), scope.bytes(w * h + 16)];
    kernels.u8(src, w * h).set(kinds);
    kernels.run("supportedEdgeRows", [src, w, h, 3, 16, out], 0, h, 4);
    const evens = (x: number, y: number) => kinds.filter((k, j) => k === 1 && Math.abs((j % w) - x) <= 3 && Math.abs(Math.floor(j / w) - y) <= 3).length;
    const wanted = Array.from(kinds, (k, i) => (k === 2 && evens(i % w, Math.floor(i / w)) < 16 ? 0 : k));
    expect([...kernels.u8(out, w * h)]).toEqual(wanted);
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
        return Math.round(twins.sampleCode((x, y) => pixels[(y * sw + x) * 4 + c], sw, sh, u, v));
      },
      0,
      1.01,
    );
  }
});

kernelTest("fillRows", (scope) => {
  for (const [w, h] of SIZES) {
    for (const reach of [3, w]) {
      const src = floats(w * h, -1, 1).map((v) => (random() < 0.6 ? NaN : v));
      const at = put(scope, src);
      kernels.run("fillRows", [at, w, reach], 0, h, 2);
      const wanted = Array.from({ length: h }, (_, y) => twins.filled(src.subarray(y * w, (y + 1) * w), reach)).flat();
      closeTo(kernels.f32(at, w * h), (i) => wanted[i], 1e-6, 1e-6);
    }
  }
});

kernelTest("coverNumbers", (scope) => {
  const src = floats(24).map((v, i) => (i % 5 === 0 ? NaN : v));
  const coverage = put(scope, new Float32Array(24).fill(1));
  kernels.run("coverNumbers", [put(scope, src), coverage], 0, 24, 8);
  closeTo(kernels.f32(coverage, 24), (i) => (Number.isNaN(src[i]) ? 0 : 1), 0, 0);
});

kernelTest("warpFloatRows", (scope) => {
  const [sw, sh, w, h] = [19, 17, 15, 13];
  // below zero here and there: both rules are met
  const src = floats(sw * sh, 0, 1).map((v, i) => (i % 29 === 3 ? v - 1 : v));
  const matrix = [0.99, 0.1, 0.3, -0.1, 0.99, 1.2, 1e-4, -2e-4, 1];
  const lens = { k1: 0.04, k2: -0.02 };
  const parameters = [...matrix, lens.k1, lens.k2, (sw - 1) / 2, (sh - 1) / 2, 4 / (sw * sw + sh * sh)];
  const out = scope.floats(w * h);
  kernels.run("warpFloatRows", [put(scope, src), sw, sh, 0, 0, scope.doubles(parameters), out, 0, w, 0], 0, h, 4);
  closeTo(
    kernels.f32(out, w * h),
    (i) => {
      const [u, v] = distort(lens, { width: sw, height: sh }, ...project(matrix, i % w, Math.floor(i / w)));
      return twins.sampleLight((x, y) => src[y * sw + x], sw, sh, u, v);
    },
    2e-6,
    2e-6,
  );
});

kernelTest("fusionWeightRows", (scope) => {
  for (const [w, h] of SIZES) {
    for (const exponents of [
      [1, 1, 1],
      [0, 1, 0],
      [0.5, 2, 1.5],
    ]) {
      const planes = [0, 1, 2].map(() => floats(w * h));
      const coverage = Float32Array.from({ length: w * h }, () => (random() > 0.1 ? 1 : 0));
      const weight = put(scope, new Float32Array(w * h));
      kernels.run("fusionWeightRows", [...planes.map((p) => put(scope, p)), w, h, put(scope, coverage), weight, ...exponents], 0, h, 4);
      const mirror = (i: number, n: number) => Math.min(n - 1, Math.max(0, i < 0 ? -i : i >= n ? 2 * n - 2 - i : i));
      const rgb = (x: number, y: number) => planes.map((p) => p[mirror(y, h) * w + mirror(x, w)]);
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
    }
  }
});

kernelTest("judgeRows", (scope) => {
  for (const [w, h] of SIZES) {
    const planes = [floats(w * h, 0.7, 1), floats(w * h, 0.7, 1), floats(w * h, 0.7, 1)];
    const top = planes[0].map((_, i) => Math.max(...planes.map((p) => p[i])));
    const coverage = Float32Array.from({ length: w * h }, (_, i) => Number(i % 5 > 0));
    for (const reach of [0, 1]) {
      const at = put(scope, coverage);
      kernels.run("judgeRows", [...planes.map((p) => put(scope, p)), w, h, reach, at], 0, h, 3);
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
  const values = exposures.map(() => [floats(n), floats(n), floats(n)]);
  const validities = exposures.map(() => Float32Array.from({ length: n }, () => (random() < 0.2 ? 0 : random() < 0.3 ? 1e-7 : random())));
  // four samples beside each other that all are known, and four that are not
  validities.forEach((v, k) =>
    v
      .fill(0.6, 8, 12)
      .fill(1e-7, 16, 20)
      .fill(0, 20, 24)
      .fill(k ? 1e-7 : 0, 24, 28),
  );
  const table = (addresses: number[]) => {
    const at = scope.bytes(addresses.length * 4);
    kernels.u32(at, addresses.length).set(addresses);
    return at;
  };
  const at = table(values.flat().map((v) => put(scope, v)));
  const valid = table(validities.map((v) => put(scope, v)));
  const outs = [scope.floats(n), scope.floats(n), scope.floats(n)];
  const index = scope.bytes(n);
  const shares = exposures.map(() => scope.floats(n));
  kernels.run("mergeRadiance", [3, at, valid, scope.matrix(exposures), 1e-4, 1e-6, ...outs, index, table(shares)], 0, n, 16);
  outs.forEach((out, c) => {
    const got = kernels.f32(out, n);
    for (let i = 0; i < n; i++) {
      const wanted = twins.radiance(
        values.map((v) => v[c][i]),
        validities.map((v) => v[i]),
        exposures,
        1e-4,
        1e-6,
        values.map((v) => Math.max(v[0][i], v[1][i], v[2][i])),
      );
      if (Number.isNaN(wanted.value)) {
        expect(got[i]).toBeNaN();
        continue;
      }
      expect(Math.abs(got[i] - wanted.value)).toBeLessThanOrEqual(1e-5 * Math.abs(wanted.value) + 1e-6);
      if (c !== 1) continue;
      expect(kernels.u8(index, n)[i]).toBe(wanted.index);
      shares.forEach((share, k) => expect(kernels.f32(share, n)[i]).toBeCloseTo(wanted.shares[k], 5));
    }
  });
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
    // without a table everything is covered
    kernels.run("combineRepeats", [count, table, 0, mode, 3, 1e-5, 1e-6, out, index, gives], 0, n, 16);
    const whole = twins.repeats(
      values.map((v) => v[9]),
      values.map(() => true),
      mode,
      3,
      1e-5,
      1e-6,
    );
    expect(Math.abs(kernels.f32(out, n)[9] - whole.value)).toBeLessThan(2e-6);
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
      // of an even median one of the two in the middle gives all
      const parts = shares.map((at) => kernels.f32(at, n)[i]);
      if (i !== 3) expect(parts.reduce((a, b) => a + b, 0)).toBeCloseTo(1, 5);
      if (i !== 3 && mode !== 1) parts.forEach((p, k) => expect(p).toBeCloseTo(wanted.shares[k], 5));
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

kernelTest("layOver", (scope) => {
  for (const [number, mode] of BLEND_MODES.entries()) {
    for (const [isolated, blendIn] of [false, true].flatMap((i) => BLEND_INS.map((b) => [i, b] as const))) {
      const base = [floats(32, 0, 1.3), floats(32, 0, 1.3), floats(32, 0, 1.3)];
      const top = [floats(32, 0, 1.3), floats(32, 0, 1.3), floats(32, 0, 1.3)];
      const [alpha, below] = [floats(32), floats(32)];
      alpha.fill(0, 0, 8);
      const at = base.map((p) => put(scope, p));
      const under = isolated ? put(scope, below) : 0;
      kernels.run("layOver", [...at, under, ...top.map((p) => put(scope, p)), put(scope, alpha), 0.8, number, blendIn === "light" ? 1 : 0], 0, 32, 8);
      const pick = (planes: Float32Array[], i: number) => planes.map((p) => p[i]);
      const wanted = (i: number) => twins.layOver(mode, blendIn, pick(base, i), isolated ? below[i] : 1, pick(top, i), alpha[i] * Math.fround(0.8));
      at.forEach((p, c) => closeTo(kernels.f32(p, 32), (i) => wanted(i).light[c], 2e-5, 2e-6));
      if (isolated) closeTo(kernels.f32(under, 32), (i) => wanted(i).alpha, 1e-6);
      expect([...kernels.f32(at[0], 8)]).toEqual([...base[0].subarray(0, 8)]);
    }
  }
});

kernelTest("multiplySamples", (scope) => {
  const [plane, factor] = [floats(32, -1, 1), floats(32, 0, 2)];
  const at = put(scope, plane);
  kernels.run("multiplySamples", [at, put(scope, factor)], 0, 32, 8);
  closeTo(kernels.f32(at, 32), (i) => plane[i] * factor[i], 1e-7, 1e-9);
});

kernelTest("lightSamples", (scope) => {
  const planes = [floats(24, 0, 4), floats(24, 0.001, 4), floats(24, 0, 4)];
  const response = (light: number) => light ** 1.2;
  const at = planes.map((p) => put(scope, p));
  kernels.run("lightSamples", [...at, put(scope, toneTable(response)), LOWEST_OCTAVE, OCTAVES], 0, 24, 8);
  const light = (i: number) => LUMINANCE.reduce((sum, w, c) => sum + w * planes[c][i], 0);
  // the table is linear between 256 nodes an octave
  at.forEach((p, c) => closeTo(kernels.f32(p, 24), (i) => (planes[c][i] * response(light(i))) / light(i), 1e-5, 1e-6));
});

kernelTest("logLightSamples", (scope) => {
  const planes = [floats(24, -0.1, 4), floats(24, 0, 4), floats(24, 0, 4)];
  const out = scope.floats(40);
  kernels.run("logLightSamples", [...planes.map((p) => put(scope, p)), out, 1e-5], 0, 24, 8);
  const light = (i: number) => LUMINANCE.reduce((sum, w, c) => sum + w * planes[c][i], 0);
  closeTo(kernels.f32(out, 24), (i) => Math.log2(Math.max(1e-5, light(i))), 1e-6, 3e-6);
});

kernelTest("brightenSamples", (scope) => {
  const planes = [floats(24, 0, 4), floats(24, 0, 4), floats(24, 0, 4)];
  const ev = floats(24, -5, 5);
  const at = planes.map((p) => put(scope, p));
  kernels.run("brightenSamples", [...at, put(scope, ev)], 0, 24, 8);
  at.forEach((p, c) => closeTo(kernels.f32(p, 24), (i) => planes[c][i] * 2 ** ev[i], 1e-6));
});

kernelTest("oklabSamples", (scope) => {
  const planes = [floats(24, -0.1, 3), floats(24, 0, 3), floats(24, 0, 3)];
  planes.forEach((p) => (p[5] = 0));
  const at = planes.map((p) => put(scope, p));
  kernels.run("oklabSamples", [...at, scope.matrix(OKLAB.in.into), scope.matrix(OKLAB.in.out)], 0, 24, 8);
  const lab = new Float64Array(3);
  const wanted = (i: number) => (toOklab(planes[0][i], planes[1][i], planes[2][i], lab), lab);
  at.forEach((p, c) => closeTo(kernels.f32(p, 24), (i) => wanted(i)[c], 1e-6, 3e-6));
});

kernelTest("lightOfOklab", (scope) => {
  const planes = [floats(24, 0, 1), floats(24, -0.3, 0.3), floats(24, -0.3, 0.3)];
  const at = planes.map((p) => put(scope, p));
  kernels.run("lightOfOklab", [...at, scope.matrix(OKLAB.back.into), scope.matrix(OKLAB.back.out)], 0, 24, 8);
  const rgb = new Float64Array(3);
  const wanted = (i: number) => (fromOklab(planes[0][i], planes[1][i], planes[2][i], rgb), rgb);
  at.forEach((p, c) => closeTo(kernels.f32(p, 24), (i) => Math.max(0, wanted(i)[c]), 1e-5, 1e-5));
});

kernelTest("tableSamples", (scope) => {
  const plane = floats(40, -0.1, 3);
  const at = put(scope, plane);
  const response = (light: number) => 0.2 + light ** 0.7;
  kernels.run("tableSamples", [at, put(scope, lightTable(response)), LOWEST_OCTAVE, OCTAVES], 0, 40, 16);
  // the table is linear between 256 nodes an octave
  closeTo(kernels.f32(at, 40), (i) => response(Math.max(0, plane[i])), 1e-5, 1e-5);
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
  for (const plane of planes) plane[17] = NaN;
  const bayer = put(scope, new Float32Array(128).fill(0.5));
  const out = scope.bytes(w * h * 4 + 64);
  const identity = scope.matrix([1, 0, 0, 0, 1, 0, 0, 0, 1]);
  kernels.run("encodeRows8", [...planes.map((p) => put(scope, p)), identity, bayer, out, w, 0, 0], 0, h, 2);
  const got = kernels.u8(out, w * h * 4);
  for (let i = 0; i < w * h; i++) {
    if (i === 17) {
      expect(got[i * 4 + 3]).toBe(0);
      continue;
    }
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

/** Nodes every 8 px over w×h px, of a smooth map, and the map between them as the kernels take it. */
function gridOver(w: number, h: number, map: (x: number, y: number) => number[]) {
  const [columns, rows] = [Math.ceil(w / 8) + 1, Math.ceil(h / 8) + 1];
  const nodes = Array.from({ length: columns * rows }, (_, i) => map((i % columns) * 8, Math.floor(i / columns) * 8));
  const between = (x: number, y: number, k: number) => {
    const [i, j] = [Math.floor(x / 8), Math.floor(y / 8)];
    const [a, b] = [x / 8 - i, y / 8 - j];
    const at = (u: number, v: number) => nodes[v * columns + u][k];
    return (at(i, j) * (1 - a) + at(i + 1, j) * a) * (1 - b) + (at(i, j + 1) * (1 - a) + at(i + 1, j + 1) * a) * b;
  };
  return { columns, values: Float32Array.from(nodes.flat()), between };
}
const BENT = (x: number, y: number) => [x * 1.07 - 3 + 0.002 * y * y, y * 0.9 + 1.3 + 0.05 * x];

kernelTest("warpGridRows", (scope) => {
  const [sw, sh, w, h] = [31, 23, 30, 21];
  const pixels = Uint16Array.from({ length: sw * sh * 4 }, () => Math.floor(random() * 65536));
  const src = scope.bytes(pixels.length * 2 + 64);
  kernels.u16(src, pixels.length).set(pixels.map((v) => v ^ 0x8000));
  const grid = gridOver(w, h, (x, y) => BENT(x, y).map((v, k) => v + (k ? 2 : 5)));
  const out = scope.bytes(w * h * 6 + 64);
  // the window begins at (5, 2) of the source
  kernels.run("warpGridRows", [src, sw, sh, 5, 2, put(scope, grid.values), grid.columns, out, w * h, w, 0], 0, h, 4);
  for (let c = 0; c < 3; c++) {
    closeTo(
      kernels.u16(out + c * w * h * 2, w * h),
      (i) => {
        const [x, y] = [i % w, Math.floor(i / w)];
        return twins.sampleCode((u, v) => pixels[(v * sw + u) * 4 + c], sw, sh, grid.between(x, y, 0) - 5, grid.between(x, y, 1) - 2);
      },
      0,
      // four weights rounded to 1/8192, at most half of that each, on differences of up to the whole range, then rounding: 18; and on
      // each axis places rounded to 1/4096, at most half of that, where slopes are at most 1.5 ranges a px and 1.25 by the other axis
      18 + (2 * 65535 * 1.5 * 1.25) / 8192,
    );
  }
});

kernelTest("warpFloatGridRows", (scope) => {
  const [sw, sh, w, h] = [19, 17, 15, 13];
  const src = floats(sw * sh);
  const grid = gridOver(w, h, BENT);
  const out = scope.floats(w * h);
  kernels.run("warpFloatGridRows", [put(scope, src), sw, sh, 0, 0, put(scope, grid.values), grid.columns, out, w, 0], 0, h, 4);
  closeTo(
    kernels.f32(out, w * h),
    (i) => {
      const [x, y] = [i % w, Math.floor(i / w)];
      return twins.sampleLight((u, v) => src[v * sw + u], sw, sh, grid.between(x, y, 0), grid.between(x, y, 1));
    },
    2e-5,
    2e-5,
  );
});

kernelTest("gainGridRows", (scope) => {
  const [w, h] = [21, 19];
  const planes = [0, 1, 2].map(() => floats(w * h));
  const at = planes.map((p) => put(scope, p));
  const grid = gridOver(w, h, (x, y) => [1 + 0.01 * x + 0.02 * y]);
  kernels.run("gainGridRows", [...at, w, put(scope, grid.values), grid.columns, 0], 0, h, 5);
  at.forEach((p, c) => closeTo(kernels.f32(p, w * h), (i) => planes[c][i] * grid.between(i % w, Math.floor(i / w), 0), 2e-6));
});

for (const [name, type, sign] of [
  ["interleaveBytes", Uint8Array, 0x8000],
  ["interleaveSamples", Uint16Array, 0x8000],
  ["rgbxOfBytes", Uint8Array, 0],
  ["rgbxOfSamples", Uint16Array, 0],
] as const) {
  kernelTest(name, (scope) => {
    const n = 48;
    const top = type === Uint8Array ? 256 : 65536;
    const planes = [0, 1, 2].map(() => new type(Array.from({ length: n }, () => Math.floor(random() * top))));
    const at = planes.map((p) => {
      const to = scope.bytes(p.byteLength);
      kernels.u8(to, p.byteLength).set(new Uint8Array(p.buffer));
      return to;
    });
    const out = scope.bytes(n * 8);
    kernels.run(name, [...at, out], 0, n, 16);
    const got = kernels.u16(out, n * 4);
    const scale = type === Uint8Array ? 257 : 1;
    for (let i = 0; i < n; i++) for (let c = 0; c < 3; c++) expect(got[i * 4 + c] ^ sign).toBe(planes[c][i] * scale);
  });
}

kernelTest("productRows", (scope) => {
  const [n, m] = [5, 7];
  const codes = (rows: number) => Int16Array.from({ length: rows * 128 }, () => Math.floor(random() * 5000) - 1000);
  const [a, b] = [codes(n), codes(m)];
  const [left, right] = [a, b].map((rows) => {
    const at = scope.bytes(rows.byteLength);
    kernels.u16(at, rows.length).set(rows);
    return at;
  });
  const out = scope.floats(n * m);
  kernels.run("productRows", [left, right, m, 1e-6, out], 0, n, 2);
  closeTo(
    kernels.f32(out, n * m),
    (i) => {
      let sum = 0;
      for (let k = 0; k < 128; k++) sum += a[Math.floor(i / m) * 128 + k] * b[(i % m) * 128 + k];
      return sum * 1e-6;
    },
    1e-6,
    1e-6,
  );
});

kernelTest("maskRows", (scope) => {
  const [lw, h, x, w] = [50, 6, 7, 37];
  const labels = Uint8Array.from({ length: lw * h }, () => Math.floor(random() * 3) * 100);
  const at = scope.bytes(labels.length + 16);
  kernels.u8(at, labels.length).set(labels);
  const out = scope.floats(w * h);
  kernels.run("maskRows", [at, lw, x, 200, out, w], 0, h, 2);
  closeTo(kernels.f32(out, w * h), (i) => (labels[Math.floor(i / w) * lw + x + (i % w)] === 200 ? 1 : 0), 0, 0);
});

kernelTest("addRows", (scope) => {
  const [w, dw, x, from, rows] = [13, 20, 5, 3, 4];
  const [src, dst] = [floats(w * (rows + from)), floats(dw * rows)];
  const at = put(scope, dst);
  kernels.run("addRows", [put(scope, src), w, from, at, dw, x], 0, rows, 2);
  closeTo(
    kernels.f32(at, dw * rows),
    (i) => {
      const [u, y] = [(i % dw) - x, Math.floor(i / dw)];
      return dst[i] + (u >= 0 && u < w ? src[(y + from) * w + u] : 0);
    },
    1e-6,
  );
});

kernelTest("rootSamples", (scope) => {
  const values = floats(16, -2, 3);
  const at = put(scope, values);
  kernels.run("rootSamples", [at], 0, 16, 4);
  closeTo(kernels.f32(at, 16), (i) => Math.sign(values[i]) * Math.sqrt(Math.abs(values[i])), 1e-6);
});

kernelTest("squareSamples", (scope) => {
  const values = floats(16, -2, 3);
  const at = put(scope, values);
  kernels.run("squareSamples", [at], 0, 16, 4);
  closeTo(kernels.f32(at, 16), (i) => values[i] * Math.abs(values[i]), 1e-6);
});

kernelTest("boxAcrossRows", boxes);
kernelTest("boxDownColumns", boxes);

/** Both in turn are the mean over squares, to the last bit. */
function boxes(scope: Scope): void {
  for (const [width, height] of SIZES) {
    for (const radius of [0, 1, 3, 30]) {
      const data = floats(width * height);
      const [at, across] = [put(scope, data), scope.floats(width * height + 16)];
      kernels.run("boxAcrossRows", [at, width, across, radius], 0, height, 3);
      kernels.run("boxDownColumns", [across, width, height, at, radius], 0, width, 7);
      expect(kernels.f32(at, width * height)).toEqual(boxMean({ width, height, data }, radius));
    }
  }
}

kernelTest("guideRows", guided);
kernelTest("guidedRows", guided);

function guided(scope: Scope): void {
  for (const [width, height] of SIZES) {
    for (const radius of [1, 3, 30]) {
      const [data, plane] = [floats(width * height), floats(width * height)];
      const [guide, other] = [put(scope, data), put(scope, plane)];
      const [slope, offset, out] = [0, 1, 2].map(() => scope.floats(width * height + 16));
      const wanted = guidedCoefficients({ width, height, data }, plane, radius, 0.05);
      kernels.run("guideRows", [guide, other, width, height, radius, 0.05, slope, offset], 0, height, 5);
      kernels.run("guidedRows", [slope, offset, width, height, radius, guide, out, 0], 0, height, 5);
      // the twin rounds its means to f32 before they are taken from each other: 6e-8 of 1 over the variance of 0.05
      closeTo(kernels.f32(out, width * height), (i) => wanted.slope[i] * data[i] + wanted.offset[i], 1e-5, 1e-5);
      kernels.run("guidedRows", [slope, offset, width, height, radius, 0, out, other], 0, height, 5);
      closeTo(kernels.f32(out, width * height), (i) => wanted.slope[i], 1e-5, 1e-5);
      closeTo(kernels.f32(other, width * height), (i) => wanted.offset[i], 1e-5, 1e-5);
    }
  }
}

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
