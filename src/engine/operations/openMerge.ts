import { makeOnce, type EngineContext } from "../EngineContext";
import type { RasterFile } from "../tiles/RasterStore";
import { buildLevels, levelCount } from "./levels";
import type { MergeInputs, MergeResult } from "./mergeInputs";
import { shareSize } from "./shares";

/** Fills the rasters of a merge. */
type MakeMerge = (result: MergeResult) => Promise<void>;

/** Opens a finished merge from the store or makes it. */
export function openMerge(ctx: EngineContext, key: string, inputs: MergeInputs, make: MakeMerge): Promise<MergeResult> {
  return makeOnce(ctx, key, () => openOrMake(ctx, key, inputs, make));
}

async function openOrMake(ctx: EngineContext, key: string, inputs: MergeInputs, make: MakeMerge): Promise<MergeResult> {
  const keys = [key, `${key}-index`, `${key}-shares`];
  const known: (RasterFile | null)[] = [];
  for (const k of keys) known.push(ctx.files.get(k) ?? (await ctx.store.open(k)));
  const keep = (files: RasterFile[]): MergeResult => {
    files.forEach((file, i) => ctx.files.set(keys[i], file));
    return { key, picture: files[0], dominant: files[1], shares: files[2] };
  };
  if (known.every((file) => file !== null)) return keep(known);
  const { width, height, frames } = inputs;
  const levels = levelCount(width, height);
  const made = [
    await ctx.store.create(keys[0], { width, height, channels: 3, type: "f32", levels }),
    await ctx.store.create(keys[1], { width, height, channels: 1, type: "u8", levels }),
    await ctx.store.create(keys[2], { ...shareSize(width, height), channels: frames.length, type: "u8", levels: 1 }),
  ];
  await make(keep(made));
  buildLevels(ctx.kernels, made[0]);
  buildLevels(ctx.kernels, made[1], true);
  for (const file of made) await file.commit();
  return keep(made);
}
