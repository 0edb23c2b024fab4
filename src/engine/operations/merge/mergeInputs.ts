import { Refusal } from "../../../core/refusal";
import type { MergeMethod } from "../../../kinds/merges/records";
import { invert } from "../../../core/geometry/matrix3";
import { coveredSpan } from "../../../core/geometry/rowSpan";
import { mergedFramesOf, mergeOf, panoramaOf, registrationOf, relativeEvOf } from "../../../document/selectors";
import type { FrameRecord, Records } from "../../../document/records/types";
import type { RecoveredResponse } from "../../../kinds/merges/fields";
import type { Kernels } from "../../../kernels/Kernels";
import type { EngineContext } from "../../EngineContext";
import type { DerivedCache } from "../../graph/DerivedCache";
import { portion, type Task } from "../../task";
import { developedColor } from "../frames/develop";
import { openPanoramaInputs } from "../panorama/panoramaInputs";
import { FRAMES_VERSION, openPlaced } from "../frames/placeFrame";
import type { MergeFrame, MergeInputs } from "./mergeTypes";
import { respondingColor } from "./recoverResponse";
import { colorOf, openFrame } from "../frames/sources";
import { pictureIdOf } from "../../../document/sourceIds";

/** Opens (and where needed makes) the placed frames of a job. @throws RangeError where nothing is registered */
export async function openMergeInputs(ctx: EngineContext, records: Records, task: Task): Promise<MergeInputs> {
  const panorama = panoramaOf(records);
  if (panorama) return openPanoramaInputs(ctx, records, panorama);
  const registration = registrationOf(records);
  const chosen = mergedFramesOf(records);
  const reference = chosen.find(({ frame }) => frame.id === registration?.referenceId)?.frame;
  if (!reference || chosen.length === 0) throw new Refusal("notRegistered", "registering.none");
  const { width, height } = reference;
  const lateral = mergeOf(records)?.lateral ?? null;
  const frames: MergeFrame[] = [];
  for (const [i, { frame, matrix, lens }] of chosen.entries()) {
    const part = portion(task, i / chosen.length, (i + 1) / chosen.length);
    await openFrame(ctx, frame);
    const file = await openPlaced(ctx, { pictureId: pictureIdOf(frame), matrix, lens, lateral, width, height }, part);
    const color = developedColor(ctx.cache, await colorOf(ctx, frame.sourceId), frame.development);
    frames.push({ frame, file, color, inverse: invert(matrix), lens, relativeEv: relativeEvOf(records, frame.id) });
  }
  const key = [
    FRAMES_VERSION,
    width,
    height,
    pictureIdOf(reference),
    // two frames of one source may be developed apart
    chosen.findIndex(({ frame }) => frame.id === reference.id),
    chosen.map(({ frame, matrix, lens }, i) => [pictureIdOf(frame), matrix, lens, frame.development, frames[i].relativeEv]),
    ...(lateral ? [lateral] : []),
  ];
  return { width, height, frames, reference: frames.findIndex((f) => f.frame.id === reference.id), key, noise: noiseModel(chosen.map((c) => c.frame)) };
}

/**
 * Variance = shot · x + readSquared for linear x in 0..1, from the flat areas Gather measured, plus the quantisation of an
 * 8-bit sRGB file, whose step grows with the square root of x.
 */
function noiseModel(frames: FrameRecord[]): MergeInputs["noise"] {
  const shots = frames
    .filter((f) => f.measures.noiseSigma > 0 && f.measures.noiseAt > 0.002)
    .map((f) => {
      const x = f.measures.noiseAt;
      // slope of the sRGB decoding near x, about 2.1 sqrt(x)
      const sigma = (f.measures.noiseSigma / 255) * Math.max(1 / 12.92, 2.1 * Math.sqrt(x));
      return (sigma * sigma) / x;
    })
    .sort((a, b) => a - b);
  const measured = shots.length ? shots[shots.length >> 1] : 1e-4;
  const step = frames.some((f) => f.bits === 8) ? 1 / 255 : 1 / 65535;
  return { shot: Math.min(1e-2, Math.max(2e-5, measured)) + (4.4 * step * step) / 12, readSquared: 1e-7 + (0.006 * step * step) / 12 };
}

/** Whether a frame is known to cover all of rows y0..y1; floats may have samples that are no numbers anywhere. */
export function coversRows({ file, inverse, frame, lens }: MergeFrame, width: number, y0: number, y1: number): boolean {
  if (file.spec.type === "f32") return false;
  for (let y = y0; y < y1; y++) {
    const [from, to] = coveredSpan(inverse, frame.width, frame.height, y, width, lens);
    if (from > 0 || to < width) return false;
  }
  return true;
}

/** Fills rows y0..y1 of a coverage plane (0 or 1) at full size; what is not a number is not covered. */
export function fillCoverage(kernels: Kernels, input: MergeFrame, width: number, y0: number, y1: number, at: number): void {
  const plane = kernels.f32(at, width * (y1 - y0));
  plane.fill(0);
  for (let y = y0; y < y1; y++) {
    const [from, to] = coveredSpan(input.inverse, input.frame.width, input.frame.height, y, width, input.lens);
    plane.fill(1, (y - y0) * width + from, (y - y0) * width + to);
  }
  if (input.file.spec.type !== "f32") return;
  const n = width * (y1 - y0);
  kernels.withScope((scope) => {
    const samples = scope.floats(n + 16);
    for (let c = 0; c < 3; c++) {
      input.file.read(0, c, 0, y0, width, y1 - y0, kernels.f32(samples, n));
      // blocks of four end within the room that every plane has behind it
      kernels.run("coverNumbers", [samples, at], 0, Math.ceil(n / 4) * 4, 65536);
    }
  });
}

export function mergeMethod(records: Records): MergeMethod {
  return mergeOf(records)?.method ?? "radiance";
}

/** Exposure of each frame against the reference as developed, 2^EV; the reference's colour holds its own offset already. */
export function exposuresOf({ frames, reference }: MergeInputs): number[] {
  const offset = frames[reference].frame.development.exposureEv;
  return frames.map((f) => 2 ** (f.relativeEv + f.frame.development.exposureEv - offset));
}

/** The same inputs read through a recovered response, with the exposures that go with it. */
export function withResponse(cache: DerivedCache, inputs: MergeInputs, response: RecoveredResponse | null): MergeInputs {
  if (!response) return inputs;
  const frames = inputs.frames.map((f): MergeFrame => ({
    ...f,
    color: respondingColor(cache, f.color, response),
    relativeEv: response.relativeEv[f.frame.id] ?? f.relativeEv,
  }));
  return { ...inputs, frames, key: [inputs.key, response.deviationEv, frames.map((f) => f.relativeEv)] };
}
