import type { FeatureTools } from "../../core/register/features/FeatureTools";
import type { Kernels } from "../../kernels/Kernels";

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
    return kernels.withScope((scope) => {
      const [left, right, out] = [scope.matrix(a), scope.matrix(b), scope.floats(rows * count)];
      kernels.run("productRows", [left, right, count, out], 0, rows, 256);
      return kernels.f32(out, rows * count).slice();
    });
  },
});
