/**
 * Mattes of rendered pictures with fine hair and gauze, mixed in linear light, with noise and JPEG, held to the truth and to others: the closed form of Levin, Lischinski, Weiss 2008,
 * solved directly by scipy with the same band, and OpenCV's grabCut from the same box. Rendered and scored by tests/support/mattes.py.
 */
import { join } from "node:path";
import { byDay, nightly } from "../../support/night";
import { runMarsh, runSupport, temporaryFolder } from "../../support/python";

interface Made {
  box: number[];
  closedForm: { sad: number; gradient: number };
  grabCut: number;
}
interface Score {
  sad: number;
  sadInBand: number;
  gradient: number;
  frontRms: number;
  shape: number[];
  dtype: string;
}
const SEEDS = Array.from({ length: 20 }, (_, i) => 21 + i);
const made = new Map<number, Made & { folder: string }>();

function scene(seed: number): Made & { folder: string } {
  const folder = temporaryFolder();
  const known = made.get(seed) ?? { folder, ...runSupport<Made>("mattes.py", ["make", folder, String(seed)]) };
  made.set(seed, known);
  return known;
}

function cut(seed: number, how: (s: Made & { folder: string }) => string[]): Score & { figures: { band: { pixels: number }; share: number } } {
  const s = scene(seed);
  const [alpha, front] = ["alpha.tif", "front.tif"].map((name) => join(s.folder, name));
  const { out } = runMarsh(["matte", join(s.folder, "picture.jpg"), ...how(s), "-o", alpha, "--foreground", front, "--json", "--quiet"]);
  return { figures: JSON.parse(out), ...runSupport<Score>("mattes.py", ["score", s.folder, alpha, front]) };
}

it.each(byDay(SEEDS, 10))("with the band given, scene %i: at most 0.85 of the closed form's error, no worse gradients, colours freed", (seed) => {
  const { closedForm, folder } = scene(seed);
  const got = cut(seed, () => ["--trimap", join(folder, "trimap.png")]);
  expect([got.shape, got.dtype]).toEqual([[360, 480], "uint16"]);
  expect(got.sadInBand).toBeLessThanOrEqual(0.85 * closedForm.sad);
  expect(got.gradient).toBeLessThanOrEqual(closedForm.gradient);
});

it("with the box alone: less than half of grabCut's error where only hair is fine", () => {
  const { grabCut, box } = scene(21);
  expect(cut(21, () => ["--box", box.join(",")]).sad).toBeLessThan(0.5 * grabCut);
});

it("with a clean plate: less than with the band given, colours within 0.03", () => {
  const { folder } = scene(21);
  const plate = cut(21, () => ["--clean", join(folder, "clean.jpg")]);
  expect(plate.sad).toBeLessThan(cut(21, () => ["--trimap", join(folder, "trimap.png")]).sad);
  expect(plate.frontRms).toBeLessThanOrEqual(0.03);
});

nightly("over all scenes: colours within 0.03 in most, the box nearly always better than grabCut, the plate better than the box", () => {
  const all = SEEDS.map((seed) => {
    const { folder, box, grabCut } = scene(seed);
    const given = cut(seed, () => ["--trimap", join(folder, "trimap.png")]);
    const boxed = cut(seed, () => ["--box", box.join(",")]);
    const plated = cut(seed, () => ["--clean", join(folder, "clean.jpg")]);
    return { seed, front: given.frontRms, boxed: boxed.sad / given.sad, cut: boxed.sad / grabCut, plated: plated.sad / boxed.sad };
  });
  process.stderr.write(
    all
      .map(
        (a) =>
          `${a.seed}: front ${a.front.toFixed(3)}, box ${a.boxed.toFixed(2)} of given and ${a.cut.toFixed(2)} of grabCut, plate ${a.plated.toFixed(2)} of box`,
      )
      .join("\n") + "\n",
  );
  expect(all.filter((a) => a.front <= 0.03).length).toBeGreaterThan(all.length / 2);
  expect(all.filter((a) => a.cut <= 1).length).toBeGreaterThanOrEqual(0.9 * all.length);
  expect(all.filter((a) => a.plated <= 1).length).toBeGreaterThanOrEqual(0.9 * all.length);
});
