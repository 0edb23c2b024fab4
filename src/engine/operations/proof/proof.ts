import { workingToLab } from "../../../core/color/colorDifference";
import { countCells, runRectangle } from "../../../core/masks/cellRuns";
import { mergeKind } from "../../../kinds/merges/records";
import { components, type Component } from "../../../core/masks/components";
import { invert, project, transform } from "../../../core/geometry/matrix3";
import { sizeAtLevel, type Rectangle } from "../../../core/geometry/rectangle";
import type { Records } from "../../../document/records/types";
import { outputGeometry, outputToReference } from "../../../document/outputGeometry";
import { finishLayerOf, finishValues, ghostsOf, isFinish, isInFinish, layersOf, panoramaOf, pinsOf } from "../../../document/selectors";
import { coverTest } from "../../../document/validCrop";
import type { EngineContext } from "../../EngineContext";
import type { Task } from "../../task";
import { prepareJob } from "../layers/compose";
import { each, WORKING_TO_REC709 } from "../frames/frameSamples";
import type { Finding, Remedy } from "../../../document/finding";
import { edgeFindings } from "./edgeFindings";
import { layerFindings } from "./layerFindings";
import { inspectPanorama } from "../panorama/inspectPanorama";
import { measureEffect } from "./measureEffect";
import { composeOutput } from "../finish/composeOutput";
import { patchMean } from "../finish/patch";
import { proposeWhiteBalance } from "../../../core/color/whiteBalance";
import type { PreparedJob } from "../layers/PreparedJob";

const SIDE = 2600;
/** Encoded sRGB, 8-bit codes. At and above: clipped; at and below: blocked. Common practice, no source. */
const CLIPPED = 254.5;
const BLOCKED = 1.5;

/** Measures the finished picture and lists what is wrong with it, most visible first. */
export async function runProof(ctx: EngineContext, records: Records, task: Task): Promise<Finding[]> {
  const job = await prepareJob(ctx, records, task);
  const findings = [
    ...(await rangeFindings(ctx, job, task)),
    ...borderFindings(job),
    ...edgeFindings(ctx, job),
    ...castFindings(ctx, job),
    ...motionFindings(job),
    ...(await inspectPanorama(ctx, job, task)),
  ];
  findings.push(...(await layerFindings(ctx, job, task)));
  findings.push(...(await effectFindings(ctx, records, task)));
  return findings.sort((a, b) => Number(a.harmless) - Number(b.harmless) || b.weight - a.weight);
}

/** Clipped and blocked areas per channel, with lamps, the sun and glints told apart. */
async function rangeFindings(ctx: EngineContext, job: PreparedJob, task: Task): Promise<Finding[]> {
  const { crop } = outputGeometry(job.records);
  const level = Math.max(0, Math.ceil(Math.log2(Math.max(crop.width, crop.height) / SIDE)));
  const { width, height } = sizeAtLevel(crop.width, crop.height, level);
  const high = new Uint8Array(width * height);
  const low = new Uint8Array(width * height);
  const light = new Float32Array(width * height);
  const perChannel = { high: [0, 0, 0], low: [0, 0, 0] };
  const over: number[] = [];
  const rows = 64;
  for (let y = 0; y < height; y += rows) {
    await task.step(y, height, "Looking for clipped and blocked areas");
    const rect = { x: 0, y, width, height: Math.min(rows, height - y) };
    const n = width * rect.height;
    ctx.kernels.withScope((scope) => {
      const scene = composeOutput(ctx, job, level, rect, "merge", scope);
      light.set(ctx.kernels.f32(scene.g, n), y * width);
      const planes = composeOutput(ctx, job, level, rect, "finish", scope);
      ctx.kernels.run("applyMatrix", [...each(planes), scope.matrix(WORKING_TO_REC709)], 0, planes.length, 65536);
      const linear = each(planes).map((at) => ctx.kernels.f32(at, n).slice());
      for (const at of each(planes)) ctx.kernels.run("encodeSamples", [at, at, 255], 0, planes.length, 16384);
      each(planes).forEach((at, c) => {
        const v = ctx.kernels.f32(at, n);
        for (let i = 0; i < n; i++) {
          if (v[i] >= CLIPPED) {
            high[y * width + i] |= 1 << c;
            perChannel.high[c]++;
            if ((i & 7) === 0) over.push(linear[c][i]);
          } else if (v[i] <= BLOCKED) {
            low[y * width + i] |= 1 << c;
            perChannel.low[c]++;
          }
        }
      });
    });
  }
  const total = width * height;
  const scale = 2 ** level;
  const findings: Finding[] = [];
  const place = (c: Component): Rectangle => ({ x: c.x0 * scale, y: c.y0 * scale, width: (c.x1 - c.x0 + 1) * scale, height: (c.y1 - c.y0 + 1) * scale });
  const shares = (v: number[]) => ["R", "G", "B"].map((name, c) => `${name} ${((100 * v[c]) / total).toFixed(2)} %`).join(", ");

  const areas = components(high, width, height).filter((c) => c.count * scale * scale >= 48);
  const lights = areas.filter((c) => isLight(c, high, light, width, total));
  const plain = areas.filter((c) => !lights.includes(c));
  const sum = (list: Component[]) => list.reduce((s, c) => s + c.count, 0) / total;
  const largest = (list: Component[]) => [...list].sort((a, b) => b.count - a.count)[0];
  if (plain.length && sum(plain) > 2e-5) {
    over.sort((a, b) => a - b);
    const lower = -Math.min(6, Math.max(0.1, Math.log2(over[Math.floor(over.length * 0.95)] ?? 1) + 0.1));
    const ev = finishValues(job.records, "exposure").ev;
    const remedy: Remedy = mergeKind(job.method).givesSceneLight
      ? {
          kind: "setFinish",
          step: "toneResponse",
          values: { headroomEv: Math.min(16, finishValues(job.records, "toneResponse").headroomEv - lower * 2) },
          label: `Raise the white point by ${(-lower * 2).toFixed(1)} EV`,
        }
      : { kind: "setFinish", step: "exposure", values: { ev: Math.max(-8, ev + lower) }, label: `Lower the exposure by ${(-lower).toFixed(1)} EV` };
    findings.push({
      id: "clipped",
      kind: "clipped",
      title: plain.length === 1 ? "Clipped area" : `${plain.length} clipped areas`,
      sentence: `${(100 * sum(plain)).toFixed(2)} % of the picture is at the top of the range (${shares(perChannel.high)}, lights included).`,
      place: place(largest(plain)),
      share: sum(plain),
      weight: 100 * sum(plain),
      cause: mergeKind(job.method).givesSceneLight ? "Tone response and exposure" : "Merge and exposure",
      remedy,
      harmless: false,
    });
  }
  if (lights.length) {
    findings.push({
      id: "lightSource",
      kind: "lightSource",
      title: lights.length === 1 ? "A light or glint at the top of the range" : `${lights.length} lights or glints at the top of the range`,
      sentence: `${(100 * sum(lights)).toFixed(2)} % of the picture: small and far brighter than what surrounds them, as lamps, the sun and glints are. They may clip.`,
      place: place(largest(lights)),
      share: sum(lights),
      weight: sum(lights),
      cause: "The scene",
      remedy: { kind: "show", label: "Show" },
      harmless: true,
    });
  }
  const dark = components(low, width, height).filter((c) => c.count * scale * scale >= 200);
  const blocked = sum(dark);
  if (dark.length && blocked > 2e-4) {
    const ev = finishValues(job.records, "exposure").ev;
    findings.push({
      id: "blocked",
      kind: "blocked",
      title: dark.length === 1 ? "Blocked area" : `${dark.length} blocked areas`,
      sentence: `${(100 * blocked).toFixed(2)} % of the picture is at the bottom of the range in at least one channel (${shares(perChannel.low)}).`,
      place: place(largest(dark)),
      share: blocked,
      weight: 40 * blocked,
      cause: "Exposure and contrast",
      remedy: { kind: "setFinish", step: "exposure", values: { ev: ev + 0.5 }, label: "Raise the exposure by 0.5 EV" },
      harmless: false,
    });
  }
  return findings;
}

/** A compact clipped area that the scene shows far brighter than a ring around it: a lamp, the sun, a glint. */
function isLight(c: Component, high: Uint8Array, light: Float32Array, width: number, total: number): boolean {
  if (c.count / total > 0.002) return false;
  const pad = Math.max(4, Math.round(Math.max(c.x1 - c.x0, c.y1 - c.y0) * 0.7));
  const height = light.length / width;
  let peak = 0;
  let ring = 0;
  let n = 0;
  for (let y = Math.max(0, c.y0 - pad); y <= Math.min(height - 1, c.y1 + pad); y++) {
    for (let x = Math.max(0, c.x0 - pad); x <= Math.min(width - 1, c.x1 + pad); x++) {
      const i = y * width + x;
      if (high[i]) peak = Math.max(peak, light[i]);
      else {
        ring += light[i];
        n++;
      }
    }
  }
  return n > 0 && peak > 3 * (ring / n);
}

function borderFindings(job: PreparedJob): Finding[] {
  const { records } = job;
  const geometry = outputGeometry(records);
  const toReference = outputToReference(geometry, job.inputs);
  const covered = coverTest(records);
  const { width, height } = geometry.crop;
  let empty = 0;
  let worst: Rectangle | null = null;
  const steps = 64;
  for (let side = 0; side < 4; side++) {
    for (let k = 0; k <= steps; k++) {
      const x = side < 2 ? Math.round((k * (width - 1)) / steps) : side === 2 ? 0 : width - 1;
      const y = side < 2 ? (side === 0 ? 0 : height - 1) : Math.round((k * (height - 1)) / steps);
      const [u, v] = project(toReference, x, y);
      const inside = u >= 0 && v >= 0 && u <= job.inputs.width - 1 && v <= job.inputs.height - 1;
      if (inside && covered(u, v)) continue;
      empty++;
      worst ??= { x: Math.max(0, x - 40), y: Math.max(0, y - 40), width: 80, height: 80 };
    }
  }
  if (!empty) return [];
  return [
    {
      id: "emptyBorder",
      kind: "emptyBorder",
      title: panoramaOf(records) ? "Border that no frame covers" : "Border that not every frame covers",
      sentence: `${((100 * empty) / (4 * (steps + 1))).toFixed(0)} % of the picture's edge lies where ${panoramaOf(records) ? "no frame has" : "at least one frame has no"} picture.`,
      place: worst,
      share: empty / (4 * (steps + 1)),
      weight: 3,
      cause: "Crop",
      remedy: { kind: "crop", label: "Crop to the covered area" },
      harmless: false,
    },
  ];
}

function castFindings(ctx: EngineContext, job: PreparedJob): Finding[] {
  const back = invert(outputToReference(outputGeometry(job.records), job.inputs));
  return pinsOf(job.records)
    .filter((p) => p.purpose === "neutral")
    .flatMap((pin, i) => {
      const lab = workingToLab(patchMean(ctx, job, pin.x, pin.y, pin.radius, "finish"));
      const chroma = Math.hypot(lab[1], lab[2]);
      if (chroma <= 2) return [];
      const proposal = proposeWhiteBalance(patchMean(ctx, job, pin.x, pin.y, pin.radius, "layers"));
      const [x, y] = project(back, pin.x, pin.y);
      const hue = Math.abs(lab[2]) > Math.abs(lab[1]) ? (lab[2] > 0 ? "yellow" : "blue") : lab[1] > 0 ? "magenta" : "green";
      return [
        {
          id: `cast-${pin.id}`,
          kind: "cast" as const,
          title: `Cast at neutral pin ${i + 1}`,
          sentence: `It reads ${chroma.toFixed(1)} ΔE from neutral, towards ${hue}.`,
          place: { x: Math.round(x) - 30, y: Math.round(y) - 30, width: 60, height: 60 },
          share: 1,
          weight: chroma / 4,
          cause: "White balance",
          remedy: proposal && {
            kind: "setFinish" as const,
            step: "whiteBalance" as const,
            values: { ...proposal },
            label: `Take ${proposal.mired >= 0 ? "+" : "−"}${Math.abs(proposal.mired).toFixed(0)} mired`,
          },
          harmless: false,
        },
      ];
    });
}

/** Places where frames differ and nobody has said which one is taken. */
function motionFindings(job: PreparedJob): Finding[] {
  if (!mergeKind(job.method).smearsMotion) return [];
  const matrix = invert(outputToReference(outputGeometry(job.records), job.inputs));
  const { crop } = outputGeometry(job.records);
  const open = ghostsOf(job.records).filter((g) => g.donorId === null && g.strength > 0);
  return open.slice(0, 8).map((ghost, i) => {
    const place = runRectangle(ghost.runs, ghost.cellPx);
    const { width, height } = place;
    const area = countCells(ghost.runs) * ghost.cellPx ** 2;
    const [x, y] = transform(matrix, [place.x, place.y, 1]);
    return {
      id: `motion-${Math.round(place.x / 32)}-${Math.round(place.y / 32)}`,
      kind: "motion" as const,
      title: `Something moved at place ${ghost.number}`,
      sentence: `${width}×${height} px; the frames differ by ${ghost.strength.toFixed(0)} times the noise, and all of them are merged. Choose one frame for it in Merge, or accept it.`,
      place: { x: Math.round(x), y: Math.round(y), width, height },
      share: area / (crop.width * crop.height),
      weight: 1 + (50 * area) / (crop.width * crop.height) - i * 1e-3,
      cause: "Merge",
      remedy: { kind: "show" as const, label: "Show" },
      harmless: false,
    };
  });
}

/** Layers and steps that change nothing anyone could see. */
async function effectFindings(ctx: EngineContext, records: Records, task: Task): Promise<Finding[]> {
  const found: Finding[] = [];
  const add = (id: string, title: string, cause: string, remedy: Remedy) =>
    found.push({
      id,
      kind: "noEffect",
      title,
      sentence: "Without it the picture is the same to within 0.5 ΔE everywhere.",
      place: null,
      share: 0,
      weight: 0.2,
      cause,
      remedy,
      harmless: false,
    });
  for (const layer of layersOf(records)) {
    // without a tone response scene light could not be looked at, and a group goes with what it holds
    if (isFinish(layer) || layer.id === finishLayerOf(records, "toneResponse")?.id) continue;
    const without = { ...records };
    delete without[layer.id];
    const effect = await measureEffect(ctx, without, records, task, true);
    if (effect && effect.share === 0)
      add(`noEffect-${layer.id}`, `Layer "${layer.name}" has no visible effect`, isInFinish(records, layer) ? "Finish" : "Compose", {
        kind: "removeLayer",
        layerId: layer.id,
        label: "Remove the layer",
      });
  }
  return found;
}
