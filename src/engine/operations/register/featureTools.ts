import type { FeatureTools } from "../../../core/register/features/FeatureTools";
import type { Kernels, Scope } from "../../../kernels/Kernels";

/** Whole numbers that stand for 1 in a descriptor: products of unit vectors fit into 31 bit and are right to 1e-4. */
const ONE = 16384;

/** Features found and compared by kernels: planes convolved, and products of all rows of two tables of 128 columns. */
export const featureTools = (kernels: Kernels): FeatureTools => ({
  convolve: ({ width, height, data }, weights) =>
    kernels.withScope((scope) => {
      const [src, out] = [scope.floats(data.length + 16), scope.floats(data.length + 16)];
      kernels.f32(src, data.length).set(data);
      kernels.run("convolveRows", [src, width, height, scope.matrix(weights), weights.length - 1, out], 0, height, 64);
      return kernels.f32(out, data.length).slice();
    }),
  products: (a, b) => {
    const [rows, count] = [a.length / 128, b.length / 128];
    // the kernel takes four rows at once
    const room = Math.max(4, count);
    return kernels.withScope((scope) => {
      const [left, right, out] = [codesOf(scope, a, rows), codesOf(scope, b, room), scope.floats(rows * room)];
      kernels.run("productRows", [left, right, room, 1 / ONE ** 2, out], 0, rows, 256);
      const dots = kernels.f32(out, rows * room).slice();
      return room === count ? dots : dots.filter((_, i) => i % room < count);
    });
  },
});

/** Rows of 128 values as whole numbers of 16 bit; rows beyond those given are 0. */
function codesOf(scope: Scope, values: Float32Array, rows: number): number {
  const at = scope.bytes(rows * 256);
  const codes = scope.kernels.u16(at, rows * 128).fill(0);
  for (let i = 0; i < values.length; i++) codes[i] = Math.round(values[i] * ONE);
  return at;
}
