/**
 * What is near while the camera was not turned about its entrance pupil: a second picture below a line that goes on by 5 to 60 px a frame, over views with known
 * directions (tests/support/panorama.py). What is told is right within a fifth, and none is told where the camera was only turned.
 */
import { readFileSync } from "node:fs";
import { join } from "node:path";
import { byDay } from "../../support/night";
import { runMarsh, runSupport, temporaryFolder } from "../../support/python";

const PHOTOS = "/usr/share/backgrounds";
const VIEWS = [
  [-22, -1, -1.2, 0.4],
  [0, 0.5, 0.3, -0.3],
  [21, 1.2, 1.9, 0.6],
];
const FAR = ["life_by_Aitzol_Berasategi.jpg", "picosdeeuropa_by_Aitzol_Berasategi.jpg"];
const GROUNDS = ["aitzgorri_by_Aitzol_Berasategi.jpg", "Picture_1A_by_freespace.jpg"];
const scenes = FAR.flatMap((far, i) => [20, 0, 60, 40, 10, 5].map((px) => ({ far, ground: GROUNDS[i], px })));

/** Whether each pair with something near was told. */
const near: boolean[] = [];

it.each(byDay(scenes, 10).map((s) => [s.px, s.far, s] as const))("%i px a frame over %s", (px, _, { far, ground }) => {
  const folder = temporaryFolder();
  const spec = { photo: `${PHOTOS}/${far}`, degrees: 150, masterWidth: 3088, size: [900, 680], focal: 950, views: VIEWS, falloff: 0.1 };
  runSupport("panorama.py", ["make", folder, JSON.stringify(px ? { ...spec, near: { photo: `${PHOTOS}/${ground}`, px, from: 0.68 } } : spec)]);
  const { frames } = JSON.parse(readFileSync(join(folder, "truth.json"), "utf8")) as { frames: { file: string }[] };
  const { out } = runMarsh(["panorama", ...frames.map((f) => join(folder, f.file)), "--json", "--quiet"]);
  const { pairs } = JSON.parse(out) as { pairs: { parallaxPx: number; overlap: number }[] };
  const told = pairs.filter((p) => p.overlap > 0.2).map((p) => p.parallaxPx);
  process.stdout.write(`parallax of ${px} px told as ${told.map((v) => v.toFixed(1)).join(" and ")}\n`);
  expect(told).toHaveLength(2);
  for (const v of told) {
    if (px === 0) expect(v).toBe(0);
    if (v > 0) expect(Math.abs(v - px)).toBeLessThanOrEqual(0.2 * px);
    if (px > 0) near.push(v > 0);
  }
});

it("at least nine of ten are told: a dull strip that goes far may hide", () => {
  expect(near.length).toBeGreaterThan(0);
  expect(near.filter(Boolean).length).toBeGreaterThanOrEqual(0.9 * near.length);
});
