import type { EngineContext } from "../../EngineContext";
import type { RasterFile, RasterSpec } from "../../tiles/RasterStore";
import { buildLevels, levelCount } from "../frames/levels";
import { shareSize } from "./shares";
import type { MergeInputs, MergeResult } from "./mergeTypes";

/** A raster to be made: its key, its shape, whether its levels pick samples instead of averaging them, and whether its maker makes level 1 too. */
interface Wanted {
  key: string;
  spec: RasterSpec;
  pick?: boolean;
  halved?: boolean;
}

/**
 * Opens rasters that belong together from the store, or makes all of them anew. They are known to others only once all are whole, so
 * that a maker stopped on the way leaves nothing behind.
 */
export async function storedTogether(ctx: EngineContext, wanted: Wanted[], make: (files: RasterFile[]) => Promise<void>): Promise<RasterFile[]> {
  const known: RasterFile[] = [];
  for (const { key } of wanted) {
    const file = await ctx.rasters.open(key);
    if (file) known.push(file);
  }
  if (known.length === wanted.length) return known;
  const made: RasterFile[] = [];
  for (const { key, spec } of wanted) made.push(await ctx.rasters.create(key, spec));
  await make(made);
  for (const [i, file] of made.entries()) {
    buildLevels(ctx.kernels, file, wanted[i].pick, wanted[i].halved ? 2 : 1);
    await file.commit();
  }
  return made;
}

/** Opens a finished merge from the store or makes it. @param how whether coloured lines are noted too, and whether level 1 of the picture is made with it */
export function storedMerge(
  ctx: EngineContext,
  key: string,
  { width, height, frames }: MergeInputs,
  make: (result: MergeResult) => Promise<void>,
  how: { fringe?: boolean; halved?: boolean } = {},
): Promise<MergeResult> {
  const levels = levelCount(width, height);
  const cells = shareSize(width, height);
  const wanted: Wanted[] = [
    { key, spec: { width, height, channels: 3, type: "f32", levels }, halved: how.halved },
    { key: `${key}-index`, spec: { width, height, channels: 1, type: "u8", levels }, pick: true },
    { key: `${key}-shares`, spec: { ...cells, channels: frames.length, type: "u8", levels: 1 } },
  ];
  if (how.fringe) wanted.push({ key: `${key}-fringe`, spec: { ...cells, channels: 2, type: "u8", levels: 1 } });
  const named = ([picture, dominant, shares, fringe]: RasterFile[]): MergeResult => ({ key, picture, dominant, shares, ...(how.fringe && { fringe }) });
  return ctx.cache.makeOnce(key, async () => named(await storedTogether(ctx, wanted, (files) => make(named(files)))));
}
