import { clearAir, mapAir, type AirLight, type AirMap } from "../../../core/air/clearAir";
import { levelOfSide, sizeAtLevel } from "../../../core/geometry/rectangle";
import { exp2 } from "../../../core/numeric/elementary";
import { each } from "../../../engine/operations/frames/frameSamples";
import { lightOf, type Operation, type Preparation } from "../tools";

/** Longer side at which distances are told apart, samples. */
const SIDE = 900;
const ROWS = 64;

const airOf = ({ airEv, airRed, airBlue, hidesRed, hidesBlue }: Record<string, number>): AirLight => {
  const green = exp2(airEv);
  return { color: [green * airRed, green, green * airBlue], hides: [hidesRed, 1, hidesBlue] };
};

/** How much light comes through is found in all that lies below, once for each state of that. */
export const prepareClearing: Preparation<AirMap> = {
  version: 1,
  parameters: (values) => (values.amount === 0 ? null : [airOf(values)]),
  make: (ctx, full, values, read) => {
    const level = Math.min(full.levels - 1, levelOfSide(full, SIDE));
    const { width, height } = sizeAtLevel(full.width, full.height, level);
    const planes = [0, 1, 2].map(() => new Float32Array(width * height));
    for (let y = 0; y < height; y += ROWS) {
      const rows = Math.min(ROWS, height - y);
      ctx.kernels.withScope((scope) =>
        each(read(level, { x: 0, y, width, height: rows }, scope)).forEach((at, c) => planes[c].set(ctx.kernels.f32(at, width * rows), y * width)),
      );
    }
    return mapAir({ width, height, planes }, level, airOf(values), ctx.filters);
  },
};

/** Does nothing where nothing was prepared. */
export const clearing: Operation = (on, values) => {
  if (on.prepared) clearAir(lightOf(on), on.where, airOf(values), values.amount, values.least, on.prepared as AirMap);
};
