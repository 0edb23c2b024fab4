/**
 * Registration of photographs warped by a known homography. The pairs are made by numpy and OpenCV (python3-opencv 4.6) from
 * Debian's lomiri-wallpapers photographs; OpenCV's SIFT with MAGSAC stands beside it as the outside figure.
 */
import { existsSync, readdirSync } from "node:fs";
import { join } from "node:path";
import { project } from "../../../src/core/geometry/matrix3";
import { byDay, NIGHT } from "../../support/night";
import { runMarsh, runPython, temporaryFolder } from "../../support/python";

const PHOTOS = "/usr/share/backgrounds";
const MAKE = `
import cv2, json, sys, numpy as np
path, out, seed, ev = sys.argv[1], sys.argv[2], int(sys.argv[3]), float(sys.argv[4])
rng = np.random.default_rng(seed)
img = cv2.imread(path)
s = 1800 / max(img.shape[:2]); img = cv2.resize(img, None, fx=s, fy=s, interpolation=cv2.INTER_AREA)
lin = (img / 255.0) ** 2.2 * 0.5
h, w = 900, 1350
oy, ox = (lin.shape[0] - h) // 2, (lin.shape[1] - w) // 2
a = np.radians(rng.uniform(-1.5, 1.5)); sc = rng.uniform(0.99, 1.01)
C = np.array([[1, 0, -(w - 1) / 2], [0, 1, -(h - 1) / 2], [0, 0, 1]])
M = np.linalg.inv(C) @ np.array([[sc * np.cos(a), -sc * np.sin(a), rng.uniform(-30, 30)], [sc * np.sin(a), sc * np.cos(a), rng.uniform(-20, 20)], [rng.uniform(-1e-5, 1e-5), rng.uniform(-1e-5, 1e-5), 1]]) @ C
def shot(view, ev, name):
    H = view @ np.array([[1, 0, -ox], [0, 1, -oy], [0, 0, 1.0]])
    f = cv2.warpPerspective(lin, H, (w, h), flags=cv2.INTER_CUBIC, borderMode=cv2.BORDER_REFLECT) * 2.0 ** ev
    e = np.clip(f, 0, 4) * 8000
    n = (rng.poisson(np.maximum(e, 0)) + rng.normal(0, 4, e.shape)) / 8000
    cv2.imwrite(out + '/' + name, np.clip(np.clip(n, 0, 1) ** (1 / 2.2) * 255 + 0.5, 0, 255).astype(np.uint8), [cv2.IMWRITE_JPEG_QUALITY, 92])
shot(np.eye(3), 0, 'a.jpg'); shot(M, ev, 'b.jpg')
truth = np.linalg.inv(M); truth /= truth[2, 2]
g = [cv2.imread(out + '/' + n, 0) for n in ('a.jpg', 'b.jpg')]
sift = cv2.SIFT_create(4000); (ka, da), (kb, db) = sift.detectAndCompute(g[0], None), sift.detectAndCompute(g[1], None)
m = [p for p, q in cv2.BFMatcher().knnMatch(db, da, k=2) if p.distance < 0.75 * q.distance]
err = None
if len(m) > 8:
    H, _ = cv2.findHomography(np.float32([kb[p.queryIdx].pt for p in m]), np.float32([ka[p.trainIdx].pt for p in m]), cv2.USAC_MAGSAC, 1.0)
    if H is not None:
        y, x = np.mgrid[0:h:50, 0:w:50]; p = np.stack([x.ravel(), y.ravel(), np.ones(x.size)]).astype(float)
        d = lambda T: (T @ p)[:2] / (T @ p)[2]
        err = float(np.hypot(*(d(H) - d(truth))).mean())
print(json.dumps({'truth': truth.ravel().tolist(), 'sift': err}))
`;

function photographs(): string[] {
  if (!existsSync(PHOTOS)) throw new Error("The photographs of lomiri-wallpapers-16.04 are missing; scripts/test installs them.");
  return readdirSync(PHOTOS)
    .filter((f) => /\.jpg$/i.test(f))
    .sort()
    .slice(0, 5)
    .map((f) => join(PHOTOS, f));
}

it("the mean error over photographs at ±2 EV is at most 0.1 px", () => {
  const lines: string[] = [];
  const errors = byDay(photographs(), 3).map((photo, i) => {
    const folder = temporaryFolder();
    const { truth, sift } = runPython<{ truth: number[]; sift: number | null }>(MAKE, [photo, folder, String(i + 1), i % 2 ? "-2" : "2"]);
    const result = runMarsh(["register", "--reference", join(folder, "a.jpg"), join(folder, "b.jpg"), "--json", "--quiet"]);
    const [frame] = (JSON.parse(result.out) as { frames: { registered: boolean; matrix: number[][]; residualPx: number }[] }).frames;
    expect(frame.registered).toBe(true);
    let sum = 0;
    let n = 0;
    for (let y = 0; y < 900; y += 50) {
      for (let x = 0; x < 1350; x += 50) {
        const [p, q] = [project(frame.matrix.flat(), x, y), project(truth, x, y)];
        sum += Math.hypot(p[0] - q[0], p[1] - q[1]);
        n++;
      }
    }
    lines.push(`${photo.split("/").pop()}: Marsh ${(sum / n).toFixed(4)} px, SIFT + MAGSAC ${sift?.toFixed(4) ?? "failed"} px`);
    return sum / n;
  });
  process.stdout.write(`${lines.join("\n")}\n`);
  expect(errors.length).toBe(NIGHT ? 5 : 2);
  expect(errors.reduce((a, b) => a + b, 0) / errors.length).toBeLessThanOrEqual(0.1);
});
