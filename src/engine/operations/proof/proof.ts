import { countCells, runRectangle } from "../../../core/masks/cellRuns";
import { mergeKind } from "../../../kinds/merges/records";
import { components, type Component } from "../../../core/masks/components";
import { invert, project } from "../../../core/geometry/matrix3";
import { sizeAtLevel, type Rectangle } from "../../../core/geometry/rectangle";
import type { Records } from "../../../document/records/types";
import { outputGeometry, outputToReference } from "../../../document/outputGeometry";
import { finishLayerOf, finishValues, ghostsOf, isFinish, isInFinish, layersOf, panoramaOf, finishPinsOf } from "../../../document/selectors";
import { coverTest } from "../../../document/validCrop";
import type { EngineContext } from "../../EngineContext";
import type { Task } from "../../task";
import { prepareJob } from "../layers/compose";
import { each, WORKING_TO_REC709 } from "../frames/frameSamples";
import { finding, isHarmless, type Finding, type Remedy } from "../../../document/finding";
import { edgeFindings } from "./edgeFindings";
import { cutFindings } from "./cutFindings";
import { hueWord } from "./hueWord";
import { lightFindings } from "./lightFindings";
import { matchFindings } from "./matchFindings";
import { seatFindings } from "./seatFindings";
import { partFindings } from "./partFindings";
import { layerFindings } from "./layerFindings";
import { inspectPanorama } from "../panorama/inspectPanorama";
import { measureEffect } from "./measureEffect";
import { printFindings } from "./printFindings";
import { composeOutput } from "../finish/composeOutput";
import { readNeutralPins } from "../finish/neutralPins";
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
  findings.push(
    ...(await layerFindings(ctx, job, task)),
    ...(await cutFindings(job, task)),
    ...(await seatFindings(ctx, job, task)),
    ...(await lightFindings(ctx, job, task)),
    ...(await matchFindings(ctx, job, task)),
    ...(await partFindings(ctx, job, task)),
    ...(await printFindings(ctx, job, task)),
  );
  findings.push(...(await effectFindings(ctx, records, task)));
  return findings.sort((a, b) => Number(isHarmless(a)) - Number(isHarmless(b)) || b.weight - a.weight);
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
    await task.step(y, height, "task.clipped");
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
  const channels = (v: number[]) => ({ red: v[0] / total, green: v[1] / total, blue: v[2] / total });

  const areas = components(high, width, height).filter((c) => c.count * scale * scale >= 48);
  const lights = areas.filter((c) => isLight(c, high, light, width, total));
  const plain = areas.filter((c) => !lights.includes(c));
  const sum = (list: Component[]) => list.reduce((s, c) => s + c.count, 0) / total;
  const largest = (list: Component[]) => [...list].sort((a, b) => b.count - a.count)[0];
  if (plain.length && sum(plain) > 2e-5) {
    over.sort((a, b) => a - b);
    const lower = -Math.min(6, Math.max(0.1, Math.log2(over[Math.floor(over.length * 0.95)] ?? 1) + 0.1));
    const ev = finishValues(job.records, "exposure").ev;
    const scene = mergeKind(job.method).givesSceneLight;
    const remedy: Remedy = scene
      ? {
          kind: "setFinish",
          step: "toneResponse",
          values: { headroomEv: Math.min(16, finishValues(job.records, "toneResponse").headroomEv - lower * 2) },
          by: -lower * 2,
        }
      : { kind: "setFinish", step: "exposure", values: { ev: Math.max(-8, ev + lower) }, by: lower };
    findings.push(
      finding(
        "clipped",
        { areas: plain.length, share: sum(plain), ...channels(perChannel.high) },
        {
          id: "clipped",
          place: place(largest(plain)),
          share: sum(plain),
          weight: 100 * sum(plain),
          cause: scene ? "toneAndExposure" : "mergeAndExposure",
          remedy,
        },
      ),
    );
  }
  if (lights.length) {
    findings.push(
      finding(
        "lightSource",
        { areas: lights.length, share: sum(lights) },
        {
          id: "lightSource",
          place: place(largest(lights)),
          share: sum(lights),
          weight: sum(lights),
          cause: "scene",
          remedy: { kind: "show" },
        },
      ),
    );
  }
  const dark = components(low, width, height).filter((c) => c.count * scale * scale >= 200);
  const blocked = sum(dark);
  if (dark.length && blocked > 2e-4) {
    const ev = finishValues(job.records, "exposure").ev;
    findings.push(
      finding(
        "blocked",
        { areas: dark.length, share: blocked, ...channels(perChannel.low) },
        {
          id: "blocked",
          place: place(largest(dark)),
          share: blocked,
          weight: 40 * blocked,
          cause: "exposureAndContrast",
          remedy: { kind: "setFinish", step: "exposure", values: { ev: ev + 0.5 }, by: 0.5 },
        },
      ),
    );
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
  const share = empty / (4 * (steps + 1));
  return [
    finding(
      "emptyBorder",
      { share, panorama: panoramaOf(records) ? "yes" : "no" },
      {
        id: "emptyBorder",
        place: worst,
        share,
        weight: 3,
        cause: "crop",
        remedy: { kind: "crop" },
      },
    ),
  ];
}

function castFindings(ctx: EngineContext, job: PreparedJob): Finding[] {
  const back = invert(outputToReference(outputGeometry(job.records), job.inputs));
  const pins = finishPinsOf(job.records);
  return readNeutralPins(ctx, job).flatMap(({ pinId, deltaE, a, b, isOff, byLayer }) => {
    if (!isOff) return [];
    const pin = pins.find((p) => p.id === pinId)!;
    const proposal = byLayer === null ? proposeWhiteBalance(patchMean(ctx, job, pin.x, pin.y, pin.radius, "layers")) : null;
    const [x, y] = project(back, pin.x, pin.y);
    return [
      finding(
        "cast",
        { pin: pins.indexOf(pin) + 1, deltaE, towards: hueWord(a, b), from: byLayer === null ? "merge" : "layer", by: byLayer ?? "" },
        {
          id: `cast-${pinId}`,
          place: { x: Math.round(x) - 30, y: Math.round(y) - 30, width: 60, height: 60 },
          share: 1,
          weight: deltaE / 4,
          cause: byLayer === null ? "whiteBalance" : "finish",
          remedy: proposal && { kind: "setFinish", step: "whiteBalance", values: { ...proposal }, by: proposal.mired },
        },
      ),
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
    const [x, y] = project(matrix, place.x, place.y);
    const share = area / (crop.width * crop.height);
    return finding(
      "motion",
      { place: ghost.number, width, height, noise: ghost.strength },
      {
        id: `motion-${Math.round(place.x / 32)}-${Math.round(place.y / 32)}`,
        place: { x: Math.round(x), y: Math.round(y), width, height },
        share,
        weight: 1 + 50 * share - i * 1e-3,
        cause: "merge",
        remedy: { kind: "show" },
      },
    );
  });
}

/** Layers and steps that change nothing anyone could see. */
async function effectFindings(ctx: EngineContext, records: Records, task: Task): Promise<Finding[]> {
  const found: Finding[] = [];
  for (const layer of layersOf(records)) {
    // without a tone response scene light could not be looked at, and a group goes with what it holds
    if (isFinish(layer) || layer.id === finishLayerOf(records, "toneResponse")?.id) continue;
    const without = { ...records };
    delete without[layer.id];
    const effect = await measureEffect(ctx, without, records, task, true);
    if (effect?.share !== 0) continue;
    found.push(
      finding(
        "noEffect",
        { layer: layer.name },
        {
          id: `noEffect-${layer.id}`,
          place: null,
          share: 0,
          weight: 0.2,
          cause: isInFinish(records, layer) ? "finish" : "compose",
          remedy: { kind: "removeLayer", layerId: layer.id },
        },
      ),
    );
  }
  return found;
}
