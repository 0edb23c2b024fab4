/**
 * Views cut from Debian's photographs with known directions (tests/support/panorama.py, numpy and OpenCV), falloff, exposure steps, shot noise
 * and JPEG. At night OpenCV's detail pipeline gets the same frames in the same run; its figures are printed beside ours.
 */
import { execFileSync } from "node:child_process";
import { readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { angleBetween, transpose } from "../../../src/core/panorama/camera";
import { multiply } from "../../../src/core/geometry/matrix3";
import { byDay, NIGHT, nightly } from "../../support/night";
import { runMarsh, runPython, runSupport, temporaryFolder } from "../../support/python";

const PHOTOS = "/usr/share/backgrounds";
const ROW = [
  [-44, 1.5, 0.8, 0],
  [-22, -1, -1.2, 0.4],
  [0, 0.5, 0.3, -0.3],
  [21, 1.2, 1.9, 0.6],
  [43, -0.7, -0.6, 0.1],
];
const GRID = [
  [-20, 11, 1, 0],
  [0, 12, -1, 0.3],
  [21, 10, 0.5, -0.2],
  [-21, -11, -0.7, 0.4],
  [1, -10, 1.2, 0.1],
  [20, -12, 0, -0.4],
];
const row = { photo: `${PHOTOS}/life_by_Aitzol_Berasategi.jpg`, degrees: 150, masterWidth: 3088, size: [900, 680], focal: 950, views: ROW, falloff: 0.25 };
const grid = {
  photo: `${PHOTOS}/picosdeeuropa_by_Aitzol_Berasategi.jpg`,
  degrees: 110,
  masterWidth: 3264,
  size: [900, 680],
  focal: 1100,
  views: GRID,
  falloff: 0.3,
};

interface Truth {
  focal: number;
  frames: { file: string; rotation: number[] }[];
}
interface Result {
  version: number;
  width: number;
  height: number;
  focalPx: number;
  frames: { file: string; placed: boolean; rotation: number[][]; k1: number; residualPx: number; reason: string | null; sdDeg: number }[];
  seams: { deltaE: number; lengthPx: number }[];
  crop: { x: number; y: number; width: number; height: number };
  picture: { width: number; height: number; bend: { amount: number; px: number; deg: number } | null };
}

function make(spec: object): { folder: string; truth: Truth; files: string[] } {
  const folder = temporaryFolder();
  runSupport("panorama.py", ["make", folder, JSON.stringify(spec)]);
  const truth = JSON.parse(readFileSync(join(folder, "truth.json"), "utf8")) as Truth;
  return { folder, truth, files: truth.frames.map((f) => join(folder, f.file)) };
}

function panorama(files: string[], ...more: string[]): Result {
  const { code, out, err } = runMarsh(["panorama", ...files, "--json", "--quiet", ...more]);
  expect(err).toBe("");
  expect(code).toBe(0);
  return JSON.parse(out) as Result;
}

/** Worst angle between directions found and true ones, against the frame in the middle, degrees. */
function worst(rotations: (number[] | null)[], truth: Truth): number {
  const m = rotations.findIndex((r, i) => r && i >= Math.floor(rotations.length / 2));
  return Math.max(
    ...rotations.map((r, i) =>
      r ? angleBetween(multiply(transpose(rotations[m]!), r), multiply(transpose(truth.frames[m].rotation), truth.frames[i].rotation)) : 0,
    ),
  );
}

/** What OpenCV's detail pipeline makes of the same frames, for comparison: it takes longer than all the rest, so at night only. */
function opencv(folder: string, truth: Truth): string {
  const other = runSupport<{ ok: boolean; focal: number; rotations?: number[][] }>("panorama.py", ["opencv", folder]);
  if (!other.ok || !other.rotations) return "failed";
  return `${worst(other.rotations, truth).toFixed(3)}°, focal ${(100 * Math.abs(other.focal / truth.focal - 1)).toFixed(2)} %`;
}

function score(name: string, spec: object, ...more: string[]) {
  const { folder, truth, files } = make(spec);
  const found = panorama(files, ...more);
  const rotationDeg = worst(
    found.frames.map((f) => (f.placed ? f.rotation.flat() : null)),
    truth,
  );
  const focal = Math.abs(found.focalPx / truth.focal - 1);
  const residual = found.frames.reduce((sum, f) => sum + f.residualPx, 0) / found.frames.length;
  const theirs = NIGHT ? `; OpenCV ${opencv(folder, truth)}` : "";
  const seam = found.seams.reduce((sum, s) => sum + s.deltaE * s.lengthPx, 0) / found.seams.reduce((sum, s) => sum + s.lengthPx, 0);
  process.stdout.write(
    `${name}: rotation ${rotationDeg.toFixed(4)}°, focal ${(100 * focal).toFixed(3)} %, residual ${residual.toFixed(3)} px, seams ΔE ${seam.toFixed(2)}${theirs}\n`,
  );
  return { found, truth, files, folder, rotationDeg, focal, residual, seam };
}

it.each(
  byDay(
    [
      ["3×2", grid],
      ["5×1", row],
    ] as [string, object][],
    2,
  ),
)("%s: directions to 0.02°, focal length to 0.15 %%, 0.3 px left, seams of at most 1 ΔE", (name, spec) => {
  const s = score(name, spec);
  expect(s.found.frames.every((f) => f.placed)).toBe(true);
  expect(s.rotationDeg).toBeLessThanOrEqual(0.02);
  expect(s.focal).toBeLessThanOrEqual(0.0015);
  expect(s.residual).toBeLessThanOrEqual(0.3);
  expect(s.seam).toBeLessThanOrEqual(1);
  expect(s.found.frames[0].k1).toBe(0);
});

it.each(
  byDay(
    [
      ["5×1, k1 −0.12", { ...row, k1: -0.12 }],
      ["3×2, k1 −0.12", { ...grid, k1: -0.12 }],
    ] as [string, object][],
    2,
  ),
)("%s, not told: directions to 0.05°, focal length to 0.5 %%, and the lens found", (name, spec) => {
  const s = score(name, spec);
  expect(s.rotationDeg).toBeLessThanOrEqual(0.05);
  expect(s.focal).toBeLessThanOrEqual(0.005);
  expect(Math.abs(s.found.frames[0].k1 + 0.12)).toBeLessThan(0.005);
});

nightly("a full circle closes to 0.05°", () => {
  const folder = temporaryFolder();
  const ring = join(folder, "ring.png");
  runPython(
    "import cv2, sys, numpy as np\na, b = [cv2.imread(p) for p in sys.argv[2:4]]\ncv2.imwrite(sys.argv[1], np.concatenate([cv2.resize(a, (2100, 1400)), cv2.resize(b, (1870, 1400))], 1))\nprint('{}')",
    [ring, row.photo, grid.photo],
  );
  const views = Array.from({ length: 9 }, (_, i) => [-180 + 40 * i + [0.7, -0.9, 0.4][i % 3], 2 * ((i % 3) - 1), 1.5 * (i % 2) - 0.7, 0.2 * (i % 4) - 0.3]);
  const s = score(
    "full circle",
    { photo: ring, degrees: 360, masterWidth: 3970, size: [800, 620], focal: 640, views, falloff: 0.2 },
    "--projection",
    "cylindrical",
  );
  expect(s.found.frames.every((f) => f.placed)).toBe(true);
  expect(s.rotationDeg).toBeLessThanOrEqual(0.05);
  expect(Math.abs(s.found.width - 2 * Math.PI * s.found.focalPx)).toBeLessThan(12);
});

nightly("soft frames are right, and where nothing is to be seen they are refused", () => {
  const soft = score("soft", { ...row, soft: 4 });
  expect(soft.rotationDeg).toBeLessThanOrEqual(0.1);
  const { files } = make({ ...row, photo: `${PHOTOS}/free_by_Peter_Nerlich.jpg`, soft: 8, contrast: 0.2 });
  const { code, err } = runMarsh(["panorama", ...files, "--json", "--quiet"]);
  expect(code).toBe(1);
  expect(err).toMatch(/too little structure|overlap/);
});

it("any order does, a told focal length is taken, the crop has the ratio, and the file holds it", () => {
  const { folder, truth, files } = make(row);
  const out = join(folder, "wide.png");
  const mixed = [3, 0, 4, 2, 1].map((i) => files[i]);
  const found = panorama(mixed, "--focal-px", "940", "--projection", "cylindrical", "--crop", "ratio", "2:1", "-o", out);
  const rotations = files.map((f) => found.frames.find((g) => g.file === f)!.rotation.flat());
  expect(worst(rotations, truth)).toBeLessThanOrEqual(0.02);
  expect(found.width / found.height).toBeCloseTo(2, 2);
  const read = runPython<{ shape: number[]; type: string; empty: number }>(
    // a corner that no frame covers would be a patch of 0; single dark px may be
    "import cv2, sys, json, numpy as np\na = cv2.imread(sys.argv[1], -1)\nempty = cv2.erode((a.max(2) == 0).astype(np.uint8), np.ones((3, 3)), borderValue=1)\nprint(json.dumps({'shape': a.shape, 'type': str(a.dtype), 'empty': int(empty.sum())}))",
    [out],
  );
  expect(read).toEqual({ shape: [found.height, found.width, 3], type: "uint16", empty: 0 });
});

nightly(
  "bent outwards, the largest crop is nearly all of the picture, and what that costs is said",
  () => {
    const { files } = make({ ...row, views: ROW.slice(1, 4) });
    const area = ({ crop }: Result) => crop.width * crop.height;
    const whole = ({ picture }: Result) => picture.width * picture.height;
    const [flat, bent] = [panorama(files), panorama(files, "--bend", "100")];
    expect(bent.picture).toMatchObject({ width: flat.picture.width, height: flat.picture.height });
    expect(flat.picture.bend).toBeNull();
    expect(area(flat)).toBeLessThan(0.93 * whole(flat));
    expect(area(bent)).toBeGreaterThan(0.97 * whole(bent));
    // as shot each frame is 680 px high and wobbles by 2.2° and 3.1° of roll over 900 px: some 70 px
    expect(bent.picture.bend!.px).toBeGreaterThan(15);
    expect(bent.picture.bend!.px).toBeLessThan(110);
    expect(bent.picture.bend!.deg).toBeLessThan(15);
  },
  240_000,
);

it("what does not belong is named: a mirrored frame, another focal length, another panorama, nothing in common", () => {
  const a = make(row);
  const b = make({ ...grid, views: GRID.slice(0, 2) });
  const [mirrored, nearer] = ["mirrored.jpg", "nearer.jpg"].map((n) => join(a.folder, n));
  runPython(
    "import cv2, sys\na = cv2.imread(sys.argv[1]); h, w = a.shape[:2]\ncv2.imwrite(sys.argv[2], a[:, ::-1])\ncv2.imwrite(sys.argv[3], cv2.resize(a[h // 6:h - h // 6, w // 6:w - w // 6], (w, h), interpolation=cv2.INTER_CUBIC))\nprint('{}')",
    [a.files[3], mirrored, nearer],
  );
  const found = panorama([...a.files.slice(0, 3), mirrored, nearer, ...b.files]);
  const reason = (file: string) => found.frames.find((f) => f.file === file)!.reason;
  expect(found.frames.filter((f) => f.placed).map((f) => f.file)).toEqual(a.files.slice(0, 3));
  expect(reason(mirrored)).toMatch(/mirrored/);
  expect(reason(nearer)).toMatch(/focal length/);
  for (const f of b.files) expect(reason(f)).toMatch(/another panorama/);
  for (const files of [[a.files[0], b.files[0]], [a.files[0]]]) {
    const { code, err } = runMarsh(["panorama", ...files, "--json", "--quiet"]);
    expect(code).toBe(1);
    expect(err).toMatch(/overlap/);
  }
  const broken = join(a.folder, "broken.jpg");
  writeFileSync(broken, "no picture");
  const rest = runMarsh(["panorama", a.files[0], broken, a.files[1], "--json", "--quiet"]);
  expect((JSON.parse(rest.out) as Result).frames.map((f) => f.placed)).toEqual([true, false, true]);
});

nightly("the joined picture is the photograph: seen from the middle frame's direction it differs by little more than its noise", () => {
  const { folder, truth, files } = make({ ...row, views: ROW.map(([yaw, pitch, roll]) => [yaw, pitch, roll, 0]), falloff: 0.25 });
  const out = join(folder, "wide.tif");
  const found = panorama(files, "--projection", "rectilinear", "--crop", "none", "-o", out, "--focal-px", "950");
  // a rectilinear picture is what one wide camera would see: the photograph is sampled through the same directions
  const scored = execFileSync(
    "/usr/bin/python3",
    [
      "tests/support/panorama.py",
      "compare",
      folder,
      out,
      JSON.stringify({
        photo: row.photo,
        masterWidth: row.masterWidth,
        degrees: row.degrees,
        found,
        truth: truth.frames[2].rotation,
        middle: found.frames[2].rotation,
      }),
    ],
    { encoding: "utf8" },
  );
  const { psnr, covered } = JSON.parse(scored.trim().split("\n").pop()!) as { psnr: number; covered: number };
  process.stdout.write(`joined picture against the photograph: ${psnr.toFixed(1)} dB over ${(100 * covered).toFixed(0)} %\n`);
  // the sides of so wide a rectilinear picture are enlarged and not looked at
  expect(covered).toBeGreaterThan(0.05);
  expect(psnr).toBeGreaterThan(33);
});
