/**
 * First renderings beside OpenCV's operators in one run: structural fidelity by a form of its own (Yeganeh and Wang 2013, in Python), on merged brackets of the demo and on scenes of light made of them:
 * a night with lamps, and one of 14 stops. No character shows white what was not light itself, and night stays night.
 */
import { join } from "node:path";
import { runMarsh, runPython, temporaryFolder } from "../../support/python";

const folder = temporaryFolder();
const CHARACTERS = ["true", "soft", "rich"];

interface Developed {
  fidelity: number;
  mean: number;
  white: number;
  values: Record<string, Record<string, number>>;
  now: { fidelity: number };
}

const develop = (file: string, character: string, out: string): Developed => {
  const run = runMarsh(["develop", join(folder, file), "--character", character, "-o", join(folder, out), "--json", "--quiet"]);
  expect(run.err).toBe("");
  expect(run.code).toBe(0);
  return JSON.parse(run.out) as Developed;
};

beforeAll(() => {
  for (const [name, files] of [
    ["doorway", [1, 2, 3, 4, 5]],
    ["jetty", [1, 2, 3]],
  ] as const) {
    const run = runMarsh(["merge", "radiance", ...files.map((i) => `demo/${name}/${name}-${i}.jpg`), "-o", join(folder, `${name}.hdr`), "--quiet"]);
    expect(run.code).toBe(0);
  }
  runPython(
    `
import cv2, sys, numpy as np
folder = sys.argv[1]
for name in ('doorway', 'jetty'):
    a = cv2.imread(f'{folder}/{name}.hdr', cv2.IMREAD_UNCHANGED)
    cv2.imwrite(f'{folder}/{name}.hdr', cv2.resize(a, (900, round(a.shape[0] * 900 / a.shape[1])), interpolation=cv2.INTER_AREA))
a = cv2.imread(f'{folder}/doorway.hdr', cv2.IMREAD_UNCHANGED)
h, w = a.shape[:2]
y, x = np.mgrid[:h, :w]
night = a * 0.003
for cx, cy, power in ((220, 240, 3), (600, 310, 5)):
    d = (x - cx) ** 2 + (y - cy) ** 2
    night += (power * np.exp(-d / 24.0) + 0.02 * power / (1 + d / 400.0))[..., None] * np.array([0.35, 0.7, 1.0])
cv2.imwrite(f'{folder}/night.hdr', night.astype(np.float32))
# a shaded side, and a sun
wide = a * np.exp2(-5.0 * np.clip(1.2 - x / w, 0, 1))[..., None]
wide[np.hypot(x - 740, y - 45) < 9] = 60
cv2.imwrite(f'{folder}/wide.hdr', wide.astype(np.float32))
print('{}')`,
    [folder],
  );
});

/** Fidelity of our three and of Reinhard's, Drago's and Mantiuk's operators at OpenCV's defaults, by a form of its own. */
const fidelities = (scene: string): { ours: number[]; others: number[] } =>
  runPython(
    `
import cv2, json, sys, numpy as np
from scipy.ndimage import correlate
from scipy.stats import norm
folder, scene = sys.argv[1:3]
x = np.arange(-5, 6); window = np.exp(-(x[:, None] ** 2 + x[None] ** 2) / 4.5); window /= window.sum()
def part(a, b, cycles):
    f = lambda v: correlate(v, window, mode='reflect')[5:-5, 5:-5]
    ma, mb = f(a), f(b)
    sa, sb = np.sqrt(np.maximum(0, f(a * a) - ma * ma)), np.sqrt(np.maximum(0, f(b * b) - mb * mb))
    cross = f(a * b) - ma * mb
    seen = 260 * (0.0192 + 0.114 * cycles) * np.exp(-((0.114 * cycles) ** 1.1))
    p, q = (norm.cdf(s, 128 / seen, 128 / seen / 3) for s in (sa, sb))
    return (((2 * p * q + 0.01) / (p * p + q * q + 0.01)) * ((cross + 10) / (sa * sb + 10))).mean()
def fidelity(light, shown):
    a = (2.0 ** 32 - 1) * (light - light.min()) / (light.max() - light.min()); b = shown.copy(); s = 1.0
    for k, weight in enumerate([0.0448, 0.2856, 0.3001, 0.2363, 0.1333]):
        s *= max(0, part(a, b, 16 / 2 ** k)) ** weight
        a, b = (cv2.resize(v, (v.shape[1] // 2, v.shape[0] // 2), interpolation=cv2.INTER_AREA) for v in (a, b))
    return s
lum = lambda im: im.astype(np.float64) @ np.array([0.0722, 0.7152, 0.2126])
h = cv2.imread(f'{folder}/{scene}.hdr', cv2.IMREAD_UNCHANGED)
size = (420, round(h.shape[0] * 420 / h.shape[1]))
small = lambda im: cv2.resize(im.astype(np.float32), size, interpolation=cv2.INTER_AREA)
light = lum(small(h))
ours = [fidelity(light, lum(small(cv2.imread(f'{folder}/{scene}-{c}.jpg')))) for c in ('true', 'soft', 'rich')]
others = []
for operator in (cv2.createTonemapReinhard(2.2), cv2.createTonemapDrago(2.2), cv2.createTonemapMantiuk(2.2)):
    shown = np.clip(np.nan_to_num(operator.process(small(h))) * 255, 0, 255)
    others.append(fidelity(light, lum(shown)))
print(json.dumps({'ours': ours, 'others': others}))`,
    [folder, scene],
  );

it.each(["doorway", "jetty", "night", "wide"])("%s: one character keeps the structure within 0.02 of the best operator, and white is light itself", (scene) => {
  const made = CHARACTERS.map((character) => develop(`${scene}.hdr`, character, `${scene}-${character}.jpg`));
  const { ours, others } = fidelities(scene);
  process.stdout.write(`${scene}: ours ${ours.map((v) => v.toFixed(3)).join(" ")}, Reinhard, Drago, Mantiuk ${others.map((v) => v.toFixed(3)).join(" ")}\n`);
  expect(Math.max(...ours)).toBeGreaterThan(Math.max(...others) - 0.02);
  made.forEach(({ fidelity, mean, white, values }, k) => {
    // what is told is what another form finds, on another grid and after JPEG
    expect(Math.abs(fidelity - ours[k])).toBeLessThan(0.08);
    expect(white).toBeLessThan(0.005);
    if (scene === "night") expect(mean).toBeLessThan(0.35);
    expect(values.toneResponse.curve).toBe(1);
  });
  expect(new Set(made.map((m) => m.values.contrast.factor)).size).toBe(3);
});

it("a picture for a screen is developed without a tone response; what cannot be developed says why", () => {
  const run = runMarsh(["develop", "demo/haze/haze-1.jpg", "-o", join(folder, "haze.tif"), "--json", "--quiet"]);
  expect(run.code).toBe(0);
  const told = JSON.parse(run.out) as Developed;
  expect(told.values.toneResponse).toBeUndefined();
  expect(told.values.contrast.factor).toBeGreaterThan(1);
  expect(told.values.localTone).toBeUndefined();
  expect(runMarsh(["develop", join(folder, "night.hdr"), "--character", "grim", "-o", join(folder, "x.tif")])).toMatchObject({
    code: 2,
    err: expect.stringContaining("--character is true, soft, rich."),
  });
  expect(runMarsh(["develop", join(folder, "none.hdr"), "-o", join(folder, "x.tif")]).code).not.toBe(0);
  expect(runMarsh(["develop", join(folder, "night.hdr"), "-o", join(folder, "x.gif")]).code).toBe(2);
});
