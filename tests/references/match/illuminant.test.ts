/** The light of a picture, by what is greyest in it: photographs of the Debian archive (lomiri-wallpapers-16.04) under added casts, and demo pictures taken before grey paper. */
import { join } from "node:path";
import { angleBetween } from "../../../src/core/color/illuminant";
import { NIGHT } from "../../support/night";
import { runMarsh, runPython, temporaryFolder } from "../../support/python";

const folder = temporaryFolder();
const PHOTOGRAPHS = [
  "Wine_by_Jakkub_Mede",
  "seeding_by_Clements_Engelhardt",
  "friends_by_Aitzol_Berasategi",
  "aitzgorri_by_Aitzol_Berasategi",
  "Bridge_by_Sander_Klootwijk",
  "picosdeeuropa_by_Aitzol_Berasategi",
  "sunset_by_Aitzol_Berasategi",
  "life_by_Aitzol_Berasategi",
  "Dragonfly_by_Bolly",
  "Picture_1A_by_freespace",
];
const SHOWN = NIGHT ? PHOTOGRAPHS : PHOTOGRAPHS.slice(0, 2);
const CASTS = [
  [1.3, 1, 0.7],
  [0.75, 1, 1.4],
];

interface Told {
  kelvin: number | null;
  duv: number | null;
  rgb: number[];
  confidence: number;
}

const told = (...files: string[]): (Told | null)[] => {
  const run = runMarsh(["inspect", ...files, "--json", "--quiet"]);
  expect(run.code).toBe(0);
  return (JSON.parse(run.out) as { frames: { illuminant: Told | null }[] }).frames.map((f) => f.illuminant);
};

it("follows a cast that is laid on a photograph to a degree, and tells less surely where it does not", () => {
  const off: { deg: number; confidence: number }[] = [];
  for (const name of SHOWN) {
    runPython<number>(
      `
import cv2, json, sys, numpy as np
folder, name, casts = sys.argv[1], sys.argv[2], json.loads(sys.argv[3])
a = cv2.imread(f'/usr/share/backgrounds/{name}.jpg')[..., ::-1] / 255.0
l = np.where(a <= 0.04045, a / 12.92, ((a + 0.055) / 1.055) ** 2.4)
s = 1500 / max(l.shape[:2]); l = cv2.resize(l, None, fx=s, fy=s, interpolation=cv2.INTER_AREA)
for k, cast in enumerate([[1, 1, 1]] + casts):
    v = np.clip(l * np.array(cast) / max(cast), 0, 1)
    e = np.where(v <= 0.0031308, 12.92 * v, 1.055 * np.maximum(v, 1e-9) ** (1 / 2.4) - 0.055)
    cv2.imwrite(f'{folder}/{name}-{k}.png', np.round(65535 * e[..., ::-1]).astype(np.uint16))
print(json.dumps(0))`,
      [folder, name, JSON.stringify(CASTS)],
    );
    const [plain, ...cast] = told(...[0, ...CASTS].map((_, k) => join(folder, `${name}-${k}.png`))).map((t) => t!);
    cast.forEach(({ rgb, confidence }, k) =>
      off.push({
        deg: angleBetween(
          rgb,
          plain.rgb.map((v, c) => v * CASTS[k][c]),
        ),
        confidence: Math.min(confidence, plain.confidence),
      }),
    );
  }
  const sorted = off.map(({ deg }) => deg).sort((a, b) => a - b);
  if (NIGHT) process.stdout.write(`${JSON.stringify({ off })}\n`);
  expect(sorted[Math.floor(sorted.length / 2)]).toBeLessThan(1);
  for (const { deg, confidence } of off) if (confidence > 0.7) expect(deg).toBeLessThan(2);
});

it("is found to three degrees where grey paper fills what is behind a thing, and is neutral there", () => {
  for (const light of told(...[2, 3, 4].map((i) => `demo/keepers/keepers-${i}.jpg`))) {
    expect(angleBetween(light!.rgb, [1, 1, 1])).toBeLessThan(3);
    expect(light!.confidence).toBeGreaterThan(0.9);
    // D65 lies 0.0032 over black bodies
    expect(light!.kelvin).toBeGreaterThan(6200);
    expect(light!.kelvin).toBeLessThan(6800);
  }
});
