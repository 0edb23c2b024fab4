/**
 * Exposures noted wrongly: one frame off by a stop, signs reversed, all alike. The pixels contradict them, which is said with both figures, and nothing that stood still is
 * called moved. Right ones earn no remark, under a response the files do not name either; there a single wrong one may pass for the response. Simulated by tests/support/brackets.py from a camera that stood still.
 */
import { join } from "node:path";
import { byDay, NIGHT } from "../../support/night";
import { runMarsh, runSupport, temporaryFolder } from "../../support/python";

const SCENES: [scene: number, ev: number[]][] = [
  [1, [-4, -2, 0, 2, 4]],
  [2, [-3, -1.5, 0, 1.5]],
  [6, [-4, -2, 0, 2, 4]],
  [3, [-4, -2, 0, 2]],
];
const off = (ev: number[], k: number, by: number) => ev.map((v, i) => (i === k ? v + by : v));
const WRONG: [string, (ev: number[]) => number[], RegExp | null][] = [
  ["right", (ev) => ev, null],
  ["signs reversed", (ev) => ev.map((v) => -v), /contradict each other/],
  ["the brightest a stop too low", (ev) => off(ev, ev.length - 1, -1), /contradict each other/],
  ["the second a stop too high", (ev) => off(ev, 1, 1), /contradict each other/],
  ["all alike", (ev) => ev.map(() => 0), /contradict each other/],
];
const cases = SCENES.flatMap(([scene, ev]) =>
  ["srgb", "s_shaped"].flatMap((response) =>
    WRONG.map(([name, change, remark]) => ({ name: `${name}, ${response}, scene ${scene}`, scene, response, told: change(ev), remark })),
  ),
);

it.each(byDay(cases, 22).map((c) => [c.name, c] as const))("%s", (_, { scene, response, told, remark }) => {
  const folder = temporaryFolder();
  const { files } = runSupport<{ files: string[] }>("brackets.py", ["make", folder, String(scene), response]);
  for (const method of NIGHT ? ["radiance", "fusion"] : [scene % 2 ? "radiance" : "fusion"]) {
    const { out } = runMarsh(["merge", method, ...files, "--no-register", "--ev", told.join(","), "-o", join(folder, `${method}.tif`), "--json", "--quiet"]);
    const { width, height, ghosts, remarks } = JSON.parse(out) as { width: number; height: number; ghosts: { areaPx: number }[]; remarks: string[] };
    const contradictions = remarks.filter((r) => /contradict/.test(r));
    if (response === "srgb" || !remark) expect(contradictions).toHaveLength(remark ? 1 : 0);
    if (contradictions.length > 0) expect(contradictions[0]).toMatch(/noted at [−+]?\d\.\d EV and measures [−+]?\d\.\d EV/);
    expect(ghosts.reduce((sum, g) => sum + g.areaPx, 0) / (width * height)).toBeLessThanOrEqual(0.01);
  }
});
