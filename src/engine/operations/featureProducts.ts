import type { Products } from "../../core/register/features/matchFeatures";
import type { Kernels } from "../../kernels/Kernels";

/** Products of all rows of two tables of 128 columns, by the kernel. */
export const featureProducts =
  (kernels: Kernels): Products =>
  (a, b) => {
    const [rows, count] = [a.length / 128, b.length / 128];
    return kernels.withScope((scope) => {
      const [left, right, out] = [scope.matrix(a), scope.matrix(b), scope.floats(rows * count)];
      kernels.run("productRows", [left, right, count, out], 0, rows, 256);
      return kernels.f32(out, rows * count).slice();
    });
  };
