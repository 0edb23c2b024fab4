import { sizeAtLevel } from "../../../core/geometry/rectangle";
import { evenLight, type EvenLight, type LightTie } from "../../../core/panorama/evenLight";
import { between, inside, overlapOf, type Camera } from "../../../core/panorama/camera";
import { distort, type Lens } from "../../../core/geometry/lens";
import type { FrameRecord } from "../../../document/records/types";
import type { EngineContext } from "../../EngineContext";
import type { Task } from "../../task";
import { developedColor } from "../frames/develop";
import { allocatePlanes, each, readWorking } from "../frames/frameSamples";
import { colorOf, openFrame } from "../frames/sources";

const SIDE = 420;
/** Light that is compared, 0..1 of white: below, noise and quantisation speak, above, a channel may be clipped. Common practice, no source. */
const [DARKEST, BRIGHTEST] = [0.004, 0.75];
/** Where light changes faster than this from one sample to the next, EV, the least misfit would speak. */
const SMOOTH_EV = 0.35;

interface LightFrame {
  camera: Camera;
  lens: Lens | null;
  level: number;
  width: number;
  height: number;
  planes: Float32Array[];
}

/** Gains and falloff of the frames of a panorama from what their overlaps show. */
export async function measureLight(ctx: EngineContext, frames: { frame: FrameRecord; camera: Camera }[], task: Task): Promise<EvenLight> {
  const looked: LightFrame[] = [];
  for (const [i, { frame, camera }] of frames.entries()) {
    await task.step(i, frames.length, "task.comparingLight");
    looked.push(await lightOf(ctx, frame, camera));
  }
  const ties: LightTie[] = [];
  for (let a = 0; a < looked.length; a++) {
    for (let b = a + 1; b < looked.length; b++) {
      if (overlapOf(looked[a].camera, looked[b].camera) > 0.01) ties.push(...tiesOf(looked, a, b));
    }
  }
  return evenLight(frames.length, ties);
}

async function lightOf(ctx: EngineContext, frame: FrameRecord, camera: Camera): Promise<LightFrame> {
  const source = await openFrame(ctx, frame);
  const color = developedColor(ctx.cache, await colorOf(ctx, frame.sourceId), frame.development);
  const level = Math.max(0, Math.min(source.spec.levels - 1, Math.round(Math.log2(Math.max(frame.width, frame.height) / SIDE))));
  const size = sizeAtLevel(source.spec.width, source.spec.height, level);
  const n = size.width * size.height;
  const planes = ctx.kernels.withScope((scope) => {
    const at = allocatePlanes(scope, n);
    readWorking(scope, source, color, level, { x: 0, y: 0, ...size }, at);
    return each(at).map((plane) => ctx.kernels.f32(plane, n).slice());
  });
  return { camera, lens: frame.development.lens, level, ...size, planes };
}

/** Places of a coarse grid over a that b sees too. */
function tiesOf(frames: LightFrame[], a: number, b: number): LightTie[] {
  const [p, q] = [frames[a], frames[b]];
  const ties: LightTie[] = [];
  const step = 2 ** p.level;
  for (let y = 3; y < p.height - 3; y += 4) {
    for (let x = 3; x < p.width - 3; x += 4) {
      const [fx, fy] = [(x + 0.5) * step - 0.5, (y + 0.5) * step - 0.5];
      const seen = between(p.camera, q.camera, fx, fy);
      if (!seen || !inside(q.camera, seen, 2 ** q.level * 2)) continue;
      const here = sampleAt(p, fx, fy);
      const there = sampleAt(q, seen[0], seen[1]);
      if (!here || !there) continue;
      const ev = [0, 1, 2].map((c) => Math.log2(here[c] / there[c])) as [number, number, number];
      ties.push({ a, b, ra2: radius2(p.camera, fx, fy), rb2: radius2(q.camera, seen[0], seen[1]), ev });
    }
  }
  return ties;
}

/** Squared distance from a frame's centre, half-diagonals. */
function radius2({ width, height }: Camera, x: number, y: number): number {
  const [cx, cy] = [(width - 1) / 2, (height - 1) / 2];
  return ((x - cx) ** 2 + (y - cy) ** 2) / (cx * cx + cy * cy);
}

/** Mean light about a place of the frame; null where it cannot be compared. */
function sampleAt(f: LightFrame, x: number, y: number): number[] | null {
  const [u, v] = distort(f.lens, f.camera, x, y);
  const s = 2 ** -f.level;
  const [px, py] = [Math.round((u + 0.5) * s - 0.5), Math.round((v + 0.5) * s - 0.5)];
  if (px < 1 || py < 1 || px >= f.width - 1 || py >= f.height - 1) return null;
  const at = py * f.width + px;
  const sums: number[] = [];
  for (const plane of f.planes) {
    let [sum, low, high] = [0, Infinity, 0];
    for (let j = -1; j <= 1; j++) {
      for (let i = -1; i <= 1; i++) {
        const value = plane[at + j * f.width + i];
        sum += value;
        low = Math.min(low, value);
        high = Math.max(high, value);
      }
    }
    if (low < DARKEST || high > BRIGHTEST || Math.log2(high / low) > SMOOTH_EV) return null;
    sums.push(sum / 9);
  }
  return sums;
}
