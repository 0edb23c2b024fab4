/** Lateral colour planted in a made-up bracket with known light (numpy and OpenCV): found where it is, measured, undone or taken away, the sky left alone. */
import { join } from "node:path";
import { nightly } from "../../support/night";
import { runMarsh, runSupport, temporaryFolder } from "../../support/python";

interface Fringe {
  share: number;
  lateral: { red: number; blue: number } | null;
  widthPx: number;
  deltaE: number;
  worst: { x: number; y: number; deltaE: number }[];
}

/** Left and right edges of the stakes of the scene, px; the red and the blue picture are largest and smallest at the corners. */
const EDGES = [40, 54, 150, 164, 300, 314, 480, 494, 660, 674, 820, 834, 915, 929];

function merge(folder: string, made: { ev: number[]; files: string[] }, out: string, more: string[] = []): Fringe {
  const given = [`--ev=${made.ev.join(",")}`, "--reference", made.files[1], "--no-register", "--no-crop", "--ghosts", "off", "--quiet", "--json"];
  const result = runMarsh(["merge", "radiance", ...made.files, "-o", join(folder, out), ...given, ...more]);
  expect(result.err).toBe("");
  return (JSON.parse(result.out) as { fringe: Fringe }).fringe;
}

it("red and blue 1.5 px off at the corners show as coloured lines along the outer edges, which can be taken away", () => {
  const folder = temporaryFolder();
  const made = runSupport<{ ev: number[]; files: string[] }>("fringe.py", ["make", folder, "1.5"]);
  const fringe = merge(folder, made, "plain.tif");
  merge(folder, made, "clean.tif", ["--remove-fringe"]);
  const score = runSupport<{ edgeBefore: number; edgeAfter: number; skyChanged: number }>("fringe.py", [
    "score",
    folder,
    join(folder, "plain.tif"),
    join(folder, "clean.tif"),
  ]);
  process.stdout.write(`fringe: ${JSON.stringify({ ...score, share: fringe.share, widthPx: fringe.widthPx, deltaE: fringe.deltaE })}\n`);
  for (const { x, deltaE } of fringe.worst.slice(0, 3)) {
    expect(Math.min(...EDGES.map((e) => Math.abs(e - x)))).toBeLessThanOrEqual(4);
    expect(Math.abs(x - 480)).toBeGreaterThan(300);
    expect(deltaE).toBeGreaterThan(10);
  }
  // red leads and blue lags by 1.5 px: together 3 px, less towards the middle, more by the blur of an edge
  expect(fringe.widthPx).toBeGreaterThan(1);
  expect(fringe.widthPx).toBeLessThan(5);
  expect(score.edgeAfter).toBeLessThan(0.4 * score.edgeBefore);
  expect(score.skyChanged).toBe(0);
});

it("lateral colour of 1.5 px is measured to a tenth of a px, and undone in the frames", () => {
  const folder = temporaryFolder();
  const made = runSupport<{ ev: number[]; files: string[] }>("fringe.py", ["make", folder, "1.5"]);
  const found = merge(folder, made, "plain.tif");
  const left = merge(folder, made, "undone.tif", ["--undo-lateral"]);
  const score = runSupport<{ edgeBefore: number; edgeAfter: number }>("fringe.py", ["score", folder, join(folder, "plain.tif"), join(folder, "undone.tif")]);
  const corner = Math.hypot(960, 640) / 2;
  process.stdout.write(
    `lateral: ${JSON.stringify({ ...score, red: found.lateral!.red * corner, blue: found.lateral!.blue * corner, deltaE: [found.deltaE, left.deltaE] })}\n`,
  );
  expect(Math.abs(found.lateral!.red * corner - 1.5)).toBeLessThan(0.1);
  expect(Math.abs(found.lateral!.blue * corner + 1.5)).toBeLessThan(0.1);
  expect(score.edgeAfter).toBeLessThan(0.3 * score.edgeBefore);
  // what is left is red and blue having been resampled and green not
  expect(left.deltaE).toBeLessThan(0.5 * found.deltaE);
});

nightly("the lateral colour that the demo's camera has (scripts/scenes/camera.py) is measured on JPEG files that hold colour at half the size", () => {
  const files = [2, 3, 4].map((i) => join("demo/doorway", `doorway-${i}.jpg`));
  const result = runMarsh([
    ...["merge", "radiance", ...files, "-o", join(temporaryFolder(), "out.tif"), "--reference", files[1]],
    ...["--ev=-2,0,2", "--no-register", "--ghosts", "off", "--quiet", "--json"],
  ]);
  const { lateral } = (JSON.parse(result.out) as { fringe: Fringe }).fringe;
  const corner = Math.hypot(2496, 1664) / 2;
  process.stdout.write(
    `lateral of the doorway: ${(lateral!.red * corner).toFixed(2)} and ${(lateral!.blue * corner).toFixed(2)} px, made with ±${(0.0006 * corner).toFixed(2)}\n`,
  );
  expect(Math.abs(lateral!.red - 0.0006) * corner).toBeLessThan(0.2);
  expect(Math.abs(lateral!.blue + 0.0006) * corner).toBeLessThan(0.2);
});

nightly("the same bracket without lateral colour shows next to none", () => {
  const folder = temporaryFolder();
  const made = runSupport<{ ev: number[]; files: string[] }>("fringe.py", ["make", folder, "0"]);
  expect(merge(folder, made, "plain.tif").share).toBeLessThan(0.002);
});
