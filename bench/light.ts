/**
 * Light and air on a plate of 24 MP, as ratios to what is laid by hand: a blur of one plane of it by OpenCV. Run: scripts/bench light
 */
import { execFileSync } from "node:child_process";
import { beamAlong } from "../src/core/air/beam";
import { depthBlur, depthBlurReach, discAt, widestDisc } from "../src/core/air/depthBlur";
import { discBlur } from "../src/core/air/defocus";
import { clearness, unevenness } from "../src/core/air/mist";
import { eachParticle } from "../src/core/air/particles";
import { inflate } from "../src/core/light/inflate";
import type { Lamp } from "../src/core/light/lamp";
import { unit } from "../src/core/panorama/camera";
import { smear } from "../src/core/seat/smear";
import { GroundCamera } from "../src/core/seat/groundCamera";
import { lampOnPlate } from "../src/engine/operations/light/lampOnPlate";
import type { PlateRecord } from "../src/document/records/plateTypes";

const [W, H] = [6000, 4000];
const theirs = JSON.parse(
  execFileSync("/usr/bin/python3", [
    "-c",
    `import cv2, json, time, numpy as np
cv2.setNumThreads(1)
a = np.random.default_rng(1).random((${H}, ${W}), np.float32)
cv2.GaussianBlur(a, (0, 0), 12)
t = time.process_time()
for k in range(3): cv2.GaussianBlur(a, (0, 0), 12)
print(json.dumps((time.process_time() - t) / 3))`,
  ]).toString(),
) as number;

const stance = { pitchDeg: -8, rollDeg: 1, focalPx: 5600 };
const camera = new GroundCamera({ width: W, height: H }, stance, 1.7);
const plate = { stance, heightM: 1.7 } as PlateRecord;
const lamp: Lamp = { id: "l", is: "lamp", x: 2000, y: 900, distanceM: 6, wide: 0.2, ev: 3, color: [1, 1, 1] };
const whole = { x: 0, y: 0, width: W, height: H };

function told(what: string, work: () => void): void {
  const before = process.cpuUsage();
  work();
  const { user, system } = process.cpuUsage(before);
  const seconds = (user + system) / 1e6;
  console.log(`${what.padEnd(44)} ${seconds.toFixed(1)} s CPU, ${(seconds / theirs).toFixed(1)} of a blur by hand`);
}

/** Every px of the plate, with the ray through it. */
function eachRay(visit: (dx: number, dy: number, dz: number, farM: number) => void): void {
  for (let y = 0; y < H; y++) {
    for (let x = 0; x < W; x++) {
      const [dx, dy, dz] = unit(camera.rayOf(x, y));
      visit(dx, dy, dz, dy < -1e-3 ? -1.7 / dy : 500);
    }
  }
}

console.log(`a plane of 24 MP blurred by hand: ${theirs.toFixed(2)} s CPU`);
told("a lamp's light on the ground", () => lampOnPlate({ inputs: { width: W, height: H } }, plate, lamp, 0, whole));
told("a figure of 1200×1600 blown up", () => inflate(new Float32Array(1200 * 1600).fill(1), 1200, 1600));
let sum = 0;
const air = { visibleM: 100, halfHeightM: 1, patchy: 0.5, cloudM: 3, seed: 1 };
told("mist, by distance", () => eachRay((_dx, dy, _dz, far) => (sum += clearness(air, 1.7, dy, far))));
told("its clouds, at one of 16 px", () => {
  for (let y = 0; y < H; y += 4) for (let x = 0; x < W; x += 4) sum += unevenness(air, 1.7, ...unit(camera.rayOf(x, y)), 20);
});
const beam = { from: [0, 3, 6], along: [0, -1, 0], radiusM: 0.1, grows: 0.25, reachM: 3, soft: 0.4, dusty: 0.3, cloudM: 0.8, seed: 1, spreads: true } as const;
told("a beam", () => eachRay((dx, dy, dz, far) => (sum += beamAlong({ ...beam, from: [0, 3, 6], along: [0, -1, 0] }, [0, 1.7, 0], dx, dy, dz, far))));
const snow = { count: 6000, sizeMm: 12, nearM: 0.8, farM: 20, fallMs: 1, driftMs: 0.4, exposureS: 0.01, focusM: 5, blurPx: 30, seed: 1 };
told("where 6000 flakes are", () => eachParticle(snow, 5600, { width: W, height: H }, whole, (p) => (sum += p.opacity)));
told("a figure of 1200×1600 out of focus by 20 px", () => {
  for (let c = 0; c < 4; c++) discBlur(new Float32Array(1240 * 1640).fill(0.5), 1240, 1640, 20);
});
told("the whole plate in focus at 6 m, the rest by up to 12 px", () => {
  const planes = [0, 1, 2].map(() => new Float32Array(W * H).fill(0.5));
  const lens = { focusM: 6, radiusPx: 12 };
  const disc = new Float32Array(W * H);
  let k = 0;
  eachRay((_dx, _dy, _dz, far) => (disc[k++] = discAt(lens, far)));
  // as it is delivered: in strips, with what is looked at around them
  const reach = depthBlurReach(lens, 0);
  for (let y = 0; y < H; y += 512) {
    const [top, bottom] = [Math.max(0, y - reach), Math.min(H, y + 512 + reach)];
    const rows = planes.map((plane) => plane.slice(top * W, bottom * W));
    const shares = [{ share: new Float32Array((bottom - top) * W).fill(1), disc: disc.slice(top * W, bottom * W) }];
    depthBlur(rows, shares, W, bottom - top, widestDisc(lens, 0), 0, top);
    sum += rows[0][0];
  }
});
told("its lower half smoothed as water", () => {
  const [rows, down] = [new Float32Array((W * H) / 2).fill(0.5), Float64Array.from({ length: H / 2 }, (_, j) => j / 30)];
  for (let c = 0; c < 4; c++) {
    smear(rows, W, H / 2, "across", down);
    smear(rows, W, H / 2, "down", down);
  }
  sum += rows[0];
});
if (!Number.isFinite(sum)) throw new Error("light that is no number");
