/** Healing against OpenCV's seamlessClone on the same pixels; filling against what was there. */
import { mkdtempSync, readFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { fillFrom } from "../../../src/core/retouch/fillFrom";
import { fillSmoothly, seatSource, solvePoisson } from "../../../src/core/retouch/membrane";
import { randomOf } from "../../support/kernels";
import { runPython } from "../../support/python";

const folder = mkdtempSync(join(tmpdir(), "marsh-retouch-"));
const bytes = (name: string) => new Uint8Array(readFileSync(join(folder, name)));

const psnr = (a: ArrayLike<number>, b: ArrayLike<number>) => {
  let sum = 0;
  for (let i = 0; i < a.length; i++) sum += (a[i] - b[i]) ** 2;
  return 10 * Math.log10((255 * 255 * a.length) / sum);
};

it.each([
  // frame, middle of the area, its radius, step to the source; px of the demo frames
  ["jetty/jetty-2.jpg", 700, 820, 60, 180, 30],
  ["creek/creek-1.jpg", 900, 160, 80, 200, 10],
  ["creek/creek-3.jpg", 1350, 1000, 80, 170, 20],
  ["doorway/doorway-3.jpg", 500, 300, 120, 320, -40],
])("an area of %s is healed as OpenCV does it", (frame, x, y, radius, dx, dy) => {
  const pad = radius + 12;
  const side = 2 * pad + 1;
  runPython(`import cv2, json, numpy as np
f = cv2.imread('demo/${frame}')
p = ${pad}
t = f[${y}-p:${y}+p+1, ${x}-p:${x}+p+1].copy()
s = f[${y + dy}-p:${y + dy}+p+1, ${x + dx}-p:${x + dx}+p+1].copy()
m = np.zeros(t.shape[:2], np.uint8)
# it solves over the bounds of the mask, so a mask that fills its bounds has the same border for both
m[12:-12, 12:-12] = 255
out = cv2.seamlessClone(s, t, m, (p, p), cv2.NORMAL_CLONE)
for n, a in (('t', t), ('s', s), ('o', out)):
    a.tofile('${folder}/' + n)
# seamlessClone shrinks the mask by three px before it solves (recalled from its source)
cv2.erode(m, np.ones((3, 3), np.uint8), iterations=3).tofile('${folder}/m')
print(json.dumps(0))`);
  const [t, s, o, m] = ["t", "s", "o", "m"].map(bytes);
  const inside = Uint8Array.from(m, (v) => (v ? 1 : 0));
  const ours: number[] = [];
  const theirs: number[] = [];
  for (let c = 0; c < 3; c++) {
    const target = Float32Array.from(inside, (_, i) => t[3 * i + c]);
    seatSource(
      target,
      Float32Array.from(inside, (_, i) => s[3 * i + c]),
      inside,
      side,
      side,
    );
    inside.forEach((on, i) => {
      if (!on) return;
      ours.push(Math.min(255, Math.max(0, target[i])));
      theirs.push(o[3 * i + c]);
    });
  }
  expect(psnr(ours, theirs)).toBeGreaterThan(40);
});

it("on a round area, where OpenCV solves over its bounds, healing is Poisson's equation as a direct solver has it", () => {
  const side = 161;
  runPython(`import cv2, json, numpy as np
from scipy.sparse import lil_matrix
from scipy.sparse.linalg import spsolve
f = cv2.imread('demo/jetty/jetty-2.jpg')
t, s = f[740:901, 620:781].astype(float), f[770:931, 800:961].astype(float)
y, x = np.mgrid[:161, :161]
m = np.hypot(x - 80, y - 80) < 64
index = -np.ones(m.shape, int); index[m] = np.arange(m.sum())
A = lil_matrix((m.sum(), m.sum())); b = np.zeros((m.sum(), 3))
# Perez, Gangnet, Blake 2003, equation 7, with the gradients of the source
for k, (py, px) in enumerate(np.argwhere(m)):
    A[k, k] = 4
    for qy, qx in ((py - 1, px), (py + 1, px), (py, px - 1), (py, px + 1)):
        b[k] += s[py, px] - s[qy, qx]
        if m[qy, qx]: A[k, index[qy, qx]] = -1
        else: b[k] += t[qy, qx]
out = t.copy(); A = A.tocsc()
for c in range(3): out[..., c][m] = spsolve(A, b[:, c])
for n, a in (('t', t.astype(np.uint8)), ('s', s.astype(np.uint8)), ('m', m.astype(np.uint8)), ('o', out)): a.tofile('${folder}/' + n)
print(json.dumps(0))`);
  const [t, s, m] = ["t", "s", "m"].map(bytes);
  const wanted = new Float64Array(bytes("o").buffer);
  const inside = Uint8Array.from(m);
  for (let c = 0; c < 3; c++) {
    const plane = (of: ArrayLike<number>) => Float32Array.from(inside, (_, i) => of[3 * i + c]);
    const target = plane(t);
    seatSource(target, plane(s), inside, side, side);
    expect(psnr(target, plane(wanted))).toBeGreaterThan(55);
  }
});

it("a membrane over a harmonic border is that harmonic function", () => {
  const [width, height] = [90, 70];
  // x² − y² solves Laplace's equation, on the grid too
  const wanted = Float32Array.from({ length: width * height }, (_, i) => ((i % width) ** 2 - Math.floor(i / width) ** 2) / 1000);
  const inside = Uint8Array.from(wanted, (_, i) => (Math.hypot((i % width) - 45, Math.floor(i / width) - 35) < 28 ? 1 : 0));
  const u = wanted.map((v, i) => (inside[i] ? 0 : v));
  fillSmoothly(u, inside, width, height);
  expect(Math.max(...u.map((v, i) => Math.abs(v - wanted[i])))).toBeLessThan(2e-3);
});

it("the gradients of a picture lead back to it", () => {
  const [width, height] = [80, 60];
  const random = randomOf(4);
  const wanted = Float32Array.from({ length: width * height }, () => random());
  const inside = Uint8Array.from(wanted, (_, i) => (i % width > 20 && i % width < 60 && i > 15 * width && i < 45 * width ? 1 : 0));
  const rhs = wanted.map((v, i) => (inside[i] ? 4 * v - wanted[i - 1] - wanted[i + 1] - wanted[i - width] - wanted[i + width] : 0));
  const u = wanted.map((v, i) => (inside[i] ? 0.5 : v));
  solvePoisson(u, inside, rhs, width, height);
  expect(Math.max(...u.map((v, i) => Math.abs(v - wanted[i])))).toBeLessThan(0.02);
});

it("a hole in a pattern is filled so that the pattern goes on", async () => {
  const [width, height] = [160, 120];
  const pattern = (x: number, y: number) => 0.5 + 0.3 * Math.sin((2 * Math.PI * x) / 12) + 0.15 * Math.sin((2 * Math.PI * y) / 9);
  const wanted = Float32Array.from({ length: width * height }, (_, i) => pattern(i % width, Math.floor(i / width)));
  const inside = Uint8Array.from(wanted, (_, i) => (Math.hypot((i % width) - 80, Math.floor(i / width) - 60) < 18 ? 1 : 0));
  const holed = wanted.map((v, i) => (inside[i] ? 0 : v));
  const field = await fillFrom([holed], inside, width, height, async () => undefined);
  let [sum, n] = [0, 0];
  inside.forEach((on, i) => {
    if (!on) return;
    const s = i + field.dy[i] * width + field.dx[i];
    expect(inside[s]).toBe(0);
    sum += (holed[s] - wanted[i]) ** 2;
    n++;
  });
  // the pattern itself has a standard deviation of 0.24
  expect(Math.sqrt(sum / n)).toBeLessThan(0.06);
  const again = await fillFrom([holed], inside, width, height, async () => undefined);
  expect(again.dx).toEqual(field.dx);
});
