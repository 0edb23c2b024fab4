import { fillCells, fillPixels, runRectangle } from "../../../core/masks/cellRuns";
import { mergeKind, type MergeMethod } from "../../../kinds/merges/records";
import { exp2, log2 } from "../../../core/numeric/elementary";
import { median } from "../../../core/numeric/statistics";
import type { Rectangle } from "../../../core/geometry/rectangle";
import type { GhostRecord } from "../../../document/records/types";
import type { EngineContext } from "../../EngineContext";
import { contentKey } from "../../graph/keys";
import { portion, type Task } from "../../task";
import { PatchedRaster, type RasterPatch } from "../../tiles/PatchedRaster";
import type { RasterFile } from "../../tiles/RasterStore";
import { allocatePlanes, each, readWorking } from "../frames/frameSamples";
import { storedTogether } from "./storedMerge";
import { accumulate, allocatePyramid, collapse, reduce } from "./pyramids";
import { SHARE_CELL, shareSize } from "./shares";
import type { MergeInputs, MergeResult } from "./mergeTypes";

const SEAT_VERSION = 1;
/** Bands of the seam; the coarsest reaches about 2^DEPTH · 3 px to either side. */
const DEPTH = 3;
const MARGIN = 64;
/** Cells around a place in which the donor's light is matched. */
const RING = 3;
/** Most the donor's light is changed to match: little where the merge is scene light already. EV, common practice, no source. */
const MOST_GAIN_EV = { light: 0.35, fusion: 4 };
const ROWS = 128;

/**
 * A merge with one frame in each place that has a donor, joined band by band in the square root of light.
 * @param exposureEv exposure of the merge against the reference
 */
export async function blendDonors(
  ctx: EngineContext,
  inputs: MergeInputs,
  merge: MergeResult,
  method: MergeMethod,
  ghosts: GhostRecord[],
  task: Task,
  exposureEv = 0,
): Promise<MergeResult> {
  const seated = ghosts.filter((g) => g.donorId !== null && inputs.frames.some((f) => f.frame.id === g.donorId) && g.runs.length > 0);
  if (seated.length === 0) return merge;
  const pictures: RasterPatch[] = [];
  const indices: RasterPatch[] = [];
  const shares: RasterPatch[] = [];
  const done: { area: Rectangle; key: string }[] = [];
  for (const [n, ghost] of seated.entries()) {
    const donor = inputs.frames.findIndex((f) => f.frame.id === ghost.donorId);
    const area = patchArea(ghost, inputs, merge.picture.spec.levels);
    // what lies beneath counts: earlier places that this one touches
    const beneath = done.filter((d) => overlaps(d.area, area)).map((d) => d.key);
    const key = contentKey("seat", SEAT_VERSION, [merge.key, donor, mergeKind(method).keepsExposures ?? false, exposureEv, ghost.cellPx, ghost.runs, beneath]);
    const base: MergeResult = {
      ...merge,
      picture: patched(merge.picture, pictures),
      dominant: patched(merge.dominant, indices),
      shares: patched(merge.shares, shares),
    };
    const part = portion(task, n / seated.length, (n + 1) / seated.length);
    const made = await ctx.cache.makeOnce(key, () => blendDonor(ctx, inputs, base, { method, exposureEv, ghost, donor, area, key }, part));
    pictures.push({ ...area, file: made[0] });
    indices.push({ ...area, file: made[1] });
    shares.push({ x: area.x / SHARE_CELL, y: area.y / SHARE_CELL, file: made[2] });
    done.push({ area, key });
  }
  return {
    ...merge,
    key: contentKey("seated", SEAT_VERSION, [merge.key, done.map((d) => d.key)]),
    picture: patched(merge.picture, pictures),
    dominant: patched(merge.dominant, indices),
    shares: patched(merge.shares, shares),
  };
}

const patched = (file: RasterFile, patches: RasterPatch[]) => (patches.length ? new PatchedRaster(file, [...patches]) : file);

const overlaps = (a: Rectangle, b: Rectangle) => a.x < b.x + b.width && b.x < a.x + a.width && a.y < b.y + b.height && b.y < a.y + a.height;

/** The rectangle that changes, on the grid of the coarsest display level. */
function patchArea(ghost: GhostRecord, inputs: MergeInputs, levels: number): Rectangle {
  const place = runRectangle(ghost.runs, ghost.cellPx);
  const grid = Math.max(SHARE_CELL, 2 ** (levels - 1));
  const x = Math.max(0, Math.floor((place.x - MARGIN) / grid) * grid);
  const y = Math.max(0, Math.floor((place.y - MARGIN) / grid) * grid);
  const right = Math.min(inputs.width, Math.ceil((place.x + place.width + MARGIN) / grid) * grid);
  const bottom = Math.min(inputs.height, Math.ceil((place.y + place.height + MARGIN) / grid) * grid);
  return { x, y, width: right - x, height: bottom - y };
}

interface Seat {
  method: MergeMethod;
  exposureEv: number;
  ghost: GhostRecord;
  donor: number;
  area: Rectangle;
  key: string;
}

async function blendDonor(ctx: EngineContext, inputs: MergeInputs, base: MergeResult, seat: Seat, task: Task): Promise<RasterFile[]> {
  const { ghost, donor, area, key } = seat;
  const { width, height } = area;
  const { levels } = base.picture.spec;
  const cells = shareSize(width, height);
  return storedTogether(
    ctx,
    [
      { key, spec: { width, height, channels: 3, type: "f32", levels } },
      { key: `${key}-index`, spec: { width, height, channels: 1, type: "u8", levels }, pick: true },
      { key: `${key}-shares`, spec: { ...cells, channels: inputs.frames.length, type: "u8", levels: 1 } },
    ],
    async ([picture, index, shares]) => {
      const inside = fillPixels(ghost.runs, ghost.cellPx, area);
      await seatPicture(ctx, inputs, base.picture, seat, inside, picture, task);
      seatIndex(base.dominant, donor, area, inside, index);
      seatShares(base.shares, donor, area, inside, shares);
    },
  );
}

async function seatPicture(
  ctx: EngineContext,
  inputs: MergeInputs,
  base: RasterFile,
  seat: Seat,
  inside: Uint8Array,
  out: RasterFile,
  task: Task,
): Promise<void> {
  const { area } = seat;
  const { kernels } = ctx;
  const { width, height } = area;
  const n = width * height;
  const donors = readDonor(ctx, inputs, seat);
  const gains = matchGains(base, donors, seat);
  for (let c = 0; c < 3; c++) {
    await task.step(c, 3, "task.donors");
    kernels.withScope((scope) => {
      const merged = new Float32Array(n);
      base.read(0, c, area.x, area.y, width, height, merged);
      const own = donors[c];
      const weight = allocatePyramid(scope, width, height, DEPTH);
      const change = allocatePyramid(scope, width, height, DEPTH);
      const sum = allocatePyramid(scope, width, height, DEPTH);
      const mask = kernels.f32(weight.at[0], n);
      const difference = kernels.f32(change.at[0], n);
      for (let i = 0; i < n; i++) {
        // where there is no donor there is nothing to take
        const v = own[i];
        mask[i] = inside[i] && v === v ? 1 : 0;
        difference[i] = v === v ? root(v * gains[c]) - root(merged[i]) : 0;
      }
      reduce(kernels, weight);
      reduce(kernels, change);
      accumulate(kernels, change, weight, sum, true);
      collapse(kernels, sum);
      const joined = kernels.f32(sum.at[0], n);
      const result = merged.map((v, i) => {
        if (joined[i] === 0) return v;
        const r = root(v) + joined[i];
        return r < 0 ? -r * r : r * r;
      });
      out.write(0, c, 0, result);
    });
  }
}

/** Square root with the sign kept: light evened out to the eye, exact in every host. */
const root = (v: number) => (v < 0 ? -Math.sqrt(-v) : Math.sqrt(v));

/** The donor as working light at the exposure of the merge; NaN where it does not cover. */
function readDonor(ctx: EngineContext, inputs: MergeInputs, { method, exposureEv, donor, area }: Seat): Float32Array[] {
  const { kernels } = ctx;
  const input = inputs.frames[donor];
  const gain = mergeKind(method).keepsExposures ? 1 : exp2(exposureEv - input.relativeEv);
  const planes = [0, 1, 2].map(() => new Float32Array(area.width * area.height));
  for (let y = 0; y < area.height; y += ROWS) {
    const rows = Math.min(ROWS, area.height - y);
    const rect = { x: area.x, y: area.y + y, width: area.width, height: rows };
    const covered = input.projected?.coverage(0, rect);
    kernels.withScope((scope) => {
      const strip = allocatePlanes(scope, area.width * rows);
      readWorking(scope, input.file, input.color, 0, rect, strip);
      input.projected?.shade(scope, strip, 0, rect);
      each(strip).forEach((at, c) => {
        const from = kernels.f32(at, area.width * rows);
        for (let i = 0; i < from.length; i++) planes[c][y * area.width + i] = covered && !covered[i] ? NaN : from[i] * gain;
      });
    });
  }
  return planes;
}

/** Gain per channel that makes the donor meet the merge around the place: median ratio over a ring. */
function matchGains(base: RasterFile, donors: Float32Array[], { method, ghost, area }: Seat): number[] {
  const { width, height } = area;
  const cells = { x: Math.floor(area.x / ghost.cellPx), y: Math.floor(area.y / ghost.cellPx), width: 0, height: 0 };
  cells.width = Math.ceil((area.x + width) / ghost.cellPx) - cells.x;
  cells.height = Math.ceil((area.y + height) / ghost.cellPx) - cells.y;
  const on = fillCells(ghost.runs, cells);
  const near = (x: number, y: number) => {
    for (let v = Math.max(0, y - RING); v <= Math.min(cells.height - 1, y + RING); v++) {
      for (let u = Math.max(0, x - RING); u <= Math.min(cells.width - 1, x + RING); u++) if (on[v * cells.width + u]) return true;
    }
    return false;
  };
  const samples: number[] = [];
  for (let y = 0; y < cells.height; y++) {
    for (let x = 0; x < cells.width; x++) {
      if (on[y * cells.width + x] || !near(x, y)) continue;
      const px = Math.floor((x + cells.x + 0.5) * ghost.cellPx) - area.x;
      const py = Math.floor((y + cells.y + 0.5) * ghost.cellPx) - area.y;
      if (px >= 0 && py >= 0 && px < width && py < height) samples.push(py * width + px);
    }
  }
  const most = mergeKind(method).keepsExposures ? MOST_GAIN_EV.fusion : MOST_GAIN_EV.light;
  const merged = new Float32Array(width * height);
  return donors.map((own, c) => {
    base.read(0, c, area.x, area.y, width, height, merged);
    const ratios = samples.filter((i) => own[i] > 1e-5 && merged[i] > 1e-5).map((i) => log2(merged[i] / own[i]));
    return ratios.length < 12 ? 1 : exp2(Math.max(-most, Math.min(most, median(ratios))));
  });
}

function seatIndex(base: RasterFile, donor: number, area: Rectangle, inside: Uint8Array, out: RasterFile): void {
  const plane = new Uint8Array(area.width * area.height);
  base.read(0, 0, area.x, area.y, area.width, area.height, plane);
  inside.forEach((on, i) => on && (plane[i] = donor));
  out.write(0, 0, 0, plane);
}

function seatShares(base: RasterFile, donor: number, area: Rectangle, inside: Uint8Array, out: RasterFile): void {
  const { width, height, channels } = out.spec;
  const part = new Float32Array(width * height);
  const count = new Float32Array(width * height);
  inside.forEach((on, i) => {
    const x = i % area.width;
    const cell = Math.floor((i - x) / area.width / SHARE_CELL) * width + Math.floor(x / SHARE_CELL);
    part[cell] += on;
    count[cell]++;
  });
  const plane = new Uint8Array(width * height);
  for (let k = 0; k < channels; k++) {
    base.read(0, k, area.x / SHARE_CELL, area.y / SHARE_CELL, width, height, plane);
    for (let i = 0; i < plane.length; i++) {
      const p = part[i] / count[i];
      plane[i] = Math.round(plane[i] * (1 - p) + (k === donor ? 255 * p : 0));
    }
    out.write(0, k, 0, plane);
  }
}
