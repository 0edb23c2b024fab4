import { OKLAB } from "../../../core/color/oklab";
import type { Rectangle } from "../../../core/geometry/rectangle";
import type { Scope } from "../../../kernels/Kernels";
import type { EngineContext } from "../../EngineContext";
import { each, type Planes } from "../frames/frameSamples";
import type { PreparedJob } from "../layers/PreparedJob";
import { readLayer, readMerge } from "../merge/readLayer";

const DARKEST = 1e-6;

/** Light of the merge and of placed frames at a display level, as masks are measured in it. */
export class MaskPictures {
  constructor(
    private readonly ctx: EngineContext,
    private readonly job: PreparedJob,
    private readonly level: number,
  ) {}

  light(of: string | null, rect: Rectangle, levelled = false, level = this.level): Float32Array[] {
    const n = rect.width * rect.height;
    const copies = (_scope: Scope, planes: Planes) => each(planes).map((at) => this.ctx.kernels.f32(at, n).slice());
    return this.planes(of, rect, levelled, level, copies, () => [0, 1, 2].map(() => new Float32Array(n)));
  }

  oklab(of: string | null, rect: Rectangle): Float32Array[] {
    const n = rect.width * rect.height;
    const convert = (scope: Scope, planes: Planes) => {
      const { into, out } = OKLAB.in;
      this.ctx.kernels.run("oklabSamples", [...each(planes), scope.matrix(into), scope.matrix(out)], 0, planes.length, 16384);
      return each(planes).map((at) => this.ctx.kernels.f32(at, n).slice());
    };
    return this.planes(of, rect, false, this.level, convert, () => [0, 1, 2].map(() => new Float32Array(n)));
  }

  logLight(of: string | null, rect: Rectangle, levelled = false): Float32Array {
    const n = rect.width * rect.height;
    const convert = (scope: Scope, planes: Planes) => {
      const out = scope.floats(planes.length + 16);
      this.ctx.kernels.run("logLightSamples", [...each(planes), out, DARKEST], 0, planes.length, 16384);
      return this.ctx.kernels.f32(out, n).slice();
    };
    return this.planes(of, rect, levelled, this.level, convert, () => new Float32Array(n).fill(Math.log2(DARKEST)));
  }

  private planes<T>(of: string | null, rect: Rectangle, levelled: boolean, level: number, use: (scope: Scope, planes: Planes) => T, missing: () => T): T {
    const { inputs, merge } = this.job;
    const input = of === null ? null : inputs.frames.find((f) => f.frame.id === of);
    if (input === undefined) return missing();
    return this.ctx.kernels.withScope((scope) =>
      use(scope, input ? readLayer(scope, input, level, rect, levelled ? -input.relativeEv : 0) : readMerge(scope, merge, level, rect)),
    );
  }
}
