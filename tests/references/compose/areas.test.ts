/** What is found in pictures against what the renderer knows, and the subject in a box against OpenCV's grabCut on the same pixels. */
import { mkdtempSync, readFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { toOklab } from "../../../src/core/color/oklab";
import { REC2020, REC709, rgbToRgb } from "../../../src/core/color/primaries";
import { decodeSrgb } from "../../../src/core/color/srgbCurve";
import { transform } from "../../../src/core/geometry/matrix3";
import { findEven, findNear, findSky, findSubject, type AreaField } from "../../../src/core/masks/findAreas";
import { runPython } from "../../support/python";

const folder = mkdtempSync(join(tmpdir(), "marsh-areas-"));
const FROM_SRGB = rgbToRgb(REC709, REC2020);

interface Loaded {
  field: AreaField;
  truth: Uint8Array;
  grabCut: Uint8Array | null;
}

/** A demo frame at about 480 px with the renderer's mask, and what OpenCV's grabCut makes of a box of it. */
function load(frame: string, mask: string, box: [number, number, number, number] | null): Loaded {
  const [width, height] = runPython<[number, number]>(`import cv2, json, numpy as np
f = cv2.imread('demo/${frame}')
k = 2 ** int(np.ceil(np.log2(max(f.shape) / 480)))
w, h = f.shape[1] // k, f.shape[0] // k
small = cv2.resize(f, (w, h), interpolation=cv2.INTER_AREA)
small[:, :, ::-1].tofile('${folder}/frame')
(cv2.resize(cv2.imread('demo/${mask}', 0), (w, h), interpolation=cv2.INTER_AREA) > 127).astype(np.uint8).tofile('${folder}/truth')
box = ${box ? JSON.stringify(box) : "None"}
if box:
    m = np.zeros((h, w), np.uint8)
    x0, y0, x1, y1 = [int(round(v)) for v in (box[0] * w, box[1] * h, box[2] * w, box[3] * h)]
    cv2.setRNGSeed(1)
    cv2.grabCut(small, m, (x0, y0, x1 - x0, y1 - y0), np.zeros((1, 65)), np.zeros((1, 65)), 5, cv2.GC_INIT_WITH_RECT)
    ((m == 1) | (m == 3)).astype(np.uint8).tofile('${folder}/cut')
print(json.dumps([w, h]))`);
  const rgb = readFileSync(join(folder, "frame"));
  const n = width * height;
  const lab: [Float32Array, Float32Array, Float32Array] = [new Float32Array(n), new Float32Array(n), new Float32Array(n)];
  const out = new Float64Array(3);
  for (let i = 0; i < n; i++) {
    const light = transform(
      FROM_SRGB,
      [0, 1, 2].map((c) => decodeSrgb(rgb[3 * i + c] / 255)),
    );
    toOklab(light[0], light[1], light[2], out);
    lab.forEach((plane, c) => (plane[i] = out[c]));
  }
  return {
    field: { width, height, lab },
    truth: new Uint8Array(readFileSync(join(folder, "truth"))),
    grabCut: box && new Uint8Array(readFileSync(join(folder, "cut"))),
  };
}

function overlap(a: Uint8Array, b: Uint8Array): number {
  let [both, either] = [0, 0];
  for (let i = 0; i < a.length; i++) {
    both += a[i] & b[i];
    either += a[i] | b[i];
  }
  return both / either;
}

it.each([
  ["creek/creek-1.jpg", "creek/sky.png"],
  ["creek/creek-4.jpg", "creek/sky.png"],
  ["doorway/doorway-3.jpg", "doorway/sky.png"],
  ["doorway/doorway-2.jpg", "doorway/sky.png"],
])("the sky of %s is found", (frame, mask) => {
  const { field, truth } = load(frame, mask, null);
  const sky = findSky(field)!;
  const iou = overlap(sky.mask, truth);
  expect(iou).toBeGreaterThan(0.95);
  expect(sky.confidence).toBeGreaterThan(0.9);
});

it("there is no sky on a bench, and it is said", () => {
  const { field } = load("barometer/barometer-5.jpg", "creek/sky.png", null);
  expect(findSky(field)?.confidence ?? 0).toBeLessThan(0.5);
});

it.each([
  ["figure/figure-1.jpg", "figure/figure-1-mask.png", [0.17, 0.02, 0.65, 0.92]],
  ["figure/figure-2.jpg", "figure/figure-2-mask.png", [0.33, 0.09, 0.637, 0.92]],
] as const)("the figure in a box of %s is found, not worse than by OpenCV", (frame, mask, box) => {
  const { field, truth, grabCut } = load(frame, mask, [...box]);
  const { width, height } = field;
  const found = findSubject(field, { x0: box[0] * width, y0: box[1] * height, x1: box[2] * width, y1: box[3] * height })!;
  // the figure stands on a disc of its own wood, which the renderer does not count: the box ends above it
  const inBox = truth.map((v, i) => (Math.floor(i / width) < Math.round(box[3] * height) ? v : 0));
  const [ours, theirs] = [overlap(found.mask, inBox), overlap(grabCut!, inBox)];
  expect(ours).toBeGreaterThan(0.9);
  expect(ours).toBeGreaterThanOrEqual(theirs - 0.005);
});

it("still water is found as an even surface, without the sky above it", () => {
  const { field, truth } = load("creek/creek-3.jpg", "creek/sky.png", null);
  const even = findEven(field)!;
  const { width, height } = field;
  const at = (x: number, y: number) => even.mask[Math.round(y * height) * width + Math.round(x * width)];
  // the creek of the picture, by eye: 1800 × 1200 px
  expect([at(0.72, 0.9), at(0.8, 0.85), at(0.7, 0.7)]).toEqual([1, 1, 1]);
  expect([at(0.2, 0.6), at(0.45, 0.5), at(0.5, 0.1)]).toEqual([0, 0, 0]);
  expect(overlap(even.mask, truth)).toBeLessThan(0.02);
});

it("what surrounds a place ends at the next edge", () => {
  const [width, height] = [120, 90];
  const plane = (f: (x: number, y: number) => number) => Float32Array.from({ length: width * height }, (_, i) => f(i % width, Math.floor(i / width)));
  const disc = (x: number, y: number) => (Math.hypot(x - 60, y - 40) < 20 ? 0.8 : 0.3);
  const lab = [plane((x, y) => disc(x, y) + 0.0005 * x), plane(() => 0), plane(() => 0)] as const;
  const found = findNear({ width, height, lab }, 60, 40, 12)!;
  const wanted = Uint8Array.from(plane((x, y) => (Math.hypot(x - 60, y - 40) < 20 ? 1 : 0)));
  expect(overlap(found.mask, wanted)).toBeGreaterThan(0.9);
  expect(found.confidence).toBeGreaterThan(0.5);
  expect(findNear({ width, height, lab }, -5, 2, 12)).toBeNull();
});
