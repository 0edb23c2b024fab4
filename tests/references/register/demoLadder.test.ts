/** The demo bracket of ±8 EV between its ends against the truth written by scripts/scenes, and what Marsh makes of bad frames. */
import { copyFileSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { project } from "../../../src/core/geometry/matrix3";
import { runMarsh, runPython, temporaryFolder } from "../../support/python";

const DEMO = "demo/doorway";
const truth = JSON.parse(readFileSync(join(DEMO, "truth.json"), "utf8")) as {
  size: [number, number];
  frames: { file: string; ev: number; movingToReference: number[][] }[];
};
interface Registered {
  version: number;
  reference: string;
  frames: {
    file: string;
    registered: boolean;
    model: string;
    matrix: number[][] | null;
    residualPx: number;
    residualBeforePx: number;
    agreeing: number;
    confidence: number;
    reason: string | null;
  }[];
}

it("every frame of the ladder is placed to 0.2 px mean", () => {
  const files = truth.frames.map((f) => join(DEMO, f.file));
  const result = runMarsh(["register", "--reference", files[2], ...files, "--json", "--quiet"]);
  const { version, reference, frames } = JSON.parse(result.out) as Registered;
  expect({ version, reference }).toEqual({ version: 1, reference: files[2] });
  expect(frames.map((f) => f.file)).toEqual(files.filter((_, i) => i !== 2));
  for (const frame of frames) {
    const wanted = truth.frames.find((f) => frame.file.endsWith(f.file))!.movingToReference.flat();
    let sum = 0;
    let n = 0;
    for (let y = 0; y < truth.size[1]; y += 64) {
      for (let x = 0; x < truth.size[0]; x += 64) {
        const [p, q] = [project(frame.matrix!.flat(), x, y), project(wanted, x, y)];
        sum += Math.hypot(p[0] - q[0], p[1] - q[1]);
        n++;
      }
    }
    expect(sum / n).toBeLessThanOrEqual(0.2);
    expect(frame).toMatchObject({ registered: true, reason: null });
    expect(frame.residualPx).toBeLessThan(0.25);
    expect(frame.agreeing).toBeGreaterThan(0.9);
  }
});

it("inspect names the bracket and finds the frame whose metadata lies", () => {
  const result = runMarsh(["inspect", ...truth.frames.map((f) => join(DEMO, f.file)), "--json", "--quiet"]);
  const { set, frames } = JSON.parse(result.out) as {
    set: { kind: string; sentence: string; stepMeteredEv: number; oddities: string[] };
    frames: { measuredEv: number; meteredEv: number }[];
  };
  expect(set.kind).toBe("bracket");
  expect(set.stepMeteredEv).toBeCloseTo(2, 6);
  expect(set.oddities).toEqual(["Frame 4 is 0.1 EV brighter than its metadata says."]);
  truth.frames.forEach((f, i) => expect(Math.abs(frames[i].measuredEv - frames[2].measuredEv - f.ev)).toBeLessThan(0.1));
});

it("bad files get a sentence each, the rest goes on, and the exit says so", () => {
  const folder = temporaryFolder();
  const text = join(folder, "words.tif");
  writeFileSync(text, "only words");
  const cut = join(folder, "cut.jpg");
  writeFileSync(cut, readFileSync(join(DEMO, "doorway-2.jpg")).subarray(0, 90_000));
  const good = join(folder, "good.jpg");
  copyFileSync(join(DEMO, "doorway-3.jpg"), good);
  const result = runMarsh(["inspect", text, cut, good, good, join(folder, "missing.png"), "--json", "--quiet"]);
  expect(result.code).toBe(1);
  const { set, frames } = JSON.parse(result.out) as { set: { oddities: string[] }; frames: { error: string | null }[] };
  expect(frames.map((f) => f.error)).toEqual([
    "This is not a JPEG, PNG, TIFF, WebP, AVIF, OpenEXR, OpenRaster, Radiance, DNG or known camera raw picture.",
    "The JPEG data is damaged or cut short and cannot be read.",
    null,
    null,
    "The file does not exist.",
  ]);
  expect(set.oddities).toContain("Frame 2 is the same file as frame 1.");
  expect(runMarsh(["merge", "fusion", text, good, "-o", join(folder, "x.tif")])).toMatchObject({
    code: 1,
    err: expect.stringContaining("words.tif: This is not a JPEG"),
  });
  expect(runMarsh(["merge", "radiance", good, "-o", join(folder, "x.jpg")])).toMatchObject({ code: 2, err: expect.stringContaining("writes .hdr, .tif") });
  expect(runMarsh(["frobnicate"])).toMatchObject({ code: 2, err: expect.stringContaining('no command "frobnicate"') });
});

it("a frame of another scene is left out with its reason", () => {
  const folder = temporaryFolder();
  const other = join(folder, "other.jpg");
  runPython<{ ok: boolean }>(
    `import cv2, sys, json, glob
p = sorted(glob.glob('/usr/share/backgrounds/*.jpg'))[0]
cv2.imwrite(sys.argv[1], cv2.resize(cv2.imread(p), (2496, 1664)))
print(json.dumps({'ok': True}))`,
    [other],
  );
  const result = runMarsh(["register", "--reference", join(DEMO, "doorway-3.jpg"), join(DEMO, "doorway-2.jpg"), other, "--json", "--quiet"]);
  const { frames } = JSON.parse(result.out) as Registered;
  expect(frames.map((f) => f.registered)).toEqual([true, false]);
  expect(frames[1]).toMatchObject({ matrix: null, reason: expect.stringContaining("another scene") });
});
