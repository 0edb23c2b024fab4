/**
 * Things seated by proposals alone in plates that also exist with the thing truly there, rendered by Debian's POV-Ray (scripts/scenes/seated.py). Colour differences are
 * scikit-image's deltaE_ciede2000 (python3-skimage); pictures are read by OpenCV (python3-opencv 4.6).
 */
import { execFileSync } from "node:child_process";
import { copyFileSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { byDay, NIGHT } from "../../support/night";
import { runMarsh, runPython, temporaryFolder } from "../../support/python";

interface Truth {
  thing: string;
  focalPx: number;
  cameraHeightM: number;
  heightM: number;
  sun: { azimuthDeg: number; elevationDeg: number; ratioEv: number };
  stake: { foot: number[]; top: number[]; tip: number[] };
}

const FOLDER = join(process.cwd(), "tests/fixtures/seated");
const truth = JSON.parse(readFileSync(join(FOLDER, "truth.json"), "utf8")) as Record<string, Truth>;
const folder = temporaryFolder();
const median = (values: number[]) => [...values].sort((a, b) => a - b)[values.length >> 1];

interface Judged {
  /** ΔE2000 within what the thing and its shadow truly cover or were given, and where the thing is alone */
  seated: number;
  thing: number;
  /** the same sum for a plain paste, over the same number of px */
  pasted: number;
}

/** @returns null where the plate's lines tell no horizon */
function judged(name: string): Judged | null {
  const { focalPx, cameraHeightM, heightM, stake } = truth[name];
  const plate = join(folder, `${name}.jpg`);
  copyFileSync(join(FOLDER, `${name}-plate.jpg`), plate);
  const mm = Math.round((focalPx / Math.hypot(900, 600)) * Math.hypot(24, 36));
  execFileSync("exiftool", ["-q", "-overwrite_original", `-FocalLengthIn35mmFormat=${mm}`, plate]);
  const mark = [...stake.foot, ...stake.top, ...stake.tip].map((v) => v.toFixed(1)).join(",");
  const told = runMarsh(["plate", plate, "--json", "--quiet", "--camera-height", String(cameraHeightM), "--shadow", mark]);
  if (told.code !== 0) throw new Error(told.err);
  if ((JSON.parse(told.out) as { horizon: unknown }).horizon === null) return null;
  const [json, thing, out] = ["json", "tif", "out.tif"].map((ending) => join(folder, `${name}.${ending}`));
  writeFileSync(json, told.out);
  // where it truly stands: the middle of its lowest rows
  const foot = runPython<number[]>(
    `import cv2, json, sys, numpy as np, tifffile
t = cv2.imread(sys.argv[1], -1)
tifffile.imwrite(sys.argv[3], np.dstack([t[..., 2::-1], t[..., 3]]).astype(np.uint16) * 257, photometric="rgb", extrasamples=["unassalpha"])
y, x = np.nonzero(cv2.imread(sys.argv[2])[..., 2] > 127); low = y > y.max() - 0.06 * (y.max() - y.min())
print(json.dumps([float((x[low].min() + x[low].max()) / 2), float(y.max() + 0.5)]))`,
    [join(FOLDER, `${name}-thing.png`), join(FOLDER, `${name}-truth.png`), thing],
  );
  const args = ["--foot", foot.map((v) => v.toFixed(1)).join(","), "--height", String(heightM), "--plate", json, "--shadow", "-o", out, "--quiet"];
  const { code, err } = runMarsh(["seat", plate, thing, ...args]);
  if (code !== 0) throw new Error(err);
  return runPython<Judged>(
    `import cv2, json, sys, numpy as np
from skimage.color import deltaE_ciede2000, rgb2lab
folder, name, plate, out, foot = sys.argv[1], sys.argv[2], sys.argv[3], sys.argv[4], json.loads(sys.argv[5])
lab = lambda im: rgb2lab(im[..., ::-1])
plate = cv2.imread(plate) / 255; held = cv2.imread(f"{folder}/{name}-with.jpg") / 255; made = cv2.imread(out, -1) / 65535
true = cv2.imread(f"{folder}/{name}-truth.png"); cover, shadow = true[..., 2] > 12, cv2.medianBlur(true[..., 1], 3) > 25
t = cv2.imread(f"{folder}/{name}-thing.png", -1); a = t[..., 3] / 255; y, x = np.nonzero(a > 0.5); low = y > y.max() - 0.06 * (y.max() - y.min())
move = np.float64([[1, 0, foot[0] - (x[low].min() + x[low].max()) / 2], [0, 1, foot[1] - y.max()]]); place = lambda im: cv2.warpAffine(im, move, (900, 600))
a1 = place(a)[..., None]; pasted = plate * (1 - a1) + place(t[..., :3] / 255) * a1
P, H, M, Q = [lab(im) for im in (plate, held, made, pasted)]
e = deltaE_ciede2000(M, H); region = cover | shadow | (deltaE_ciede2000(M, P) > 3)
pe = deltaE_ciede2000(Q, H); other = cover | shadow | (deltaE_ciede2000(Q, P) > 3); n = region.sum()
print(json.dumps({"seated": float(e[region].sum() / n), "thing": float(e[cover].mean()), "pasted": float(pe[other].sum() / n)}))`,
    [FOLDER, name, plate, out, JSON.stringify(foot)],
  );
}

it("what is seated lies where it truly would: at most half of a plain paste's error, and the thing near its true place", () => {
  const some = byDay(Object.keys(truth), 6);
  const lines: string[] = [];
  const all = some.flatMap((name) => {
    const found = judged(name);
    lines.push(
      `${name} ${truth[name].thing}: ${found ? `${found.seated.toFixed(1)}, the thing ${found.thing.toFixed(1)}, pasted ${found.pasted.toFixed(1)}` : "no horizon"}`,
    );
    return found ? [found] : [];
  });
  process.stdout.write(`${lines.join("\n")}\n`);
  expect(all.filter((f) => f.seated > f.pasted / 2)).toEqual([]);
  if (!NIGHT) return;
  expect(all.length).toBeGreaterThanOrEqual(9);
  // 6 is meant; a picture taken from another height and distance shows the thing itself by one or two percent otherwise
  expect(median(all.map((f) => f.thing))).toBeLessThan(7);
});
