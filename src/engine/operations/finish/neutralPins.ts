import { workingToLab } from "../../../core/color/colorDifference";
import { proposeWhiteBalance } from "../../../core/color/whiteBalance";
import { levelOfSide, sizeAtLevel } from "../../../core/geometry/rectangle";
import { applyStep } from "../../../core/match/steps";
import type { Samples } from "../../../core/match/transfer";
import { updateLayer } from "../../../document/layerEdits";
import { aroundPin, MAY_BE, mendPin, type MendWay } from "../../../document/pinEdits";
import type { LayerRecord } from "../../../document/records/layerTypes";
import type { PinRecord, Records } from "../../../document/records/types";
import { isFinish, layerOf, layersOf, pinsOf } from "../../../document/selectors";
import type { EngineContext } from "../../EngineContext";
import { portion, type Task } from "../../task";
import { each } from "../frames/frameSamples";
import { composeRect, prepareJob } from "../layers/compose";
import { stripRows } from "../layers/layerReach";
import type { PreparedJob } from "../layers/PreparedJob";
import { findInMerge } from "../masks/foundMask";
import { maskPlane } from "../masks/maskPlane";
import { patchMean } from "./patch";

/** What a place that is known to be neutral reads in the finished picture. */
export interface NeutralReading {
  pinId: string;
  /** from neutral, and by its a* and b* */
  deltaE: number;
  a: number;
  b: number;
  /** off what it may be */
  isOff: boolean;
  /** the layer that takes it off; null where the merge is so already, or it is not off */
  byLayer: string | null;
}

/** Every neutral pin of a job, as the finished picture shows it. */
export function readNeutralPins(ctx: EngineContext, job: PreparedJob): NeutralReading[] {
  return neutralsOf(job.records).map((pin) => {
    const [, a, b] = readingOf(ctx, job, pin);
    const deltaE = Math.hypot(a, b);
    const isOff = deltaE > (pin.mayBe ?? MAY_BE);
    return { pinId: pin.id, deltaE, a, b, isOff, byLayer: isOff ? culprit(ctx, job, pin) : null };
  });
}

const neutralsOf = (records: Records): PinRecord[] => pinsOf(records).filter((p) => p.purpose === "neutral");
const readingOf = (ctx: EngineContext, job: PreparedJob, pin: PinRecord) => workingToLab(patchMean(ctx, job, pin.x, pin.y, pin.radius, "finish"));

/** The layer without which, and without what lies above it, a pin is not off; null where it is off in any case. */
function culprit(ctx: EngineContext, job: PreparedJob, pin: PinRecord): string | null {
  const allowed = pin.mayBe ?? MAY_BE;
  let records = job.records;
  // from the top: what is hidden first is laid last
  for (const layer of [...layersOf(records)].reverse()) {
    if (!layer.visible || layer.content.type === "group") continue;
    records = { ...records, [layer.id]: { ...layer, visible: false } };
    const [, a, b] = readingOf(ctx, { ...job, records }, pin);
    if (Math.hypot(a, b) <= allowed) return outermost(job.records, layer).name;
  }
  return null;
}

/** The group that a layer lies in, below the finish, or the layer itself: what a person laid as one. */
function outermost(records: Records, layer: LayerRecord): LayerRecord {
  const parent = layer.parentId === null ? undefined : layerOf(records, layer.parentId);
  return parent && !isFinish(parent) ? outermost(records, parent) : layer;
}

/** How a place that ought to be neutral is mended where it is, and what each way leaves of its cast, mean C*ab. */
export interface Mending {
  /** share of the picture that is mended, 0..1 */
  share: number;
  before: number;
  ways: (MendWay & { left: number })[];
}

/** Longest side at which a region is judged, samples; what of its mask counts; and the fewest samples that tell. */
const SIDE = 700;
const WITHIN = 0.5;
const FEWEST = 12;

/** Local white balance along the thing that was pointed at, and its colour drained, side by side; null where nothing is found around the place, or its colour is of no light. */
export async function mendNeutral(ctx: EngineContext, records: Records, pinId: string, task: Task): Promise<Mending | null> {
  const pin = neutralsOf(records).find((p) => p.id === pinId);
  if (!pin) return null;
  const tolerance = widest(ctx, await prepareJob(ctx, records, portion(task, 0, 0.5)), pin);
  const given = { adjustment: "whiteBalance" as const, values: {}, tolerance };
  const mended = mendPin(pin, given, { layer: "", group: "" }, TRIED)(records);
  const laid = updateLayer(TRIED, { visible: false })(mended);
  const job = await prepareJob(ctx, laid, portion(task, 0.5, 0.7));
  const level = levelOfSide(job.inputs, SIDE);
  const { width, height } = sizeAtLevel(job.inputs.width, job.inputs.height, level);
  const light: number[] = [];
  const rows = stripRows(laid, level);
  for (let y = 0; y < height; y += rows) {
    await task.step(0.7 + (0.3 * y) / height, 1, "task.measuring");
    const rect = { x: 0, y, width, height: Math.min(rows, height - y) };
    const mask = maskPlane(ctx, job, layerOf(laid, TRIED)!, level, rect);
    if (!mask.some((v) => v > WITHIN)) continue;
    ctx.kernels.withScope((scope) => {
      const planes = each(composeRect(ctx, job, level, rect, "finish", scope)).map((at) => ctx.kernels.f32(at, mask.length));
      mask.forEach((v, i) => v > WITHIN && light.push(planes[0][i], planes[1][i], planes[2][i]));
    });
  }
  const samples: Samples = { count: light.length / 3, light: Float32Array.from(light) };
  if (samples.count < FEWEST) return null;
  const balance = proposeWhiteBalance(patchMean(ctx, job, pin.x, pin.y, pin.radius, "finish"));
  const drained = { factor: 0, protect: 0, space: 0 };
  const ways: Mending["ways"] = [{ adjustment: "chroma", values: drained, tolerance, left: castOf(applyStep(samples, "chroma", drained)) }];
  if (balance)
    ways.unshift({ adjustment: "whiteBalance", values: { ...balance }, tolerance, left: castOf(applyStep(samples, "whiteBalance", { ...balance })) });
  return { share: samples.count / (width * height), before: castOf(samples), ways };
}

const TRIED = "tried-mending";

/** How near colours may lie to a place's, ΔE, and by how much what is found may grow from one to the next: times, and share of the picture. Beyond that it ran over an edge. By places of the demo pictures. */
const TOLERANCES = [1.5, 2, 3, 4, 6];
const [GROWS, SPILLS] = [2.2, 0.05];

/** The widest tolerance by which what is found around a pin has not run over into something else. */
function widest(ctx: EngineContext, job: PreparedJob, pin: PinRecord): number {
  const shares = TOLERANCES.map((tolerance) => findInMerge(ctx, job, aroundPin(pin, tolerance)).share);
  const over = shares.findIndex((share, k) => k > 0 && share > GROWS * shares[k - 1] && share - shares[k - 1] > SPILLS);
  return TOLERANCES[over > 0 ? over - 1 : TOLERANCES.length - 1];
}

function castOf({ count, light }: Samples): number {
  let sum = 0;
  for (let i = 0; i < 3 * count; i += 3) {
    const [, a, b] = workingToLab([light[i], light[i + 1], light[i + 2]]);
    sum += Math.hypot(a, b);
  }
  return sum / count;
}
