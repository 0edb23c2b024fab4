/**
 * Halo of the local tone response on Debian's photographs: along even surfaces that end at a strong edge, evening out the base must
 * change light as much beside the edge as far from it. Reference: the base that a Gaussian of the same radius (OpenCV) makes.
 */
import { readFileSync } from "node:fs";
import { join } from "node:path";
import { localBase } from "../../../src/core/color/localTone";
import { quantile } from "../../../src/core/numeric/statistics";
import { runPython, temporaryFolder } from "../../support/python";

const FOLDER = "/usr/share/backgrounds";
const NAMES = ["Bridge_by_Sander_Klootwijk", "greentock_by_Peter_Nerlich", "picosdeeuropa_by_Aitzol_Berasategi", "sunset_by_Aitzol_Berasategi"];
const RADIUS = 36;

/** log2 of luminance, and its Gaussian blur. */
const READ = `
import cv2, json, sys, numpy as np
source, out, radius = sys.argv[1], sys.argv[2], float(sys.argv[3])
v = cv2.imread(source).astype(np.float32) / 255
scale = 900 / max(v.shape[:2])
v = np.where(v <= 0.04045, v / 12.92, ((v + 0.055) / 1.055) ** 2.4).astype(np.float32)
v = cv2.resize(v, None, fx=scale, fy=scale, interpolation=cv2.INTER_AREA)
light = np.log2(np.maximum(1e-5, v @ np.float32([0.0722, 0.7152, 0.2126]))).astype(np.float32)
light.tofile(out + '-light'); cv2.GaussianBlur(light, (0, 0), radius).tofile(out + '-blur')
print(json.dumps(list(light.shape)))
`;

interface Side {
  /** places beside the edge and far from it */
  near: number[];
  far: number[];
}

const mean = (line: Float32Array, from: number, to: number) => {
  let sum = 0;
  for (let x = from; x < to; x++) sum += line[x];
  return sum / (to - from);
};
/** Whether a stretch of a row is even within a quarter of a stop. */
const even = (line: Float32Array, from: number, to: number) => {
  const part = line.subarray(from, to);
  return Math.max(...part) - Math.min(...part) < 0.5;
};

/** Even surfaces of 40 px that end at an edge of two stops or more, as rows of places. */
function sidesOf(light: Float32Array, width: number, height: number): { y: number; sides: Side[]; step: number }[] {
  const found = [];
  for (let y = 0; y < height; y += 2) {
    const line = light.subarray(y * width, (y + 1) * width);
    for (let x = 44; x < width - 44; x++) {
      const step = Math.abs(mean(line, x + 3, x + 9) - mean(line, x - 8, x - 2));
      if (step < 2) continue;
      const sides: Side[] = [];
      if (even(line, x + 3, x + 44)) sides.push({ near: [x + 3, x + 9], far: [x + 36, x + 44] });
      if (even(line, x - 43, x - 2)) sides.push({ near: [x - 8, x - 2], far: [x - 43, x - 35] });
      if (sides.length === 0) continue;
      found.push({ y, sides, step });
      x += 8;
    }
  }
  return found;
}

it("evens out light without a halo along the edges of photographs", () => {
  const folder = temporaryFolder();
  const halos: number[] = [];
  const blurred: number[] = [];
  for (const name of NAMES) {
    const [height, width] = runPython<[number, number]>(READ, [join(FOLDER, `${name}.jpg`), join(folder, name), String(RADIUS / 2)]);
    const read = (kind: string) => new Float32Array(new Uint8Array(readFileSync(join(folder, `${name}-${kind}`))).buffer);
    const [light, blur] = [read("light"), read("blur")];
    const { slope, offset } = localBase({ width, height, data: light }, RADIUS);
    const base = light.map((v, i) => slope[i] * v + offset[i]);
    // the change is a share of the base: how it differs between near and far, against the step
    const halo = (plane: Float32Array, y: number, { near, far }: Side, step: number) => {
      const line = plane.subarray(y * width, (y + 1) * width);
      const own = light.subarray(y * width, (y + 1) * width);
      const change = (at: number[]) => mean(line, at[0], at[1]);
      return Math.abs(change(near) - change(far) - (mean(own, near[0], near[1]) - mean(own, far[0], far[1]))) / step;
    };
    for (const { y, sides, step } of sidesOf(light, width, height)) {
      for (const side of sides) {
        halos.push(halo(base, y, side, step));
        blurred.push(halo(blur, y, side, step));
      }
    }
  }
  const figures = {
    places: halos.length,
    median: quantile(halos, 0.5),
    worst: quantile(halos, 0.95),
    blurMedian: quantile(blurred, 0.5),
    blurWorst: quantile(blurred, 0.95),
  };
  process.stdout.write(`local tone, halo against the step: ${JSON.stringify(figures)}\n`);
  expect(halos.length).toBeGreaterThan(200);
  expect(figures.median).toBeLessThan(0.02);
  expect(figures.worst).toBeLessThan(0.1);
  expect(figures.worst).toBeLessThan(figures.blurWorst / 3);
});
