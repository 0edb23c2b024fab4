/** Frames with next to nothing to see (a soft, flat photograph, views cut by numpy): refused by themselves, laid out where a person says four places. */
import { readFileSync } from "node:fs";
import { join } from "node:path";
import { createNodeEngine } from "../../../src/cli/createNodeEngine";
import { gatherFiles } from "../../../src/cli/gatherFiles";
import { angleBetween, between, transpose, type Camera } from "../../../src/core/panorama/camera";
import { multiply } from "../../../src/core/geometry/matrix3";
import { SILENT } from "../../../src/engine/task";
import { runSupport, temporaryFolder } from "../../support/python";

it("places set by hand lay out frames that show too little", async () => {
  const folder = temporaryFolder();
  const views = [
    [-22, 1, -1, 0],
    [0, 0.5, 0.3, 0],
  ];
  const spec = {
    photo: "/usr/share/backgrounds/free_by_Peter_Nerlich.jpg",
    degrees: 150,
    masterWidth: 2880,
    size: [900, 680],
    focal: 950,
    views,
    soft: 8,
    contrast: 0.2,
  };
  runSupport("panorama.py", ["make", folder, JSON.stringify(spec)]);
  const truth = JSON.parse(readFileSync(join(folder, "truth.json"), "utf8")) as { frames: { file: string; rotation: number[] }[] };
  const node = await createNodeEngine(process.cwd());
  const gathered = await gatherFiles(
    node,
    "by hand",
    truth.frames.map((f) => join(folder, f.file)),
    SILENT,
  );
  const frames = gathered.files.map((f) => f.frame!);
  const request = { focalPx: 950, points: [], levels: [], bent: 0, projection: null };
  await expect(node.ask("preparePanorama", { frames, request })).rejects.toThrow(/panorama\.(littleStructure|noOverlap|focalUn)/);
  const [a, b] = truth.frames.map((f): Camera => ({ width: 900, height: 680, rotation: f.rotation, focalPx: 950, k1: 0, k2: 0, shiftX: 0, shiftY: 0 }));
  // a hand is off by a px or so
  const points = [
    [480, 80],
    [820, 120],
    [520, 600],
    [850, 560],
    [650, 340],
  ].map(([x, y], i) => {
    const [u, v] = between(a, b, x, y)!;
    return { aId: frames[0].id, bId: frames[1].id, x, y, u: u + [0.6, -0.8, 0.3, 0.5, -0.6][i], v: v + [-0.4, 0.7, 0.6, -0.5, -0.3][i] };
  });
  const { panorama } = await node.ask("preparePanorama", { frames, request: { ...request, points } });
  const found = panorama.frames.map((f) => f.rotation!);
  const error = angleBetween(multiply(transpose(found[0]), found[1]), multiply(transpose(a.rotation), b.rotation));
  process.stdout.write(`by hand: ${error.toFixed(3)}° from places off by a px, ±${Math.max(...panorama.frames.map((f) => f.sdDeg)).toFixed(3)}° said\n`);
  expect(error).toBeLessThan(0.2);
  expect(panorama.points).toHaveLength(5);
}, 120_000);
