import { LUMINANCE } from "../../../core/color/primaries";
import { atLevel } from "../../../core/geometry/matrix3";
import type { Size } from "../../../core/geometry/lens";
import { sizeAtLevel, type Rectangle } from "../../../core/geometry/rectangle";
import { findEdgeCuts, type EdgeCut, type SideBand } from "../../../core/measure/edgeCuts";
import { finding, type Finding } from "../../../document/finding";
import { outputGeometry, outputToReference } from "../../../document/outputGeometry";
import type { Records } from "../../../document/records/types";
import { activeFramesOf, registrationOf } from "../../../document/selectors";
import type { Scope } from "../../../kernels/Kernels";
import type { EngineContext } from "../../EngineContext";
import type { Task } from "../../task";
import { composeOutput } from "../finish/composeOutput";
import { developedColor } from "../frames/develop";
import { allocatePlanes, each, readWorking, type Planes } from "../frames/frameSamples";
import { resample } from "../frames/resample";
import { colorOf, openFrame } from "../frames/sources";
import { prepareJob } from "../layers/compose";
import type { PreparedJob } from "../layers/PreparedJob";

/** Cells of the picture's longer side. */
const CELLS = 320;
/** Of the longer side: how far inwards a band is looked at. */
const BAND = 0.04;
const MOST_SAID = 3;
/** Light below which nothing is told, so that black has a logarithm. */
const DARKEST = 1e-4;

const SIDES = ["top", "bottom", "left", "right"] as const;

/** Reads a rectangle of the output at a level, in working light. */
type ReadOutput = (scope: Scope, level: number, rect: Rectangle) => Planes;

/** What the edge of the picture cuts: told by the reference frame alone, which costs little, or by the picture as it is merged and composed. */
export async function inspectBorder(ctx: EngineContext, records: Records, by: "reference" | "picture", task: Task): Promise<Finding[]> {
  if (by === "picture") return edgeFindings(ctx, await prepareJob(ctx, records, task));
  const reference = activeFramesOf(records).find((f) => f.id === registrationOf(records)?.referenceId);
  if (!reference) return [];
  const file = await openFrame(ctx, reference);
  const color = developedColor(ctx.cache, await colorOf(ctx, reference.sourceId), reference.development);
  const size = { width: reference.width, height: reference.height };
  const toReference = outputToReference(outputGeometry(records), size);
  const read: ReadOutput = (scope, level, rect) =>
    resample(scope, atLevel(toReference, level), rect, sizeAtLevel(size.width, size.height, level), (window) => {
      const planes = allocatePlanes(scope, window.width * window.height);
      readWorking(scope, file, color, level, window, planes);
      return planes;
    });
  return cutFindings(ctx, outputGeometry(records).crop, read);
}

/** The same of a picture that is merged. */
export function edgeFindings(ctx: EngineContext, job: PreparedJob): Finding[] {
  return cutFindings(ctx, outputGeometry(job.records).crop, (scope, level, rect) => composeOutput(ctx, job, level, rect, "layers", scope));
}

function cutFindings(ctx: EngineContext, crop: Size, read: ReadOutput): Finding[] {
  const longer = Math.max(crop.width, crop.height);
  const level = Math.max(0, Math.floor(Math.log2(longer / CELLS)));
  const { width, height } = sizeAtLevel(crop.width, crop.height, level);
  const depth = Math.min(Math.round(Math.max(width, height) * BAND), width >> 2, height >> 2);
  if (depth < 4) return [];
  const found = SIDES.flatMap((side) => findEdgeCuts(bandOf(ctx, read, level, side, width, height, depth)).map((cut) => ({ side, cut })));
  return found
    .sort((a, b) => Math.abs(b.cut.ev) * (b.cut.to - b.cut.from) - Math.abs(a.cut.ev) * (a.cut.to - a.cut.from))
    .slice(0, MOST_SAID)
    .map(({ side, cut }) => findingOf(side, cut, crop, 2 ** level, side === "top" || side === "bottom" ? width : height, depth));
}

/** One side as a band whose first row lies at the edge. */
function bandOf(ctx: EngineContext, read: ReadOutput, level: number, side: (typeof SIDES)[number], width: number, height: number, depth: number): SideBand {
  const across = side === "top" || side === "bottom";
  const rect = {
    x: side === "right" ? width - depth : 0,
    y: side === "bottom" ? height - depth : 0,
    width: across ? width : depth,
    height: across ? depth : height,
  };
  return ctx.kernels.withScope((scope) => {
    const planes = each(read(scope, level, rect)).map((at) => ctx.kernels.f32(at, rect.width * rect.height));
    const length = across ? width : height;
    const light = new Float32Array(length * depth);
    for (let row = 0; row < depth; row++) {
      for (let i = 0; i < length; i++) {
        const inwards = side === "bottom" || side === "right" ? depth - 1 - row : row;
        const at = across ? inwards * rect.width + i : i * rect.width + inwards;
        const value = planes.reduce((sum, plane, c) => sum + LUMINANCE[c] * plane[at], 0);
        light[row * length + i] = Number.isNaN(value) ? NaN : Math.log2(Math.max(DARKEST, value));
      }
    }
    return { light, length, depth };
  });
}

function findingOf(side: (typeof SIDES)[number], { from, to, ev }: EdgeCut, crop: Size, scale: number, length: number, depth: number): Finding {
  const across = side === "top" || side === "bottom";
  const deep = depth * scale;
  const along = { from: from * scale, size: (to - from) * scale };
  const values = { side, from: from / length, to: to / length, ev: Math.abs(ev), brighter: ev > 0 ? "yes" : "no" };
  return finding("edgeCut", values, {
    id: `edgeCut-${side}-${Math.round((100 * from) / length)}`,
    place: across
      ? { x: along.from, y: side === "top" ? 0 : crop.height - deep, width: along.size, height: deep }
      : { x: side === "left" ? 0 : crop.width - deep, y: along.from, width: deep, height: along.size },
    share: (to - from) / length / 4,
    weight: 0.3 * Math.abs(ev) * ((to - from) / length),
    cause: "crop",
    remedy: { kind: "show" },
  });
}
