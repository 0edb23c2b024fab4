/** Blur and guided filter against OpenCV, Oklab against colorjs.io. */
import Color from "colorjs.io";
import { mkdtempSync, readFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { monotoneCurve } from "../../../src/core/adjust/tone";
import { cubeRoot, fromOklab, toOklab } from "../../../src/core/color/oklab";
import { blurReach, gaussianBlur, guidedFilter } from "../../../src/core/raster/blur";
import { randomOf } from "../../support/kernels";
import { runPython } from "../../support/python";

const [W, H] = [220, 160];

/** A made-up picture with edges and noise, and a rough mask, made and filtered by OpenCV. */
function made() {
  const folder = mkdtempSync(join(tmpdir(), "marsh-filters-"));
  runPython(`import cv2, json, numpy as np
r = np.random.default_rng(3)
y, x = np.mgrid[0:${H}, 0:${W}]
g = (0.2 + 0.5 * (x > 90) + 0.2 * np.sin(y / 9) + 0.02 * r.standard_normal((${H}, ${W}))).astype(np.float32)
m = ((x > 92) * 1.0).astype(np.float32)
g.tofile('${folder}/guide'); m.tofile('${folder}/mask')
for s in (0.8, 1.5, 6, 20):
    cv2.GaussianBlur(g, (0, 0), s, borderType=cv2.BORDER_REFLECT).tofile('${folder}/blur' + str(s))
cv2.ximgproc.guidedFilter(g, m, 8, 0.01).tofile('${folder}/guided')
print(json.dumps(0))`);
  const read = (name: string) => {
    const bytes = readFileSync(join(folder, name));
    return new Float32Array(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength) as ArrayBuffer);
  };
  return { read, guide: { width: W, height: H, data: read("guide") } };
}

/** Largest difference away from the border. */
function apart(a: Float32Array, b: Float32Array, border: number) {
  let worst = 0;
  for (let y = border; y < H - border; y++)
    for (let x = border; x < W - border; x++) {
      worst = Math.max(worst, Math.abs(a[y * W + x] - b[y * W + x]));
    }
  return worst;
}

it("the blur is OpenCV's, by its own weights where small and to 3 % where made of boxes", () => {
  const { read, guide } = made();
  const border = (sigma: number) => Math.min(60, blurReach(sigma) + 2);
  const apartAt = (sigma: number) => apart(gaussianBlur(guide, sigma), read(`blur${sigma}`), border(sigma));
  for (const sigma of [0.8, 1.5]) expect(apartAt(sigma)).toBeLessThan(2e-3);
  // three boxes come to within 3 % of a Gaussian (Wells 1986, recalled from memory); the picture spans 0.9
  for (const sigma of [6, 20]) expect(apartAt(sigma)).toBeLessThan(0.03 * 0.9);
});

it("the guided filter is OpenCV's", () => {
  const { read, guide } = made();
  const ours = guidedFilter(guide, read("mask"), 8, 0.01);
  const theirs = read("guided");
  expect(apart(ours, theirs, 18)).toBeLessThan(1e-4);
  // the mask has moved to the guide's edge at x = 90.5 from its own at 92.5
  const crossing = (plane: Float32Array) => Array.from({ length: W }, (_, x) => plane[80 * W + x]).findIndex((v) => v > 0.5);
  expect(crossing(read("mask"))).toBe(93);
  expect(Math.abs(crossing(ours) - 91)).toBeLessThanOrEqual(1);
});

it("Oklab is colorjs.io's, and back", () => {
  const random = randomOf(5);
  const [lab, rgb] = [new Float64Array(3), new Float64Array(3)];
  for (let i = 0; i < 500; i++) {
    const given = [random(), random(), random()] as [number, number, number];
    toOklab(...given, lab);
    const wanted = new Color("rec2020-linear", given).to("oklab").coords as number[];
    wanted.forEach((w, c) => expect(Math.abs(lab[c] - w)).toBeLessThan(1e-6));
    fromOklab(lab[0], lab[1], lab[2], rgb);
    given.forEach((g, c) => expect(Math.abs(rgb[c] - g)).toBeLessThan(1e-6));
  }
});

it("the cube root is the host's", () => {
  const random = randomOf(6);
  for (let i = 0; i < 2000; i++) {
    const x = (random() - 0.3) * 10 ** (8 * random() - 6);
    expect(Math.abs(cubeRoot(x) / Math.cbrt(x) - 1)).toBeLessThan(1e-12);
  }
  expect(cubeRoot(0)).toBe(0);
});

it("the curve goes through its nodes, never turns back between them and is a straight line where they are on one", () => {
  const x = [0, 0.125, 0.25, 0.5, 0.75, 1];
  const y = [0, 0.02, 0.3, 0.32, 0.9, 1];
  const curve = monotoneCurve(x, y);
  x.forEach((v, i) => expect(curve(v)).toBeCloseTo(y[i], 12));
  for (let k = 0; k < 1000; k++) expect(curve((k + 1) / 1000)).toBeGreaterThanOrEqual(curve(k / 1000) - 1e-12);
  const straight = monotoneCurve(x, x);
  for (let k = 0; k <= 100; k++) expect(straight(k / 100)).toBeCloseTo(k / 100, 12);
});
