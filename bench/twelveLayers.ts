/** The job that is looked at where layers are measured: three frames of 24 MP fused, five pictures with masks and seven adjustments above them. */
import { wholeFrame } from "../src/kinds/contents/frame/record";
import { execFileSync } from "node:child_process";
import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { createNodeEngine, type NodeEngine } from "../src/cli/createNodeEngine";
import { gatherFiles } from "../src/cli/gatherFiles";
import type { Adjustment } from "../src/kinds/adjustments/records";
import { setRegistration, unmovedRegistration } from "../src/document/edits";
import { addLayer, paintedMask } from "../src/document/layerEdits";
import { freshMerge, setMerge } from "../src/document/mergeEdits";
import { freshMask } from "../src/document/records/layerTypes";
import type { MaskPart } from "../src/kinds/maskParts/records";
import type { FrameRecord, Records } from "../src/document/records/types";
import { SILENT } from "../src/engine/task";

const [W, H] = [6000, 4000];

export interface TwelveLayers {
  node: NodeEngine;
  frames: FrameRecord[];
  records: Records;
}

export async function twelveLayers(): Promise<TwelveLayers> {
  const folder = mkdtempSync(join(tmpdir(), "marsh-layers-"));
  execFileSync("/usr/bin/python3", [
    "-c",
    `import cv2, sys
for i in (2, 3, 4):
    cv2.imwrite(sys.argv[2] + '/%d.jpg' % i, cv2.resize(cv2.imread(sys.argv[1] + '/doorway-%d.jpg' % i), (${W}, ${H}), interpolation=cv2.INTER_CUBIC), [cv2.IMWRITE_JPEG_QUALITY, 92])`,
    "demo/doorway",
    folder,
  ]);
  const node = await createNodeEngine(process.cwd());
  const gathered = await gatherFiles(
    node,
    "bench",
    [2, 3, 4].map((i) => join(folder, `${i}.jpg`)),
    SILENT,
  );
  const frames = gathered.files.map((f) => f.frame!);
  let records: Records = setRegistration(
    unmovedRegistration(frames, frames[1], 1),
    Object.fromEntries(frames.map((f, i) => [f.id, 2 * i - 2])),
  )(gathered.records);
  records = setMerge(freshMerge("fusion"))(records);

  const part = (shape: object): MaskPart => ({ id: `part-${JSON.stringify(shape)}`, combine: "add", inverted: false, featherPx: 0, ...shape }) as MaskPart;
  const masks = [
    paintedMask(0, "painted"),
    freshMask(0, [part({ kind: "light", of: null, fromEv: -4, toEv: 2, softEv: 1 })]),
    freshMask(0, [part({ kind: "ramp", x0: 0, y0: 3000, x1: 0, y1: 1000 })]),
    freshMask(0, [part({ kind: "ellipse", cx: 2000, cy: 2000, rx: 900, ry: 600, angleDeg: 20 })]),
    freshMask(0, [part({ kind: "hue", of: null, hueDeg: 70, widthDeg: 60, leastChroma: 0.03 })]),
  ];
  masks.forEach((mask, i) => {
    records = addLayer({
      id: `picture-${i}`,
      name: `P${i}`,
      content: wholeFrame(frames[i % 3].id),
      mask,
    })(records);
  });
  const adjustments: [Adjustment, Record<string, number>][] = [
    ["exposure", { ev: 0.2 }],
    ["zones", { zone1: 0.5 }],
    ["curve", { nodes: 3, x1: 0.25, y1: 0.27, x2: 1, y2: 1 }],
    ["whiteBalance", { mired: 8 }],
    ["hueBand", { factor: 1.2 }],
    ["falloff", { ev: -0.5 }],
    ["sharpen", { amount: 0.4, radiusPx: 4 }],
  ];
  for (const [adjustment, values] of adjustments)
    records = addLayer({ id: adjustment, name: adjustment, content: { type: "adjustment", adjustment, values } })(records);
  return { node, frames, records };
}
