import type { Kernels, Scope } from "../../../kernels/Kernels";

/** Planes of falling size in kernel memory; each sits on the even samples of the one before. */
export interface Pyramid {
  at: number[];
  width: number[];
  height: number[];
}

/** @param first size from which on planes are held; finer ones have no address */
export function allocatePyramid(scope: Scope, width: number, height: number, depth: number, first = 0): Pyramid {
  const p: Pyramid = { at: [], width: [], height: [] };
  for (let l = 0; l <= depth; l++) {
    p.width.push(width);
    p.height.push(height);
    p.at.push(l < first ? 0 : scope.floats(width * height + 16));
    width = (width + 1) >> 1;
    height = (height + 1) >> 1;
  }
  return p;
}

/** A pyramid without its `levels` finest planes. */
export const coarser = ({ at, width, height }: Pyramid, levels = 1): Pyramid => ({
  at: at.slice(levels),
  width: width.slice(levels),
  height: height.slice(levels),
});

/** Fills all planes from the finest. */
export function reduce(kernels: Kernels, p: Pyramid): void {
  for (let l = 0; l + 1 < p.at.length; l++) {
    kernels.run("reduceRows", [p.at[l], p.width[l], p.height[l], p.at[l + 1], p.width[l + 1]], 0, p.height[l + 1], 32);
  }
}

/** A plane, the same at half the size, and the weight of each sample: kernel addresses. */
export type WeightedBand = [fine: number, coarse: number, weight: number];

/** Adds weighted bands of one size, on rows `from` to `to`. @param size of the finer planes @param fresh nothing is in the sum yet: what it holds does not count */
export function addBands(
  kernels: Kernels,
  bands: WeightedBand[],
  size: { width: number; height: number },
  sum: number,
  fresh: boolean,
  from = 0,
  to = size.height,
): void {
  const { width, height } = size;
  kernels.withScope((scope) => {
    const table = scope.addresses(bands.flat());
    kernels.run("accumulateBands", [bands.length, table, width, height, (width + 1) >> 1, (height + 1) >> 1, sum, fresh ? 1 : 0], from, to);
  });
}

/** Adds all weighted bands of a picture, whose pyramid is reduced, to a sum. @param fresh as above */
export function accumulate(kernels: Kernels, picture: Pyramid, weight: Pyramid, sum: Pyramid, fresh: boolean): void {
  const depth = sum.at.length - 1;
  if (depth < 0) return;
  for (let l = 0; l < depth; l++) {
    addBands(kernels, [[picture.at[l], picture.at[l + 1], weight.at[l]]], { width: sum.width[l], height: sum.height[l] }, sum.at[l], fresh);
  }
  kernels.run("accumulateProduct", [picture.at[depth], weight.at[depth], sum.at[depth], fresh ? 1 : 0], 0, sum.width[depth] * sum.height[depth]);
}

/** Adds the bands of a sum up to its finest plane. */
export function collapse(kernels: Kernels, sum: Pyramid): void {
  for (let l = sum.at.length - 1; l > 0; l--) {
    kernels.run("collapseRows", [sum.at[l - 1], sum.width[l - 1], sum.height[l - 1], sum.at[l], sum.width[l], sum.height[l]], 0, sum.height[l - 1]);
  }
}
