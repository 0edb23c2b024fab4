/** What a paper shows of a picture, held to Argyll's xicclu, which is no relation of the library that Marsh prints with. Profiles: two made-up papers by Argyll's colprof, matrix profiles that come with it. */
import { execFileSync } from "node:child_process";
import { readFileSync } from "node:fs";
import { createNodeEngine, type NodeEngine } from "../../../src/cli/createNodeEngine";
import { differenceCiede2000, type Lab } from "../../../src/core/color/colorDifference";
import { isOutside, missedBy, paperLab, TO_PAPER, type Intent } from "../../../src/core/print/printed";
import { transform } from "../../../src/core/geometry/matrix3";
import { Printer } from "../../../src/formats/icc/printer";
import type { ColorLibrary } from "../../../src/formats/icc/tableProfile";
import { MemoryRasterStore } from "../../../src/engine/tiles/MemoryRasterStore";
import { randomOf } from "../../support/kernels";

const PAPERS = ["matte", "gloss"].map((id) => `public/papers/wrenfold-${id}.icc`);
const SCREENS = ["DisplayP3", "sRGB"].map((id) => `/usr/share/color/argyll/ref/${id}.icm`);
const COUNT = 1500;

let node: NodeEngine;
beforeAll(async () => {
  node = await createNodeEngine(process.cwd(), new MemoryRasterStore());
});

/** Working light between black and white, as even in its roots, where people see. */
function colours(): Float32Array[] {
  const random = randomOf(29);
  return [0, 1, 2].map(() => Float32Array.from({ length: COUNT }, () => random() ** 2.2));
}

const labsOf = (xyz: readonly Float32Array[]): Lab[] => Array.from(xyz[0], (_, i) => paperLab(xyz[0][i], xyz[1][i], xyz[2][i]));
const wantedOf = (rgb: readonly Float32Array[]): Lab[] =>
  Array.from(rgb[0], (_, i) => {
    const [x, y, z] = transform(TO_PAPER, [rgb[0][i], rgb[1][i], rgb[2][i]]);
    return paperLab(x, y, z);
  });

/** Lines of numbers through xicclu. */
function xicclu(profile: string, how: string[], rows: readonly (readonly number[])[]): { values: number[]; isClipped: boolean }[] {
  const input = rows.map((r) => r.map((v) => v.toFixed(6)).join(" ")).join("\n");
  const out = execFileSync("xicclu", [...how, "-pl", profile], { input: `${input}\n`, maxBuffer: 1 << 26 }).toString();
  return out
    .trim()
    .split("\n")
    .map((line) => ({
      values: /-> ([-0-9. ]+) \[(?:RGB|Lab)\](?: \(clip\))?$/.exec(line)![1].trim().split(" ").map(Number),
      isClipped: line.endsWith("(clip)"),
    }));
}

async function printed(path: string, intent: Intent, paper: boolean): Promise<Lab[]> {
  const printer = Printer.open(readFileSync(path), { intent, blackPoint: false }, await node.ctx.codecs.start<ColorLibrary>("profiles"));
  const planes = colours();
  printer.print(planes, paper);
  return labsOf(planes);
}

it.each([
  ...PAPERS.flatMap((p) => (["perceptual", "relative", "saturation"] as const).map((i) => [p, i] as const)),
  ...SCREENS.map((s) => [s, "relative"] as const),
])("%s, %s: what lies on the paper is what another colour engine says, within 1 ΔE2000", async (path, intent) => {
  // screens have no paper that shows: beside their white
  const paper = PAPERS.includes(path);
  const ours = await printed(path, intent, paper);
  const device = xicclu(path, ["-fb", `-i${intent[0]}`], wantedOf(colours()));
  const theirs = xicclu(
    path,
    ["-ff", paper ? "-ia" : "-ir"],
    device.map((d) => d.values.map((v) => Math.min(1, Math.max(0, v)))),
  );
  const apart = ours.map((lab, i) => differenceCiede2000(lab, theirs[i].values as unknown as Lab)).sort((a, b) => a - b);
  console.log(path, intent, "median, worst", apart[COUNT >> 1], apart[COUNT - 1]);
  expect(apart[COUNT - 1]).toBeLessThan(1);
});

it.each(PAPERS)("%s: what lies outside of it is what cannot be reached by turning its table around", async (path) => {
  const wanted = wantedOf(colours());
  const near = await printed(path, "relative", false);
  const [black] = xicclu(path, ["-ff", "-ir"], [[0, 0, 0]]);
  const blackL = black.values[0];
  const inverse = xicclu(path, ["-fif", "-ir"], wanted);
  // what is darker than ink is told by itself, as blocked; and by how much Argyll's nearest colour misses
  const reached = xicclu(
    path,
    ["-ff", "-ir"],
    inverse.map((d) => d.values),
  );
  const told = wanted.map((w, i) => ({
    ours: isOutside(missedBy(w, near[i], blackL)),
    theirs: isOutside(missedBy(w, reached[i].values as unknown as Lab, blackL)),
  }));
  const agree = told.filter(({ ours, theirs }) => ours === theirs).length / COUNT;
  console.log(path, "agree", agree, "outside by us, by xicclu", told.filter((t) => t.ours).length / COUNT, told.filter((t) => t.theirs).length / COUNT);
  expect(agree).toBeGreaterThan(0.95);
});
