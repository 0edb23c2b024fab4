import { encodeSrgb } from "../../../core/color/srgbCurve";
import { estimateIlluminant } from "../../../core/color/illuminant";
import { FROM_REC709, LUMINANCE } from "../../../core/color/primaries";
import { proposeWhiteBalance } from "../../../core/color/whiteBalance";
import { transform } from "../../../core/geometry/matrix3";
import { levelOfSide, sizeAtLevel } from "../../../core/geometry/rectangle";
import { ownPlanes } from "../../../core/match/fitTransfer";
import { CHARACTERS, lightFigures, localToneOf, renderLight, sceneCandelas, wantedMean, wantedStrength, type Character } from "../../../core/render/characters";
import { structuralFidelity } from "../../../core/render/structuralFidelity";
import { setFinish } from "../../../document/finishEdits";
import { renderedSo, withoutRendering, type FinishValues } from "../../../document/renderingEdits";
import { withoutLook } from "../../../document/matchEdits";
import type { Records } from "../../../document/records/types";
import { finishLayerOf } from "../../../document/selectors";
import { mergeKind } from "../../../kinds/merges/records";
import type { EngineContext } from "../../EngineContext";
import { portion, SILENT, type Task } from "../../task";
import { each } from "../frames/frameSamples";
import { composeRect, prepareJob, type ComposeUpTo } from "../layers/compose";
import { stripRows } from "../layers/layerReach";
import type { PreparedJob } from "../layers/PreparedJob";
import { proposeFinish } from "./proposals";

/** What is told of a rendering. */
export interface RenderingFigures {
  /** how well it keeps the structure of the scene, 0..1 */
  fidelity: number;
  /** mean encoded light, 0..1 */
  mean: number;
  /** share that shows as white */
  white: number;
  /** share that shows as black */
  black: number;
}

/** A rendering that is proposed: values of the steps of a finish. */
export interface Rendering extends RenderingFigures {
  character: Character;
  values: FinishValues;
}

export interface Renderings {
  /** as it is rendered now */
  now: RenderingFigures;
  renderings: Rendering[];
  /** range that nearly all of its light spans, EV; its mean, cd/m², where the camera noted enough */
  rangeEv: number;
  candelas: number | null;
}

/** Longest side at which renderings are judged, samples. */
const SIDE = 420;
/** Strengths that are tried beside the one that the range asks for. */
const TRIED = [0, -0.15, 0.15];
/** Light encoded above and below this shows as white and black. */
const [WHITE, BLACK] = [0.995, 0.005];
/** A light that is told less surely is left as it is; and how much of the way to neutral a balance goes. Common practice, no source: automatic colour is taken at two thirds. */
const [SURE, BALANCED] = [0.6, 0.67];
/** Light of dusk and night has its colour, cd/m², and so has light that is farther than that from day's, mired: a low sun is meant. Common practice, no source. */
const [DAYLIGHT, MOST_MIRED] = [40, 45];
/** Of what was clipped when it was shot a balance makes colours that were never there; more than this share of a picture, and it is left alone. */
const [CLIPPED, MOST_CLIPPED] = [0.97, 0.005];

/** Renderings of a merge, in every character, by what is measured in it. Pins win over what is measured. */
export async function proposeRenderings(ctx: EngineContext, records: Records, task: Task): Promise<Renderings> {
  const bare = withoutRendering(withoutLook(records));
  const job = await prepareJob(ctx, bare, portion(task, 0, 0.5));
  const level = Math.min(job.merge.picture.spec.levels - 1, levelOfSide(job.inputs, SIDE));
  const size = sizeAtLevel(job.inputs.width, job.inputs.height, level);
  const planesOf = (of: PreparedJob, upTo: ComposeUpTo) => readAll(ctx, of, level, upTo);
  const seen = planesOf(job, "layers");
  const scene = luminanceOf(seen);
  const judged = (planes: readonly Float32Array[]): RenderingFigures => {
    const shown = luminanceOf(planes).map((v) => encodeSrgb(Math.min(1, Math.max(0, v))));
    const share = (is: (v: number) => boolean) => shown.reduce((s, v) => s + Number(is(v)), 0) / shown.length;
    return {
      fidelity: structuralFidelity(
        { ...size, data: scene },
        shown.map((v) => 255 * v),
      ),
      mean: shown.reduce((s, v) => s + v, 0) / shown.length,
      white: share((v) => v > WHITE),
      black: share((v) => v < BLACK),
    };
  };
  const asItIs = await prepareJob(ctx, records, portion(task, 0.5, 0.6));
  const now = judged(planesOf(asItIs, "finish"));
  const figures = lightFigures(scene);
  const candelas = candelasOf(job, luminanceOf(planesOf(job, "merge")));
  const wanted = wantedMean(figures, candelas);
  const isSceneLight = mergeKind(job.method).givesSceneLight === true;
  const pinned = proposeFinish(ctx, asItIs);
  const isBalanced = finishLayerOf(bare, "whiteBalance") !== undefined;
  const isDay = candelas !== null && candelas > DAYLIGHT;
  const balance = pinned.whiteBalance ?? (isDay && !isBalanced && (isSceneLight || clippedShare(seen) < MOST_CLIPPED) ? neutralLight(ctx, seen, size) : null);
  const whiteBalance = balance && { mired: balance.mired, duv: balance.duv };
  const renderings: Rendering[] = [];
  for (const [k, character] of CHARACTERS.entries()) {
    const asked = isSceneLight ? wantedStrength(character, figures) : 0;
    const strengths = asked === 0 ? [0] : TRIED.map((by) => Math.min(0.8, Math.max(0, asked + by)));
    let best: Rendering | null = null;
    for (const [j, strength] of strengths.entries()) {
      await task.step(0.62 + (0.38 * (k + j / strengths.length)) / CHARACTERS.length, 1, "task.rendering");
      const localTone = localToneOf(strength, figures);
      const evened = strength === 0 ? scene : luminanceOf(planesOf(await prepareJob(ctx, setFinish("localTone", localTone)(bare), SILENT), "finish"));
      const { toneResponse, ...rest } = renderLight(character, evened, wanted, isSceneLight);
      const values: FinishValues = {
        ...(isSceneLight ? { toneResponse: { ...toneResponse } } : {}),
        ...(strength > 0 ? { localTone } : {}),
        ...rest,
        ...(whiteBalance ? { whiteBalance } : {}),
      };
      let made = await prepareJob(ctx, renderedSo(values, 1)(bare), SILENT);
      const exposure = pinned.exposure && proposeFinish(ctx, made).exposure;
      if (exposure) {
        values.exposure = { ev: exposure.ev };
        made = await prepareJob(ctx, renderedSo(values, 1)(bare), SILENT);
      }
      const told = { character, values, ...judged(planesOf(made, "finish")) };
      if (!best || told.fidelity > best.fidelity) best = told;
    }
    if (best) renderings.push(best);
  }
  return { now, renderings, rangeEv: figures.light - figures.dark, candelas };
}

function readAll(ctx: EngineContext, job: PreparedJob, level: number, upTo: ComposeUpTo): Float32Array[] {
  const { width, height } = sizeAtLevel(job.inputs.width, job.inputs.height, level);
  const rows = stripRows(job.records, level);
  const out = [0, 1, 2].map(() => new Float32Array(width * height));
  for (let y = 0; y < height; y += rows) {
    const rect = { x: 0, y, width, height: Math.min(rows, height - y) };
    ctx.kernels.withScope((scope) =>
      each(composeRect(ctx, job, level, rect, upTo, scope)).forEach((at, c) => out[c].set(ctx.kernels.f32(at, width * rect.height), y * width)),
    );
  }
  return out;
}

const luminanceOf = ([r, g, b]: readonly Float32Array[]): Float32Array =>
  r.map((v, i) => Math.max(0, LUMINANCE[0] * v + LUMINANCE[1] * g[i] + LUMINANCE[2] * b[i]));

/** Mean luminance of the scene by how the frame was exposed whose white is that of the merge; null where it does not say. */
function candelasOf(job: PreparedJob, merged: Float32Array): number | null {
  const frame = job.inputs.frames[job.inputs.reference]?.frame;
  if (!frame?.exposureTimeS || !frame.aperture || !frame.iso) return null;
  const ev100 = Math.log2(frame.aperture ** 2 / frame.exposureTimeS) - Math.log2(frame.iso / 100);
  return sceneCandelas(lightFigures(merged), ev100 - frame.development.exposureEv);
}

/** The white balance that takes the light of the day towards neutral, where what is grey tells it. */
function neutralLight(
  ctx: EngineContext,
  planes: readonly Float32Array[],
  { width, height }: { width: number; height: number },
): { mired: number; duv: number } | null {
  const told = estimateIlluminant(ownPlanes(planes), width, height, ctx.filters);
  const found = told && told.confidence > SURE ? proposeWhiteBalance(transform(FROM_REC709, [...told.rgb])) : null;
  if (!found || Math.abs(found.mired) > MOST_MIRED) return null;
  return { mired: Math.round(BALANCED * found.mired), duv: Number((BALANCED * found.duv).toFixed(4)) };
}

/** Share of samples in which a channel of the primaries of files is clipped. */
function clippedShare(planes: readonly Float32Array[]): number {
  const [r, g, b] = ownPlanes(planes);
  let count = 0;
  for (let i = 0; i < r.length; i++) count += Number(Math.max(r[i], g[i], b[i]) > CLIPPED);
  return count / r.length;
}
