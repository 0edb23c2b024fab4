/** Planted twins, specks and crumbs are found at their places, and few where none were planted. */
import { mkdtempSync, readFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { findRemnants } from "../../../src/core/retouch/findRemnants";
import { findSpots } from "../../../src/core/retouch/findDust";
import { findTwins } from "../../../src/core/retouch/findTwins";
import { runPython } from "../../support/python";

const folder = mkdtempSync(join(tmpdir(), "marsh-cleaning-"));
const floats = (name: string) => {
  const bytes = readFileSync(join(folder, name));
  return new Float32Array(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength) as ArrayBuffer);
};

it("planted twins are found, and hardly one where there is none", () => {
  // patches of radius 26 to 40 px, seated with a soft border in places of some texture
  const planted = runPython<{ name: string; size: [number, number]; twins: number[][] }[]>(`import cv2, json, numpy as np
r = np.random.default_rng(5)
out = []
for name in ('creek/creek-2.jpg', 'jetty/jetty-2.jpg', 'doorway/doorway-3.jpg'):
    f = cv2.imread('demo/' + name)
    k = max(f.shape) / 1100
    f = cv2.resize(f, (int(f.shape[1] / k), int(f.shape[0] / k)), interpolation=cv2.INTER_AREA)
    g = cv2.cvtColor(f, cv2.COLOR_BGR2GRAY).astype(np.float32) / 255
    g.tofile('${folder}/' + name.split('/')[0] + '-plain')
    h, w = g.shape
    rough = cv2.GaussianBlur((g - cv2.GaussianBlur(g, (0, 0), 3)) ** 2, (0, 0), 12) ** 0.5
    t, twins, used = g.copy(), [], []
    while len(twins) < 12:
        R = int(r.integers(26, 41))
        ax, bx = (int(v) for v in r.integers(R + 8, w - R - 8, 2))
        ay, by = (int(v) for v in r.integers(R + 8, h - R - 8, 2))
        if rough[ay, ax] < 0.03 or np.hypot(ax - bx, ay - by) < 3 * R: continue
        if any(np.hypot(x - u, y - v) < R + q + 12 for u, v, q in used for x, y in ((ax, ay), (bx, by))): continue
        used += [(ax, ay, R), (bx, by, R)]
        m = np.zeros_like(t); cv2.circle(m, (bx, by), R, 1, -1); m = cv2.GaussianBlur(m, (0, 0), 2)
        moved = np.roll(np.roll(g, by - ay, 0), bx - ax, 1)
        t = t * (1 - m) + moved * m
        twins.append([ax, ay, bx, by])
    t.astype(np.float32).tofile('${folder}/' + name.split('/')[0] + '-twins')
    out.append({'name': name.split('/')[0], 'size': [w, h], 'twins': twins})
print(json.dumps(out))`);
  let [found, all] = [0, 0];
  for (const { name, size, twins } of planted) {
    const of = (kind: string) => findTwins({ width: size[0], height: size[1], data: floats(`${name}-${kind}`) });
    const seen = of("twins");
    for (const [ax, ay, bx, by] of twins) {
      all++;
      const hit = seen.some((t) => {
        const straight = Math.hypot(t.ax - ax, t.ay - ay) < 40 && Math.hypot(t.bx - bx, t.by - by) < 40;
        return straight || (Math.hypot(t.ax - bx, t.ay - by) < 40 && Math.hypot(t.bx - ax, t.by - ay) < 40);
      });
      if (hit) found++;
    }
    expect(of("plain").length).toBeLessThanOrEqual(1);
  }
  expect(found / all).toBeGreaterThanOrEqual(0.95);
});

it("specks of six px and 3 % are found in a noisy sky of 24 MP, and hardly anything else", () => {
  // a gradient with clouds, shot and read noise as of a sensor that holds 30,000 electrons at white
  const [width, height] = [4000, 750];
  const planted = runPython<number[][]>(`import cv2, json, numpy as np
r = np.random.default_rng(9)
w, h = ${width}, ${height}
y, x = np.mgrid[0:h, 0:w].astype(np.float32)
cloud = cv2.resize(r.standard_normal((h // 60, w // 60)).astype(np.float32), (w, h), interpolation=cv2.INTER_CUBIC)
sky = (0.25 + 0.15 * y / h) * (1 + 0.08 * cv2.GaussianBlur(cloud, (0, 0), 30))
spots = []
while len(spots) < 40:
    cx, cy = int(r.integers(30, w - 30)), int(r.integers(30, h - 30))
    if any(np.hypot(cx - u, cy - v) < 40 for u, v in spots): continue
    spots.append([cx, cy])
    sky[cy-12:cy+13, cx-12:cx+13] *= 1 - 0.03 / (1 + np.exp((np.hypot(x[cy-12:cy+13, cx-12:cx+13] - cx, y[cy-12:cy+13, cx-12:cx+13] - cy) - 3) / 0.5))
shot = cv2.GaussianBlur(r.poisson(sky * 30000).astype(np.float32) + r.normal(0, 3.2, sky.shape).astype(np.float32), (0, 0), 0.45) / 30000
np.log2(np.maximum(shot, 1e-4)).astype(np.float32).tofile('${folder}/sky')
print(json.dumps(spots))`);
  const spots = findSpots(floats("sky"), width, height);
  const near = (p: number[], s: { x: number; y: number }) => Math.hypot(p[0] - s.x, p[1] - s.y) <= 3;
  const found = planted.filter((p) => spots.some((s) => near(p, s)));
  const false_ = spots.filter((s) => !planted.some((p) => near(p, s)));
  expect(found.length / planted.length).toBeGreaterThanOrEqual(0.95);
  // two in 24 MP are allowed; this is an eighth of it
  expect(false_.length).toBeLessThanOrEqual(0.25);
  const contrasts = spots.map((s) => s.contrastEv).sort((a, b) => a - b);
  // 3 % is 0.044 EV
  expect(Math.abs(contrasts[contrasts.length >> 1] - 0.044)).toBeLessThan(0.02);
});

it("crumbs are listed with place, size and contrast, the most visible first", () => {
  const [width, height] = [120, 80];
  const residual = Float32Array.from({ length: width * height }, (_, i) => 0.02 * Math.sin(i * 12.9898));
  const put = (x0: number, y0: number, x1: number, y1: number, v: number) => {
    for (let y = y0; y < y1; y++) for (let x = x0; x < x1; x++) residual[y * width + x] += v;
  };
  put(20, 20, 30, 24, -0.6);
  put(60, 50, 64, 53, 0.4);
  put(100, 10, 110, 20, -2);
  const near = Uint8Array.from(residual, (_, i) => (i % width < 90 ? 1 : 0));
  const apart = near.map((v) => 1 - v);
  const crumbs = findRemnants(residual, near, apart, width, height);
  expect(crumbs.map(({ x0, y0, x1, y1, count }) => [x0, y0, x1, y1, count])).toEqual([
    [20, 20, 29, 23, 40],
    [60, 50, 63, 52, 12],
  ]);
  expect(crumbs[0].contrastEv).toBeCloseTo(-0.6, 1);
});
