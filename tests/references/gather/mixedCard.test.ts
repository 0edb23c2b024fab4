/**
 * A day's card of 87 files with known sets (tests/support/shoot.py): brackets of 3 and 5, panoramas, focus stacks with breathing, repeats,
 * changing light, a raw developed twice, a cut-out with its plate, single frames, and two nights of stars.
 */
import { execFileSync } from "node:child_process";
import { join } from "node:path";
import { createNodeEngine } from "../../../src/cli/createNodeEngine";
import { gatherFiles } from "../../../src/cli/gatherFiles";
import { SILENT } from "../../../src/engine/task";
import { randomOf } from "../../support/kernels";
import { NIGHT } from "../../support/night";
import { runMarsh, runPython, temporaryFolder } from "../../support/python";

interface KnownSet {
  kind: string;
  files: string[];
}

const folder = temporaryFolder();
const truth = JSON.parse(execFileSync("/usr/bin/python3", ["tests/support/shoot.py", folder], { encoding: "utf8" })) as KnownSet[];
const pathsOf = (sets: KnownSet[]) => sets.flatMap((s) => s.files.map((f) => join(folder, f)));

/** By day the first third of the card. */
const some = NIGHT ? truth : truth.slice(0, Math.ceil(truth.length / 3));

it("the files of one card fall into their sets, each named for what it is", () => {
  const paths = pathsOf(some);
  expect(pathsOf(truth)).toHaveLength(87);
  const { code, out } = runMarsh(["group", ...paths, "--json", "--quiet"]);
  expect(code).toBe(0);
  const { sets } = JSON.parse(out) as { sets: (KnownSet & { reasons: string[]; confidence: number })[] };
  expect(sets.map((s) => ({ kind: s.kind, files: s.files.map((f) => f.split("/").pop()) }))).toEqual(some);
  for (const s of sets) expect(s.reasons.length).toBeGreaterThan(0);
}, 400_000);

it("they fall into the same sets in whatever order they come", async () => {
  const random = randomOf(12);
  const shuffled = <T>(things: T[]): T[] =>
    things
      .map((thing) => [random(), thing] as const)
      .sort((a, b) => a[0] - b[0])
      .map(([, thing]) => thing);
  const node = await createNodeEngine(process.cwd());
  const { records, files } = await gatherFiles(node, "card", shuffled(pathsOf(some)), SILENT);
  const frames = files.map((f) => f.frame!);
  const nameOf = (id: string) => frames.find((f) => f.id === id)!.fileName;
  const wanted = some.map((s) => `${s.kind} ${s.files.join(" ")}`).sort();
  for (let k = 0; k < (NIGHT ? 100 : 1); k++) {
    const { sets } = await node.ask("gatherSets", { records, frames: shuffled(frames) }, SILENT);
    expect(sets.map((s) => `${s.kind} ${s.frameIds.map(nameOf).join(" ")}`).sort()).toEqual(wanted);
  }
}, 1_500_000);

it("a detail taken closer, though it is found in the whole, is a picture of its own", () => {
  const near = temporaryFolder();
  runPython(
    `import cv2, sys, json
whole = cv2.resize(cv2.imread("/usr/share/backgrounds/life_by_Aitzol_Berasategi.jpg"), (2700, 1800), interpolation=cv2.INTER_AREA)
cv2.imwrite(sys.argv[1] + "/1.png", cv2.resize(whole, (900, 600), interpolation=cv2.INTER_AREA))
cv2.imwrite(sys.argv[1] + "/2.png", whole[560:1160, 900:1800])
print(json.dumps(True))`,
    [near],
  );
  const { sets } = JSON.parse(runMarsh(["group", join(near, "1.png"), join(near, "2.png"), "--json", "--quiet"]).out) as { sets: KnownSet[] };
  expect(sets.map((s) => s.files.length)).toEqual([1, 1]);
}, 100_000);
