import { cutInto } from "../../../core/raster/planeParts";
import { FRAMES_VERSION } from "../frames/placeFrame";
import { Refusal } from "../../../core/refusal";
import { falloffAt, type EvenLight } from "../../../core/panorama/evenLight";
import { sizeAtLevel, type Rectangle } from "../../../core/geometry/rectangle";
import { IDENTITY } from "../../../core/geometry/matrix3";
import { exp2 } from "../../../core/numeric/elementary";
import type { PanoramaRecord } from "../../../document/records/panoramaTypes";
import type { Records } from "../../../document/records/types";
import { panoramaFramesOf, registrationOf } from "../../../document/selectors";
import type { InputColor } from "../../../formats/icc/readProfile";
import type { Scope } from "../../../kernels/Kernels";
import type { EngineContext } from "../../EngineContext";
import type { DerivedCache } from "../../graph/DerivedCache";
import { type RasterFile } from "../../tiles/RasterStore";
import { derivedColor } from "../frames/derivedColor";
import { developedColor } from "../frames/develop";
import { allocatePlanes, each, tablesOf, type Planes } from "../frames/frameSamples";
import { colorOf, openFrame } from "../frames/sources";
import type { PanoramaParts } from "./PanoramaParts";
import { coverageOfGrid, gridOf, onGrid, ProjectedRaster, sourceLevelFor, warpThrough, type NodeGrid, type Projected } from "./projectFrame";
import type { MergeFrame, MergeInputs, ProjectedFrame } from "../merge/mergeTypes";
import { pictureIdOf } from "../../../document/sourceIds";

export async function openPanoramaInputs(ctx: EngineContext, records: Records, panorama: PanoramaRecord): Promise<MergeInputs> {
  const turned = panoramaFramesOf({ ...records, [panorama.id]: panorama });
  if (turned.length === 0) throw new Refusal("notRegistered", "registering.none");
  const { view } = panorama;
  const falloff = panorama.falloff as EvenLight["falloff"];
  const frames: MergeFrame[] = [];
  const sources: RasterFile[] = [];
  const projected: Projected[] = [];
  for (const { frame, camera, gainEv } of turned) {
    const source = await openFrame(ctx, frame);
    const own = { view, camera, lens: frame.development.lens };
    const color = evened(ctx.cache, developedColor(ctx.cache, await colorOf(ctx, frame.sourceId), frame.development), gainEv);
    sources.push(source);
    projected.push(own);
    const gridAt = (level: number, rect: Rectangle) => {
      const sourceLevel = sourceLevelFor(own, source.spec, level);
      return { grid: gridOf(own, level, rect, sourceLevel), size: sizeAtLevel(source.spec.width, source.spec.height, sourceLevel) };
    };
    const parts: ProjectedFrame = {
      shade: (scope, planes, level, rect) => {
        const { grid, size } = gridAt(level, rect);
        undoFalloff(scope, planes, grid, size, falloff);
      },
      coverage: (level, rect) => {
        const wide = onGrid(rect);
        const { grid, size } = gridAt(level, wide);
        const on = new Uint8Array(wide.width * wide.height);
        coverageOfGrid(grid, size, on);
        const asked = new Uint8Array(rect.width * rect.height);
        cutInto(asked, on, wide, rect);
        return asked;
      },
    };
    frames.push({ frame, file: new ProjectedRaster(ctx.kernels, source, own), color, inverse: IDENTITY, lens: null, relativeEv: 0, projected: parts });
  }
  const key = [
    "panorama",
    FRAMES_VERSION,
    view,
    panorama.lens,
    falloff,
    turned.map(({ frame, camera, gainEv }) => [pictureIdOf(frame), frame.development, camera.rotation, gainEv]),
  ];
  const reference = Math.max(
    0,
    turned.findIndex(({ frame }) => frame.id === registrationOf(records)?.referenceId),
  );
  return {
    width: view.width,
    height: view.height,
    frames,
    reference,
    key,
    noise: { shot: 1e-4, readSquared: 1e-7 },
    panorama: { view, sources, projected, falloff },
  };
}

/** A frame's colour at the light of the panorama. */
function evened(cache: DerivedCache, color: InputColor, gainEv: number[]): InputColor {
  return derivedColor(cache, color, ["evened", gainEv], () => {
    const gains = gainEv.map((ev) => exp2(-ev));
    return { ...color, name: `${color.name}, evened`, toWorking: color.toWorking.map((v, i) => v * gains[Math.floor(i / 3)]) };
  });
}

/** Planes of linear working light of a frame in a rectangle of the picture, at the light of the panorama; beyond its border it goes on. */
export function readProjected(
  scope: Scope,
  parts: PanoramaParts,
  color: InputColor,
  k: number,
  level: number,
  rect: Rectangle,
): { planes: Planes; grid: NodeGrid; size: { width: number; height: number } } {
  const sourceLevel = sourceLevelFor(parts.projected[k], parts.sources[k].spec, level);
  const grid = gridOf(parts.projected[k], level, rect, sourceLevel);
  const size = sizeAtLevel(parts.sources[k].spec.width, parts.sources[k].spec.height, sourceLevel);
  return { planes: readThroughGrid(scope, parts, color, k, grid, size), grid, size };
}

/** The same where the grid is known. */
export function readThroughGrid(
  scope: Scope,
  { sources, falloff }: PanoramaParts,
  color: InputColor,
  k: number,
  grid: NodeGrid,
  size: { width: number; height: number },
): Planes {
  const { kernels } = scope;
  const source = sources[k];
  const n = grid.rect.width * grid.rect.height;
  const planes = allocatePlanes(scope, n);
  kernels.withScope((inner) => {
    const coded = warpThrough(inner, source, grid);
    each(planes).forEach((plane, c) => {
      if (source.spec.type === "f32") {
        kernels.f32(plane, n).set(kernels.f32(coded[c], n));
        return;
      }
      const table = inner.matrix(tablesOf(color)[c]);
      kernels.run("lookUpSamples", [coded[c], table, plane], 0, n, 65536);
    });
    kernels.run("applyMatrix", [...each(planes), inner.matrix(color.toWorking)], 0, planes.length, 65536);
    undoFalloff(inner, planes, grid, size, falloff);
  });
  return planes;
}

/** Brightens towards the corners what the lens darkened there. */
function undoFalloff(
  scope: Scope,
  planes: Planes,
  { rect, columns, nodes }: NodeGrid,
  size: { width: number; height: number },
  falloff: EvenLight["falloff"],
): void {
  if (falloff.every((v) => v === 0)) return;
  const { kernels } = scope;
  const [cx, cy] = [(size.width - 1) / 2, (size.height - 1) / 2];
  const per = 1 / (cx * cx + cy * cy);
  const factors = scope.floats(nodes.length / 2);
  const out = kernels.f32(factors, nodes.length / 2);
  for (let i = 0; i < out.length; i++) {
    // beyond the corners there is nothing to undo
    const r2 = Math.min(1, ((nodes[2 * i] - cx) ** 2 + (nodes[2 * i + 1] - cy) ** 2) * per);
    out[i] = Number.isNaN(r2) ? 1 : exp2(-falloffAt(falloff, r2));
  }
  kernels.run("gainGridRows", [...each(planes), rect.width, factors, columns, 0], 0, rect.height, 32);
}
