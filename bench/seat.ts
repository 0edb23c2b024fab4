/**
 * The shadow of a figure on a plate of 24 MP, 64 directions, as a ratio to what is laid by hand: its outline skewed onto the ground and blurred, by OpenCV; and how many
 * coarse pictures of it a second there are while it is dragged. Run: scripts/bench seat
 */
import { execFileSync } from "node:child_process";
import { mkdtempSync, readFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { invert } from "../src/core/geometry/matrix3";
import { sizeAtLevel } from "../src/core/geometry/rectangle";
import type { Vector3 } from "../src/core/panorama/camera";
import { castShadow, discDirections, skyDirections } from "../src/core/seat/castShadow";
import { GroundCamera } from "../src/core/seat/groundCamera";
import { directionOf } from "../src/core/seat/lightFromShadows";
import { Scenery } from "../src/core/seat/scenery";
import { twoFeet } from "../src/core/seat/feet";
import type { Body } from "../src/core/seat/standing";
import { extentOf, volumeOf } from "../src/core/seat/volume";

const [W, H] = [6000, 4000];
/** The figure, px, and how tall it stands, metres. */
const [FW, FH] = [1200, 1600];
const TALL_M = 1.6;
const folder = mkdtempSync(join(tmpdir(), "marsh-seat-"));
const theirs = JSON.parse(
  execFileSync("/usr/bin/python3", [
    "-c",
    `import cv2, json, sys, time, numpy as np
cv2.setNumThreads(1)
a = cv2.resize(cv2.imread('tests/fixtures/seated/00-thing.png', cv2.IMREAD_UNCHANGED)[:, :, 3], (${FW}, ${FH}), interpolation=cv2.INTER_CUBIC)
a.tofile(sys.argv[1] + '/alpha.raw')
quad = np.float32([[3800, 2300], [4700, 2300], [3300, 3200], [2700, 3200]])
m = cv2.getPerspectiveTransform(np.float32([[0, 0], [${FW}, 0], [${FW}, ${FH}], [0, ${FH}]]), quad)
t = time.process_time()
for k in range(3): cv2.GaussianBlur(cv2.warpPerspective(a, m, (${W}, ${H})), (0, 0), 12)
print(json.dumps((time.process_time() - t) / 3))`,
    folder,
  ]).toString(),
) as number;

const cpu = () => {
  const { user, system } = process.cpuUsage();
  return (user + system) / 1e6;
};
const camera = new GroundCamera({ width: W, height: H }, { pitchDeg: -8, rollDeg: 1, focalPx: 5600 }, 1.7);
const foot: Vector3 = [0.2, 0, 4];
const alpha = Float32Array.from(readFileSync(join(folder, "alpha.raw")), (v) => v / 255);
let start = cpu();
const [extent, volume] = [extentOf(alpha, FW, FH), volumeOf(alpha, FW, FH)];
const made = cpu() - start;
// its lowest row stands on the foot
const [x, y] = camera.pixelOf(foot)!;
const top = camera.pixelOf([foot[0], TALL_M, foot[2]])!;
const scale = Math.hypot(top[0] - x, top[1] - y) / FH;
const toSamples = invert([scale, 0, x - (scale * FW) / 2, 0, scale, y - scale * FH, 0, 0, 1]);
const body: Body = { alpha, width: FW, height: FH, extent, feet: twoFeet(alpha, FW, extent), volume, toSamples, depth: 0.8 };
const table: { level: number; sun: number; sky: number }[] = [];
for (const level of [0, 1, 2, 3]) {
  const rect = { x: 0, y: 0, ...sizeAtLevel(W, H, level) };
  const time = (directions: Vector3[]) => {
    castShadow(new Scenery(camera), foot, body, directions, level, rect);
    start = cpu();
    castShadow(new Scenery(camera), foot, body, directions, level, rect);
    return cpu() - start;
  };
  table.push({ level, sun: time(discDirections(directionOf(120, 32), 0.53)), sky: time(skyDirections()) });
}
console.log(`skewed and blurred by OpenCV: ${theirs.toFixed(2)} s; the body of the figure: ${made.toFixed(2)} s`);
for (const { level, sun, sky } of table)
  console.log(
    `1/${2 ** level}: sun ${sun.toFixed(3)} s CPU (${(sun / theirs).toFixed(1)}×), sky ${sky.toFixed(3)} s, ${(1 / (sun + sky)).toFixed(1)} pictures a second`,
  );
