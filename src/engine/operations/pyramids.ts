import type { Kernels, Scope } from "../../kernels/Kernels";

/** Planes of falling size in kernel memory; each sits on the even samples of the one before. */
export interface Pyramid {
  at: number[];
  width: number[];
  height: number[];
}

export function allocatePyramid(scope: Scope, width: number, height: number, depth: number): Pyramid {
  const p: Pyramid = { at: [], width: [], height: [] };
  for (let l = 0; l <= depth; l++) {
    p.width.push(width);
    p.height.push(height);
    p.at.push(scope.floats(width * height + 16));
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

/** Adds the weighted bands of a picture, whose pyramid is reduced, to a sum. @param fresh nothing is in the sum yet: what its planes hold does not count */
export function accumulate(kernels: Kernels, picture: Pyramid, weight: Pyramid, sum: Pyramid, fresh: boolean): void {
  const first = fresh ? 1 : 0;
  const depth = sum.at.length - 1;
  if (depth < 0) return;
  for (let l = 0; l < depth; l++) {
    kernels.run(
      "accumulateBand",
      [picture.at[l], sum.width[l], sum.height[l], picture.at[l + 1], sum.width[l + 1], sum.height[l + 1], weight.at[l], sum.at[l], first],
      0,
      sum.height[l],
    );
  }
  kernels.run("accumulateProduct", [picture.at[depth], weight.at[depth], sum.at[depth], first], 0, sum.width[depth] * sum.height[depth]);
}

/** Adds the bands of a sum up to its finest plane. */
export function collapse(kernels: Kernels, sum: Pyramid): void {
  for (let l = sum.at.length - 1; l > 0; l--) {
    kernels.run("collapseRows", [sum.at[l - 1], sum.width[l - 1], sum.height[l - 1], sum.at[l], sum.width[l], sum.height[l]], 0, sum.height[l - 1]);
  }
}
