/**
 * Projections and lens against outside figures: Snyder 1987, "Map projections: a working manual" (numerical examples and formulas for the
 * sphere, recalled from memory), OpenCV's warpers, and OpenCV's projectPoints with the intrinsics published for its chessboard pictures
 * (opencv-doc, left_intrinsics.yml).
 */
import { readFileSync } from "node:fs";
import { gunzipSync } from "node:zlib";
import { existsSync } from "node:fs";
import { pixelOf, rotationOf, type Camera } from "../../../src/core/panorama/camera";
import { projectionOf, type ProjectionName } from "../../../src/core/panorama/projections";
import { runPython } from "../../support/python";

const RAD = Math.PI / 180;
const at = (lonDeg: number, latDeg: number) => {
  const [l, p] = [lonDeg * RAD, latDeg * RAD];
  return [Math.sin(l) * Math.cos(p), -Math.sin(p), Math.cos(l) * Math.cos(p)];
};

it.each([
  // Mercator on the unit sphere, 35° N, 105° east of the middle: x = 1.8325957, y = 0.6528366
  ["mercator", 105, 35, 1.8325957, 0.6528366],
  // equidistant cylindrical: the angles themselves
  ["equirectangular", -75, 50, -75 * RAD, 50 * RAD],
  // gnomonic, x = tan λ, y = tan φ / cos λ
  ["rectilinear", 30, 20, Math.tan(30 * RAD), Math.tan(20 * RAD) / Math.cos(30 * RAD)],
  // stereographic, k = 2 / (1 + cos φ cos λ)
  [
    "stereographic",
    30,
    10,
    (2 * Math.cos(10 * RAD) * Math.sin(30 * RAD)) / (1 + Math.cos(10 * RAD) * Math.cos(30 * RAD)),
    (2 * Math.sin(10 * RAD)) / (1 + Math.cos(10 * RAD) * Math.cos(30 * RAD)),
  ],
] as const)("%s has the published values", (name, lon, lat, x, y) => {
  const p = projectionOf(name).toPlane(at(lon, lat))!;
  expect(p[0]).toBeCloseTo(x, 6);
  expect(-p[1]).toBeCloseTo(y, 6);
});

it("agrees with OpenCV's warpers to a hundredth of a px", () => {
  const [focal, scale] = [900, 800];
  const points = [
    [0, 0],
    [300, 200],
    [899, 20],
    [640, 580],
  ];
  const turn = rotationOf({ yawDeg: 12, pitchDeg: 5, rollDeg: -8 });
  const names: [string, ProjectionName][] = [
    ["plane", "rectilinear"],
    ["cylindrical", "cylindrical"],
    ["spherical", "equirectangular"],
    ["mercator", "mercator"],
  ];
  const theirs = runPython<Record<string, number[][]>>(
    `import cv2, sys, json, numpy as np
a = json.loads(sys.argv[1])
k = np.float32([[a['focal'], 0, 449.5], [0, a['focal'], 299.5], [0, 0, 1]])
r = np.float32(a['turn']).reshape(3, 3)
print(json.dumps({n: [[float(v) for v in cv2.PyRotationWarper(n, a['scale']).warpPoint(p, k, r)] for p in a['points']] for n in a['names']}))`,
    [JSON.stringify({ focal, scale, turn, points, names: names.map((n) => n[0]) })],
  );
  const camera: Camera = { width: 900, height: 600, rotation: turn, focalPx: focal, k1: 0, k2: 0, shiftX: 0, shiftY: 0 };
  for (const [other, own] of names) {
    const found = points.map(([x, y]) => {
      const ray = [(x - 449.5) / focal, (y - 299.5) / focal, 1];
      const world = [0, 1, 2].map((i) => camera.rotation[3 * i] * ray[0] + camera.rotation[3 * i + 1] * ray[1] + camera.rotation[3 * i + 2] * ray[2]);
      return projectionOf(own)
        .toPlane(world)!
        .map((v) => v * scale);
    });
    // their spherical picture counts from a pole, ours from the horizon: only the differences between places matter
    found.forEach((p, i) => {
      p.forEach((v, c) => expect(v - found[0][c]).toBeCloseTo(theirs[other][i][c] - theirs[other][0][c], 2));
    });
  }
});

it("bends as the chessboard's published lens does", () => {
  const base = "/usr/share/doc/opencv-doc/examples/data/left_intrinsics.yml";
  const text = existsSync(base) ? readFileSync(base, "utf8") : gunzipSync(readFileSync(`${base}.gz`)).toString();
  const numbers = (name: string) =>
    text
      .slice(text.indexOf(name))
      .match(/data: \[([^\]]*)\]/)![1]
      .split(",")
      .map(Number);
  const matrix = numbers("camera_matrix");
  const [k1, k2] = numbers("distortion_coefficients");
  expect(matrix[0]).toBeCloseTo(535.9, 1);
  const [width, height] = [640, 480];
  const camera: Camera = {
    width,
    height,
    rotation: rotationOf({ yawDeg: 0, pitchDeg: 0, rollDeg: 0 }),
    focalPx: matrix[0],
    k1,
    k2,
    shiftX: matrix[2] - (width - 1) / 2,
    shiftY: matrix[5] - (height - 1) / 2,
  };
  const rays = Array.from({ length: 60 }, (_, i) => [0.55 * Math.sin(i * 1.7), 0.4 * Math.cos(i * 2.3), 1]);
  const theirs = runPython<number[][]>(
    `import cv2, sys, json, numpy as np
a = json.loads(sys.argv[1])
k = np.array([[a['f'], 0, a['cx']], [0, a['f'], a['cy']], [0, 0, 1.0]])
print(json.dumps(cv2.projectPoints(np.array(a['rays']), np.zeros(3), np.zeros(3), k, np.array([a['k1'], a['k2'], 0, 0, 0.0]))[0][:, 0].tolist()))`,
    [JSON.stringify({ rays, f: matrix[0], cx: matrix[2], cy: matrix[5], k1, k2 })],
  );
  rays.forEach((ray, i) => {
    const p = pixelOf(camera, ray)!;
    expect(Math.hypot(p[0] - theirs[i][0], p[1] - theirs[i][1])).toBeLessThan(1e-6);
  });
});
