/**
 * One 24 MP pair 1.5 EV apart with a known map, registered by Marsh and by python3-opencv (SIFT + MAGSAC, then ECC, one thread) in one
 * run: CPU time without decoding, mean error, peak resident memory. Run: scripts/bench register
 */
import { written } from "../src/messages/message";
import { execFileSync } from "node:child_process";
import { mkdtempSync, readFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { createNodeEngine } from "../src/cli/createNodeEngine";
import { gatherFiles } from "../src/cli/gatherFiles";
import { invert, project, type Matrix3 } from "../src/core/geometry/matrix3";
import { SILENT } from "../src/engine/task";

const [W, H] = [6000, 4000];
const folder = mkdtempSync(join(tmpdir(), "marsh-bench-"));
const SCRIPT = `
import cv2, json, sys, time, numpy as np
cv2.setNumThreads(1)
out = sys.argv[1]
rng = np.random.default_rng(2)
photo = cv2.imread('/usr/share/backgrounds/life_by_Aitzol_Berasategi.jpg')
scene = (cv2.resize(photo, (6300, 4200), interpolation=cv2.INTER_CUBIC) / 255.0) ** 2.2 * 0.4
scene *= 1 + 0.25 * cv2.resize(rng.normal(0, 1, (2100, 3150)).astype(np.float32), (6300, 4200), interpolation=cv2.INTER_CUBIC)[:, :, None]
base = np.array([[1, 0, -150], [0, 1, -100], [0, 0, 1.0]])
a = np.radians(0.6)
turn = np.array([[1.002 * np.cos(a), -1.002 * np.sin(a), 38.3], [1.002 * np.sin(a), 1.002 * np.cos(a), -22.7], [4e-7, 2e-7, 1]])
def shoot(m, ev, name):
    light = cv2.warpPerspective(scene.astype(np.float32), m, (${W}, ${H}), flags=cv2.INTER_CUBIC) * 2.0 ** ev
    e = np.clip(light, 0, 3) * 12000
    noisy = (rng.poisson(e) + rng.normal(0, 4, e.shape)) / 12000
    cv2.imwrite(f'{out}/{name}.jpg', np.clip(np.clip(noisy, 0, 1) ** (1 / 2.2) * 255 + 0.5, 0, 255).astype(np.uint8), [cv2.IMWRITE_JPEG_QUALITY, 95])
shoot(base, 0, 'a'); shoot(turn @ base, 1.5, 'b')
turn_in_a = turn @ base @ np.linalg.inv(base)
g = [cv2.imread(f'{out}/{n}.jpg', 0) for n in 'ab']
t = time.process_time()
s = cv2.SIFT_create(4000)
k = [s.detectAndCompute(x, None) for x in g]
p = [x for x, y in cv2.BFMatcher().knnMatch(k[0][1], k[1][1], k=2) if x.distance < .75 * y.distance]
h, _ = cv2.findHomography(np.float32([k[0][0][x.queryIdx].pt for x in p]), np.float32([k[1][0][x.trainIdx].pt for x in p]), cv2.USAC_MAGSAC, 1.0)
sift = time.process_time() - t
t = time.process_time()
f = [cv2.GaussianBlur(x, (0, 0), 1).astype(np.float32) for x in g]
try:
    _, e = cv2.findTransformECC(f[0], f[1], h.astype(np.float32), cv2.MOTION_HOMOGRAPHY, (cv2.TERM_CRITERIA_EPS | cv2.TERM_CRITERIA_COUNT, 20, 1e-6))
    e = e.ravel().tolist()
except cv2.error:
    e = None
print(json.dumps({'truth': (turn_in_a / turn_in_a[2, 2]).ravel().tolist(), 'sift': h.ravel().tolist(), 'siftCpu': sift, 'ecc': e, 'eccCpu': time.process_time() - t}))
`;
interface Reference {
  truth: number[];
  sift: number[];
  siftCpu: number;
  ecc: number[] | null;
  eccCpu: number;
}
const other = JSON.parse(execFileSync("/usr/bin/python3", ["-c", SCRIPT, folder], { encoding: "utf8" })) as Reference;
/** Mean distance over the frame, px. */
const errorOf = (found: Matrix3): number => {
  let [sum, n] = [0, 0];
  for (let y = 0; y < H; y += 100) {
    for (let x = 0; x < W; x += 100) {
      const [p, q] = project(other.truth, x, y);
      if (p < 0 || q < 0 || p >= W || q >= H) continue;
      const [u, v] = project(found, x, y);
      sum += Math.hypot(u - p, v - q);
      n++;
    }
  }
  return sum / n;
};
const node = await createNodeEngine(process.cwd());
const gathered = await gatherFiles(
  node,
  "bench",
  ["a", "b"].map((n) => join(folder, `${n}.jpg`)),
  SILENT,
);
const frames = gathered.files.map((f) => f.frame!);
const before = process.cpuUsage();
const { registration } = await node.ask("register", {
  records: gathered.records,
  frames,
  request: { referenceId: frames[0].id, referenceReason: written(""), model: "auto" },
});
const { user, system } = process.cpuUsage(before);
const placement = registration.placements.find((p) => p.frameId === frames[1].id)!;
const peak = Number(/VmHWM:\s+(\d+)/.exec(readFileSync("/proc/self/status", "utf8"))![1]) / 1024;
const marsh = (user + system) / 1e6;
const reference = other.siftCpu + other.eccCpu;
const line = (text: string) => process.stdout.write(`${text}\n`);
line(
  `Marsh: ${marsh.toFixed(1)} CPU s with placing the frame, ${placement.matrix ? errorOf(invert(placement.matrix)).toFixed(4) : "not registered"} px mean, model ${placement.model}, peak ${peak.toFixed(0)} MiB`,
);
line(
  `SIFT + MAGSAC: ${other.siftCpu.toFixed(1)} CPU s, ${errorOf(other.sift).toFixed(4)} px; ECC after it: ${other.eccCpu.toFixed(1)} CPU s more, ${other.ecc ? `${errorOf(other.ecc).toFixed(4)} px` : "did not converge"}`,
);
line(`Marsh / both: ${(marsh / reference).toFixed(2)}`);
