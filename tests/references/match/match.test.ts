/**
 * Pictures brought to others by the command line, against what was made of them by numpy: a camera's matrix, exposure and exponents, to 8 bits, on photographs of Debian's lomiri-wallpapers. Colour
 * differences are scikit-image's deltaE_ciede2000; beside stand its match_histograms, Reinhard's mean and deviation in Lab (Reinhard et al. 2001), and a polynomial fitted to pairs (numpy's lstsq).
 */
import { join } from "node:path";
import { NIGHT } from "../../support/night";
import { runMarsh, runPython, temporaryFolder } from "../../support/python";

const folder = temporaryFolder();
const PHOTOGRAPHS = [
  "Bridge_by_Sander_Klootwijk",
  "life_by_Aitzol_Berasategi",
  "Wine_by_Jakkub_Mede",
  "umang_by_Abhishek_Mudgal",
  "seeding_by_Clements_Engelhardt",
  "picosdeeuropa_by_Aitzol_Berasategi",
  "sunset_by_Aitzol_Berasategi",
  "friends_by_Aitzol_Berasategi",
];
/** Drawn, of soft gradients: no place of a part of it can be found. */
const DRAWN = "umang_by_Abhishek_Mudgal";
const SHOWN = NIGHT ? PHOTOGRAPHS : PHOTOGRAPHS.slice(0, 2);
const path = (name: string) => join(folder, name);

const MADE = `
import cv2, json, sys, numpy as np
from skimage.color import rgb2lab, lab2rgb, deltaE_ciede2000
from skimage.exposure import match_histograms
name, folder, seed = sys.argv[1], sys.argv[2], int(sys.argv[3])
rng = np.random.default_rng(seed)
dec = lambda v: np.where(v <= 0.04045, v / 12.92, ((v + 0.055) / 1.055) ** 2.4)
enc = lambda v: np.where(v <= 0.0031308, 12.92 * v, 1.055 * np.maximum(v, 0) ** (1 / 2.4) - 0.055)
a = cv2.imread(f'/usr/share/backgrounds/{name}.jpg')[..., ::-1]
a = cv2.resize(a, None, fx=900 / max(a.shape[:2]), fy=900 / max(a.shape[:2]), interpolation=cv2.INTER_AREA)
m = np.eye(3) + rng.uniform(-0.12, 0.12, (3, 3)); m /= m.sum(1, keepdims=True)
light = np.maximum(dec(a / 255.0) @ m.T * 2 ** rng.uniform(-0.8, 0.4) * 2 ** rng.uniform(-0.25, 0.25, 3), 0) ** rng.uniform(0.85, 1.2, 3)
b = np.round(enc(np.clip(light, 0, 1)) * 255).astype(np.uint8)
h, w = b.shape[:2]
s = b.reshape(-1, 3).copy(); rng.shuffle(s)
for which, p in (('a', a), ('b', b), ('shuffled', s.reshape(b.shape)), ('part', b[int(h * .1):int(h * .875), int(w * .15):int(w * .925)])):
    cv2.imwrite(f'{folder}/{seed}-{which}.png', p[..., ::-1])
de = lambda p: float(deltaE_ciede2000(rgb2lab(p / 255.0), rgb2lab(b / 255.0)).mean())
x = a.reshape(-1, 3) / 255.0
terms = np.concatenate([x, x ** 2, x[:, [0]] * x[:, [1]], x[:, [1]] * x[:, [2]], x[:, [0]] * x[:, [2]], np.ones((len(x), 1))], 1)
poly = np.clip(terms @ np.linalg.lstsq(terms, b.reshape(-1, 3) / 255.0, rcond=None)[0], 0, 1).reshape(a.shape) * 255
la, lb = rgb2lab(a / 255.0), rgb2lab(b / 255.0)
reinhard = np.clip(lab2rgb((la - la.mean((0, 1))) / la.std((0, 1)) * lb.std((0, 1)) + lb.mean((0, 1))), 0, 1) * 255
print(json.dumps({'before': de(a), 'polynomial': de(poly), 'histograms': de(match_histograms(a, b, channel_axis=-1).astype(float)), 'reinhard': de(reinhard)}))
`;

const JUDGED = `
import cv2, json, sys
from skimage.color import rgb2lab, deltaE_ciede2000
a, b = [cv2.imread(p, cv2.IMREAD_UNCHANGED)[..., :3][..., ::-1] for p in sys.argv[1:3]]
print(json.dumps(float(deltaE_ciede2000(rgb2lab(a / 65535.0), rgb2lab(b / 255.0)).mean())))
`;

interface Others {
  before: number;
  polynomial: number;
  histograms: number;
  reinhard: number;
}

function matched(seed: number, to: string, ...more: string[]): { deltaE: number; method: string } {
  const out = path(`${seed}-out.tif`);
  const run = runMarsh(["match", path(`${seed}-a.png`), "--to", path(`${seed}-${to}.png`), ...more, "-o", out, "--json", "--quiet"]);
  expect(run.err).toBe("");
  expect(run.code).toBe(0);
  const { method } = JSON.parse(run.out) as { method: string };
  return { deltaE: runPython<number>(JUDGED, [out, path(`${seed}-b.png`)]), method };
}

it.each(SHOWN.map((name, seed) => ({ name, seed })))(
  "$name is brought to another camera's rendering of it, nearer than the classical ways",
  ({ name, seed }) => {
    const others = runPython<Others>(MADE, [name, folder, String(seed)]);
    expect(others.before).toBeGreaterThan(1.5);
    const paired = matched(seed, "b", "--paired");
    expect(paired.method).toBe("places");
    expect(paired.deltaE).toBeLessThan(0.35);
    // nothing is registered in secret: the reference's px lie anywhere
    const shuffled = matched(seed, "shuffled");
    expect(shuffled.method).toBe("colours");
    expect(shuffled.deltaE).toBeLessThan(0.9);
    expect(shuffled.deltaE).toBeLessThan(Math.min(others.histograms, others.reinhard));
    // a reference that shows three fifths of the view
    const part = matched(seed, "part");
    expect(part.method).toBe(name === DRAWN ? "steps" : "places");
    if (name !== DRAWN) expect(part.deltaE).toBeLessThan(1.5);
  },
);

it("under a mask what is white in it is matched, and the rest stays as it is; inspect tells the ends of what a mask shows", () => {
  runPython<number>(
    `
import cv2, json, sys, numpy as np
f = sys.argv[1]
a = cv2.imread(f + '/0-a.png'); m = np.zeros(a.shape, np.uint8); m[:, : a.shape[1] // 2] = 255
cv2.imwrite(f + '/half.png', m)
print(json.dumps(0))`,
    [folder],
  );
  const out = path("masked.tif");
  const run = runMarsh(["match", path("0-a.png"), "--to", path("1-b.png"), "--method", "steps", "--mask", path("half.png"), "-o", out, "--json", "--quiet"]);
  expect(run.code).toBe(0);
  const told = JSON.parse(run.out) as { method: string; before: { tone: number }; after: { tone: number } };
  expect(told.method).toBe("steps");
  expect(told.after.tone).toBeLessThan(0.6 * told.before.tone);
  const moved = runPython<{ left: number; right: number }>(
    `
import cv2, json, sys, numpy as np
a = cv2.imread(sys.argv[1]).astype(float); b = cv2.imread(sys.argv[2], cv2.IMREAD_UNCHANGED)[..., :3] / 257.0
w = a.shape[1] // 2; d = np.abs(a - b)
print(json.dumps({'left': float(d[:, : w - 8].mean()), 'right': float(d[:, w + 8 :].max())}))`,
    [path("0-a.png"), out],
  );
  expect(moved.left).toBeGreaterThan(3);
  // but for the curve of 16 bits
  expect(moved.right).toBeLessThan(0.02);
  const ends = (...args: string[]) =>
    (JSON.parse(runMarsh(["inspect", path("0-a.png"), "--json", "--quiet", ...args]).out) as { frames: { ends: { mono: { middle: number } } }[] }).frames[0]
      .ends.mono.middle;
  const inHalf = runPython<number>(
    `
import cv2, json, sys, numpy as np
a = cv2.imread(sys.argv[1])[:, : cv2.imread(sys.argv[1]).shape[1] // 2] / 255.0
l = np.where(a <= 0.04045, a / 12.92, ((a + 0.055) / 1.055) ** 2.4)
print(json.dumps(float(np.log2(np.median(l @ [0.0722, 0.7152, 0.2126])))))`,
    [path("0-a.png")],
  );
  expect(Math.abs(ends("--mask", path("half.png")) - inHalf)).toBeLessThan(0.1);
  expect(ends()).not.toBeCloseTo(inHalf, 2);
});

it("what tells nothing, and pairs that contradict each other, get their sentence", () => {
  runPython(
    `
import cv2, numpy as np, json, sys
f = sys.argv[1]
cv2.imwrite(f + '/even.png', np.full((200, 300, 3), 120, np.uint8))
cv2.imwrite(f + '/small.png', np.zeros((4, 6, 3), np.uint8))
cv2.imwrite(f + '/none.png', np.zeros(cv2.imread(f + '/0-a.png').shape, np.uint8))
print(json.dumps(0))`,
    [folder],
  );
  const run = (...args: string[]) => {
    const { code, err } = runMarsh(["match", path("0-a.png"), ...args, "-o", path("none.tif"), "--quiet"]);
    expect(code).not.toBe(0);
    return err;
  };
  expect(run("--to", path("even.png"))).toMatch(/all of one tone and one colour/);
  expect(run("--to", path("0-b.png"), "--mask", path("none.png"))).toMatch(/mask shows too little/);
  expect(run("--to", path("even.png"), "--paired")).toMatch(/all of one tone and one colour/);
  expect(run("--to", path("0-b.png"), "--pair", "10,10,5000,5000")).toMatch(/lies outside/);
  expect(run("--to", path("0-b.png"), "--pair", "100,100,100,100", "--pair", "101,100,700,400")).toMatch(/Pairs 1 and 2 contradict/);
  expect(run("--to", path("0-b.png"), "--method", "magic")).toMatch(/steps or statistics/);
});
