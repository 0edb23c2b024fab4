import { intersect, sizeAtLevel, type Rectangle } from "../../../core/geometry/rectangle";
import { project } from "../../../core/geometry/matrix3";
import { matchFigures, type MatchFigures } from "../../../core/match/figures";
import { grainStep } from "../../../core/match/grainStep";
import { matchSteps, type StepProposal } from "../../../core/match/steps";
import type { Samples } from "../../../core/match/transfer";
import { BLOCK, encodedBlock, NoiseGatherer, type NoiseFigures } from "../../../core/measure/noiseFigures";
import type { Records } from "../../../document/records/types";
import { cameraOf } from "../../../document/seatGeometry";
import { layerOf, plateOf, seatsOf } from "../../../document/selectors";
import type { EngineContext } from "../../EngineContext";
import { portion, type Task } from "../../task";
import { each } from "../frames/frameSamples";
import { composeRect, prepareJob } from "../layers/compose";
import type { PreparedJob } from "../layers/PreparedJob";
import { toPicturePlace } from "../layers/frameLayers";
import { readyCutouts } from "../matte/cutouts";
import { coverOf } from "../light/depths";

/** A thing beside the plate around it, as both show, and what would bring it nearer. */
export interface ThingMatch {
  own: MatchFigures;
  plate: MatchFigures;
  steps: StepProposal[];
  /** of both at 1:1 */
  noise: { own: NoiseFigures; plate: NoiseFigures };
}

/** Longest side that is looked at, samples; how far around a thing its plate is looked at, of its size; and what is surely the thing, or surely not. */
const SIDE = 320;
const AROUND = 0.6;
const [INSIDE, OUTSIDE] = [0.95, 0.02];

/** What a thing shows beside the plate near it: on the ground what is below the horizon, in the sky what is above. @param strength how much of the way each step goes @returns null where one of both tells nothing */
export async function matchThing(ctx: EngineContext, records: Records, seatId: string, strength: number, task: Task): Promise<ThingMatch | null> {
  const [seat, plate] = [records[seatId], plateOf(records)];
  const layer = seat?.kind === "seat" ? layerOf(records, seat.layerId) : undefined;
  if (seat?.kind !== "seat" || !plate || layer?.content.type !== "frame" || !layer.visible) return null;
  const job = await prepareJob(ctx, records, portion(task, 0, 0.8));
  const cutter = job.cutouts.get(layer.id);
  const matte = await cutter?.prepareShown(cutter.base, portion(task, 0.8, 0.85));
  if (!cutter || !matte) return null;
  const box = boxOf(toPicturePlace(job, layer.content), matte.rect, cutter.base);
  const { width, height } = job.inputs;
  const reach = AROUND * Math.max(box.width, box.height);
  const wide = {
    x: Math.floor(box.x - reach),
    y: Math.floor(box.y - reach),
    width: Math.ceil(box.width + 2 * reach),
    height: Math.ceil(box.height + 2 * reach),
  };
  const level = Math.max(0, Math.ceil(Math.log2(Math.max(box.width, box.height) / SIDE)));
  const scale = 2 ** level;
  const there = intersect(wide, { x: 0, y: 0, width, height });
  const rect = intersect(
    { x: Math.floor(there.x / scale), y: Math.floor(there.y / scale), width: Math.ceil(there.width / scale), height: Math.ceil(there.height / scale) },
    { x: 0, y: 0, ...sizeAtLevel(width, height, level) },
  );
  const n = rect.width * rect.height;
  if (n === 0) return null;
  await readyCutouts(job, level, portion(task, 0.85, 0.9));
  const planes = ctx.kernels.withScope((scope) => each(composeRect(ctx, job, level, rect, "layers", scope)).map((at) => ctx.kernels.f32(at, n).slice()));
  const camera = cameraOf(plate, job.inputs);
  const covers = coverOf(job, layer.id, level);
  const others = seatsOf(records).flatMap((s) => (layerOf(records, s.layerId)?.visible ? (coverOf(job, s.layerId, level) ?? []) : []));
  if (!covers) return null;
  /** Whether a place of the picture shows the thing, the plate where it stands, or neither. */
  const shows = (x: number, y: number): "own" | "plate" | null => {
    if (covers(x, y) > INSIDE) return "own";
    return (camera.placeAt(x, y) === null) === (seat.on === "sky") && others.every((cover) => cover(x, y) < OUTSIDE) ? "plate" : null;
  };
  const sides = { own: [] as number[], plate: [] as number[] };
  for (let i = 0; i < n; i++) {
    const [x, y] = [rect.x + (i % rect.width), rect.y + Math.floor(i / rect.width)].map((v) => (v + 0.5) * scale - 0.5);
    const at = shows(x, y);
    if (at) sides[at].push(i);
  }
  const samples = (of: number[]): Samples => ({ count: of.length, light: Float32Array.from(of.flatMap((i) => planes.map((p) => p[i]))) });
  const mine = samples(sides.own);
  const [own, theirs] = [matchFigures(mine), matchFigures(samples(sides.plate))];
  if (!own || !theirs) return null;
  await readyCutouts(job, 0, portion(task, 0.9, 0.95));
  const noise = noiseOf(ctx, job, there, shows);
  const grain = grainStep(noise.own, noise.plate, strength);
  const steps: StepProposal[] = matchSteps(mine, theirs, strength) ?? [];
  if (grain) steps.push({ step: "grain", adjustment: "grain", ...grain });
  return { own, plate: theirs, noise, steps };
}

/** Rows of blocks in which noise is looked at, and places of a block that must show the same. */
const ROWS = 48;
const CORNERS = [
  [0, 0],
  [1, 0],
  [0, 1],
  [1, 1],
  [0.5, 0.5],
];

/** Noise of a thing and of the plate around it, as they are shown at 1:1. */
function noiseOf(ctx: EngineContext, job: PreparedJob, box: Rectangle, shows: (x: number, y: number) => "own" | "plate" | null): ThingMatch["noise"] {
  const gathered = { own: new NoiseGatherer(), plate: new NoiseGatherer() };
  const rows = Math.min(ROWS, Math.floor(box.height / BLOCK));
  for (let k = 0; k < rows; k++) {
    const strip = { ...box, y: Math.floor(box.y + ((k + 0.5) / rows) * (box.height - BLOCK)), height: BLOCK };
    const shown = Array.from({ length: Math.floor(strip.width / BLOCK) }, (_, j) => {
      const at = CORNERS.map(([u, v]) => shows(strip.x + BLOCK * j + u * (BLOCK - 1), strip.y + v * (BLOCK - 1)));
      return at.every((s) => s === at[0]) ? at[0] : null;
    });
    if (shown.every((s) => s === null)) continue;
    ctx.kernels.withScope((scope) => {
      const planes = each(composeRect(ctx, job, 0, strip, "layers", scope)).map((at) => ctx.kernels.f32(at, strip.width * BLOCK));
      shown.forEach((side, j) => {
        if (side) gathered[side].add(encodedBlock(planes, strip.width, BLOCK * j, 0));
      });
    });
  }
  return { own: gathered.own.figures(), plate: gathered.plate.figures() };
}

/** What of the picture a part of a thing's own picture takes. */
function boxOf(toPicture: readonly number[], rect: Rectangle, level: number): Rectangle {
  const s = 2 ** level;
  const corners = [0, 1].flatMap((a) => [0, 1].map((b) => project(toPicture, (rect.x + a * rect.width) * s, (rect.y + b * rect.height) * s)));
  const [xs, ys] = [0, 1].map((k) => corners.map((c) => c[k]));
  return { x: Math.min(...xs), y: Math.min(...ys), width: Math.max(...xs) - Math.min(...xs), height: Math.max(...ys) - Math.min(...ys) };
}
