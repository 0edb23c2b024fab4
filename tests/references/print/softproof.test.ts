/** What a paper shows of a picture, held to Argyll's xicclu, which is no relation of the library that Marsh prints with. Profiles: two made-up papers by Argyll's colprof, matrix profiles that come with it. */
import { execFileSync } from "node:child_process";
import { readFileSync } from "node:fs";
import { join } from "node:path";
import { createNodeEngine, type NodeEngine } from "../../../src/cli/createNodeEngine";
import { differenceCiede2000, type Lab } from "../../../src/core/color/colorDifference";
import { isOutside, missedBy, paperLab, wantedXyz, type Intent } from "../../../src/core/print/printed";
import { D50_XYZ } from "../../../src/core/color/primaries";
import { asMessage, type Telling } from "../../../src/messages/message";
import { Printer } from "../../../src/formats/icc/printer";
import type { ColorLibrary } from "../../../src/formats/icc/tableProfile";
import { MemoryRasterStore } from "../../../src/engine/tiles/MemoryRasterStore";
import { runMarsh, runPython, temporaryFolder } from "../../support/python";
import { randomOf } from "../../support/kernels";

const PAPERS = ["matte", "gloss"].map((id) => `public/papers/wrenfold-${id}.icc`);
const SCREENS = ["ClayRGB1998", "DisplayP3", "sRGB"].map((id) => `/usr/share/color/argyll/ref/${id}.icm`);
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
const wantedOf = (rgb: readonly Float32Array[]): Lab[] => Array.from(rgb[0], (_, i) => paperLab(...wantedXyz(rgb[0][i], rgb[1][i], rgb[2][i])));

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
  process.stdout.write(`${path} ${intent}: median ${apart[COUNT >> 1].toFixed(3)}, worst ${apart[COUNT - 1].toFixed(3)}\n`);
  expect(apart[COUNT - 1]).toBeLessThan(1);
});

it.each(PAPERS)("%s: what lies outside of it is what cannot be reached by turning its table around", async (path) => {
  const rgb = colours();
  const wanted = Array.from(rgb[0], (_, i) => wantedXyz(rgb[0][i], rgb[1][i], rgb[2][i]));
  const near = await printed(path, "relative", false);
  // Lab of both goes back to XYZ by the same formula, CIE 15
  const black = { xyz: xyzOf(xicclu(path, ["-ff", "-ir"], [[0, 0, 0]])[0].values), isBroughtTo: false };
  const inverse = xicclu(path, ["-fif", "-ir"], wantedOf(rgb));
  const reached = xicclu(
    path,
    ["-ff", "-ir"],
    inverse.map((d) => d.values),
  );
  const told = wanted.map((w, i) => ({ ours: isOutside(missedBy(w, xyzOf(near[i]), black)), theirs: isOutside(missedBy(w, xyzOf(reached[i].values), black)) }));
  const agree = told.filter(({ ours, theirs }) => ours === theirs).length / COUNT;
  const share = (of: "ours" | "theirs") => told.filter((t) => t[of]).length / COUNT;
  process.stdout.write(`${path}: both agree on ${agree}; outside by us ${share("ours")}, by xicclu ${share("theirs")}\n`);
  expect(agree).toBeGreaterThan(0.95);
});

function xyzOf([L, a, b]: readonly number[]): [number, number, number] {
  const y = (L + 16) / 116;
  const back = (f: number) => (f ** 3 > 216 / 24389 ? f ** 3 : (116 * f - 16) / (24389 / 27));
  return [back(y + a / 500) * D50_XYZ[0], back(y), back(y - b / 200) * D50_XYZ[2]];
}

it("with the black point brought along, what a paper can show is not told to be outside for lying deep", async () => {
  const settings = { intent: "relative" as const, blackPoint: true };
  const printer = Printer.open(readFileSync(PAPERS[0]), settings, await node.ctx.codecs.start<ColorLibrary>("profiles"));
  const print = (r: number, g: number, b: number): [number, number, number] => {
    const planes = [r, g, b].map((v) => Float32Array.of(v));
    printer.print(planes, false);
    return [planes[0][0], planes[1][0], planes[2][0]];
  };
  const black = { xyz: print(0, 0, 0), isBroughtTo: true };
  for (const v of [0.002, 0.01, 0.05, 0.2, 0.6, 0.95]) expect(isOutside(missedBy(wantedXyz(v, v, v), print(v, v, v), black))).toBe(false);
  expect(isOutside(missedBy(wantedXyz(0, 0.9, 0), print(0, 0.9, 0), black))).toBe(true);
});

it.each([
  ["a text", new TextEncoder().encode("no profile at all".repeat(20)), "profile.isNone"],
  ["one that is cut off", readFileSync(PAPERS[0]).subarray(0, 4000), "profile.cannotPrint"],
  ["a camera's or scanner's", changed(readFileSync(PAPERS[0]), 12, "scnr"), "profile.scanner"],
  ["one between two devices", changed(readFileSync(PAPERS[0]), 12, "link"), "profile.notOutput"],
  ["one of seven inks", changed(readFileSync(PAPERS[0]), 16, "7CLR"), "profile.unknownInks"],
])("%s gets one sentence", async (_name, bytes, code) => {
  const told = node.ask("readTarget", { profile: bytes }).then(
    () => "taken",
    (error: { told: Telling }) => asMessage(error.told).code,
  );
  expect(await told).toBe(code);
});

function changed(bytes: Uint8Array, at: number, to: string): Uint8Array {
  const out = Uint8Array.from(bytes);
  out.set(new TextEncoder().encode(to), at);
  return out;
}

it("the command writes the picture as it prints, with figures; the paper as white is lighter than the paper", () => {
  const folder = temporaryFolder();
  const proofed = (...more: string[]) => {
    const out = join(folder, `p${more.length}.tif`);
    const run = runMarsh(["softproof", "demo/septembers/septembers-4.jpg", "--target", PAPERS[0], ...more, "-o", out, "--json", "--quiet"]);
    expect(run.code).toBe(0);
    const light = runPython<{ shape: number[]; darkest: number; lightest: number }>(
      `
import sys, json, numpy as np, tifffile
a = tifffile.imread(sys.argv[1]).astype(float) / 65535
print(json.dumps({"shape": list(a.shape), "darkest": float(np.percentile(a, 0.1)), "lightest": float(np.percentile(a, 99.9))}))`,
      [out],
    );
    return { told: JSON.parse(run.out), light };
  };
  const shown = proofed();
  expect(shown.told).toMatchObject({
    version: 1,
    width: 1800,
    height: 1200,
    target: { name: "Wrenfold Matte Rag", device: "RGB", intent: "relative", blackPoint: true },
  });
  expect(shown.told.blackL).toBeGreaterThan(15);
  expect(shown.told.outside).toBeGreaterThan(0);
  expect(shown.light.shape).toEqual([1200, 1800, 3]);
  // the darkest ink is L* 21: no place of the print is darker than about that
  expect(shown.light.darkest).toBeGreaterThan(0.15);
  const white = proofed("--paper-as-white", "--no-black-point");
  expect(white.light.lightest).toBeGreaterThan(shown.light.lightest);
  // without bringing the black along, tones are lost in it
  expect(white.told.firstTone).toBeGreaterThan(20);
  expect(white.told.blocked).toBeGreaterThan(shown.told.blocked);
});

it("proof tells what it finds in a picture as a list", () => {
  const run = runMarsh(["proof", "demo/septembers/septembers-4.jpg", "--json", "--quiet"]);
  const { version, findings } = JSON.parse(run.out);
  expect(version).toBe(1);
  expect(findings.length).toBeGreaterThan(0);
  for (const f of findings)
    expect(f).toMatchObject({
      id: expect.any(String),
      kind: expect.any(String),
      amount: expect.any(Number),
      unit: "% of the picture",
      step: expect.any(String),
    });
  expect(findings.map((f: { visibility: number }) => f.visibility)).toEqual(
    [...findings.map((f: { visibility: number }) => f.visibility)].sort((a, b) => b - a),
  );
  const onPaper = runMarsh(["proof", "demo/doorway/doorway-1.jpg", "--target", PAPERS[0], "--no-black-point", "--json", "--quiet"]);
  const closed = JSON.parse(onPaper.out).findings.find((f: { kind: string }) => f.kind === "printsBlack");
  expect(closed).toMatchObject({ step: "The paper", remedies: ["Bring black to the paper's black"] });
  expect(closed.where.width).toBeGreaterThan(0);
  expect(runMarsh(["proof"]).code).toBe(2);
  expect(runMarsh(["softproof", "demo/septembers/septembers-4.jpg", "-o", "x.tif"]).code).toBe(2);
});
