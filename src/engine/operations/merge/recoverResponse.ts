import { sizeAtLevel } from "../../../core/geometry/rectangle";
import { believeExposures } from "../../../core/merge/believeExposures";
import { deviationAt, fitResponse, HIGHEST_CODE, LOWEST_CODE, type ResponsePlace } from "../../../core/merge/fitResponse";
import { exp2 } from "../../../core/numeric/elementary";
import type { OfLight, RecoveredResponse } from "../../../kinds/merges/fields";
import type { InputColor } from "../../../formats/icc/readProfile";
import type { DerivedCache } from "../../graph/DerivedCache";
import type { Task } from "../../task";
import { derivedColor } from "../frames/derivedColor";
import { mapFloats } from "../../../core/numeric/mapFloats";
import type { MergeInputs } from "./mergeTypes";

/** Places looked at, by channel. */
const PLACES = 5000;
/** Steepest step to a neighbour at which a place still counts as even, of 0..1. */
const EVEN = 0.035;
/** How well exposures are known from metadata (settings are rounded) and from what the person says, EV. Common practice, no source. */
const METERED_SIGMA = 0.03;
const MEASURED_SIGMA = 0.02;
/** By how much frames may agree worse with notes that look contradicted than without, so that those still stand. */
const AS_WELL = 1.15;
/** The same of a frame whose note the pixels deny: it is found out. */
const DENIED_SIGMA = 1;

/**
 * The response that the frames themselves show, against the curve their files claim.
 * @returns null where the frames are linear, of different kinds, or share too little light
 */
export async function recoverResponse(inputs: MergeInputs, task: Task): Promise<RecoveredResponse | null> {
  const { frames } = inputs;
  const { color } = frames[0];
  if (frames.length < 2 || frames.some((f) => f.file.spec.type === "f32" || !sameCurves(f.color, color)) || isLinear(color)) return null;
  const metered = frames.map((f) => f.frame.meteredEv);
  const { reference } = inputs;
  const measured = frames.map((f) => f.relativeEv);
  const noted = metered.every((ev): ev is number => ev !== null) ? believeExposures(metered, measured, reference) : null;
  const assumed = color.curves.map((curve) => (code: number) => Math.log2(Math.max(1e-6, curve(Math.min(1, Math.max(0, code))))));
  const places = await placesOf(inputs, task);
  await task.step(3, 4, "task.response");
  const fits = hypotheses(noted, measured, reference).flatMap(({ ev, sigmas, told }) => {
    const found = fitResponse(places, assumed, ev, sigmas);
    return found ? [{ ...found, told }] : [];
  });
  const [asNoted, freed] = fits;
  // a wrong note can bend the curve until it fits: where without it the files' own curve holds, that is the simpler explanation
  const simpler = freed && asNoted.convincing && !freed.convincing && freed.afterEv <= AS_WELL * asNoted.afterEv;
  const fit = !freed || (!simpler && asNoted.afterEv <= AS_WELL * freed.afterEv) ? asNoted : freed;
  if (!fit) return null;
  return {
    deviationEv: fit.deviationEv,
    relativeEv: Object.fromEntries(frames.map((f, k) => [f.frame.id, fit.ev[k] - fit.ev[reference]])),
    beforeEv: fit.beforeEv,
    afterEv: fit.afterEv,
    exposuresTold: fit.told,
    convincing: fit.convincing,
  };
}

/** Exposures that may be: as noted, and where pixels and notes contradict each other, with the contradicted ones free. */
function hypotheses(noted: ReturnType<typeof believeExposures> | null, measured: number[], reference: number) {
  if (!noted) return [{ ev: measured, sigmas: measured.map(() => MEASURED_SIGMA), told: false }];
  const asNoted = { ev: noted.map((n) => n.told - noted[reference].told), sigmas: noted.map(() => METERED_SIGMA), told: true };
  if (noted.every((n) => n.believed)) return [asNoted];
  const told = noted.some((n) => n.believed);
  return [asNoted, { ev: noted.map((n) => n.ev), sigmas: noted.map((n) => (!told ? MEASURED_SIGMA : n.believed ? METERED_SIGMA : DENIED_SIGMA)), told }];
}

const isLinear = (color: InputColor) => [0.1, 0.5, 0.9].every((v) => Math.abs(color.curves[1](v) - v) < 1e-3);

const sameCurves = (a: InputColor, b: InputColor) =>
  a.curves.every((curve, c) => [0.1, 0.3, 0.5, 0.7, 0.9].every((v) => Math.abs(curve(v) - b.curves[c](v)) < 1e-6));

/** Even places that several frames show unclipped, spread over the codes of the middle frame. */
async function placesOf(inputs: MergeInputs, task: Task): Promise<ResponsePlace[]> {
  const { frames } = inputs;
  const level = Math.max(0, Math.round(Math.log2(Math.max(inputs.width, inputs.height) / 800)));
  const { width, height } = sizeAtLevel(inputs.width, inputs.height, level);
  const n = width * height;
  const places: ResponsePlace[] = [];
  for (const channel of [0, 1, 2] as const) {
    await task.step(channel, 4, "task.response");
    const planes = frames.map((f) => readCodes(f.file, level, channel, width, height));
    const bins = Array.from({ length: 32 }, (): ResponsePlace[] => []);
    const stride = Math.max(1, Math.floor(n / 400_000));
    for (let i = width + 1; i < n - width - 1; i += stride) {
      const codes = planes.map((p) => (isEven(p, i, width) ? p[i] : -1));
      const shared = codes.filter((v) => v >= LOWEST_CODE && v <= HIGHEST_CODE);
      if (shared.length < 2) continue;
      bins[Math.min(31, Math.floor(shared[shared.length >> 1] * 32))].push({ channel, codes });
    }
    const most = PLACES / 32;
    for (const bin of bins) {
      const step = Math.max(1, bin.length / most);
      for (let k = 0; k < bin.length; k += step) places.push(bin[Math.floor(k)]);
    }
  }
  return places;
}

function readCodes(file: MergeInputs["frames"][number]["file"], level: number, channel: number, width: number, height: number): Float32Array {
  const raw = file.spec.type === "u8" ? new Uint8Array(width * height) : new Uint16Array(width * height);
  file.read(level, channel, 0, 0, width, height, raw);
  const top = file.spec.type === "u8" ? 255 : 65535;
  return mapFloats(raw, (v) => v / top);
}

function isEven(plane: Float32Array, i: number, width: number): boolean {
  const v = plane[i];
  return [i - 1, i + 1, i - width, i + width].every((j) => Math.abs(plane[j] - v) < EVEN);
}

/** A colour whose curves are those recovered. */
export function respondingColor(cache: DerivedCache, color: InputColor, { deviationEv }: RecoveredResponse): InputColor {
  return derivedColor(cache, color, ["responding", deviationEv], () => withDeviation(color, deviationEv));
}

function withDeviation(color: InputColor, deviationEv: number[][]): InputColor {
  const curves = color.curves.map((curve, c) => {
    const deviation = deviationEv[deviationEv.length === 1 ? 0 : c];
    return (code: number) => curve(code) * exp2(deviationAt(deviation, code));
  });
  const shared = deviationEv.length === 1 && color.curves.every((c) => c === color.curves[0]);
  return {
    ...color,
    name: `${color.name}, response recovered`,
    curves: shared ? [curves[0], curves[0], curves[0]] : (curves as InputColor["curves"]),
  };
}

/** The response that frames show, as a merge that compares light holds it; not looked for where the files' own is to be used. */
export async function findResponse(inputs: MergeInputs, { response }: OfLight, task: Task): Promise<Pick<OfLight, "response">> {
  return { response: { ...response, found: response.choice === "assumed" ? null : await recoverResponse(inputs, task) } };
}
