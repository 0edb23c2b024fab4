import { localBase, type LocalBase } from "../../../core/color/localTone";
import { LUMINANCE } from "../../../core/color/primaries";
import { sizeAtLevel } from "../../../core/geometry/rectangle";
import { log2 } from "../../../core/numeric/elementary";
import { each } from "../../../engine/operations/frames/frameSamples";
import type { Operation, Preparation } from "../tools";

/** Longer side at which the base is found, px. */
const SIDE = 900;
const ROWS = 64;
/** Light below this has no detail worth keeping apart. */
const DARKEST = 1e-5;

/** The base of a picture and the level it was found at. */
interface Prepared {
  base: LocalBase;
  level: number;
}

/** The base is found in all that lies below, once for each state of that. */
export const prepareLocalTone: Preparation<Prepared> = {
  version: 2,
  parameters: ({ strength, scale }) => (strength > 0 ? [scale] : null),
  make: (ctx, { width: fullWidth, height: fullHeight, levels }, { scale }, read) => {
    const level = Math.max(0, Math.min(levels - 1, Math.ceil(Math.log2(Math.max(fullWidth, fullHeight) / SIDE))));
    const { width, height } = sizeAtLevel(fullWidth, fullHeight, level);
    const data = new Float32Array(width * height);
    for (let y = 0; y < height; y += ROWS) {
      const rows = Math.min(ROWS, height - y);
      ctx.kernels.withScope((scope) => {
        const [r, g, b] = each(read(level, { x: 0, y, width, height: rows }, scope)).map((at) => ctx.kernels.f32(at, width * rows));
        for (let i = 0; i < r.length; i++) data[y * width + i] = log2(Math.max(DARKEST, LUMINANCE[0] * r[i] + LUMINANCE[1] * g[i] + LUMINANCE[2] * b[i]));
      });
    }
    return { base: localBase({ width, height, data }, Math.max(2, Math.round((scale * Math.max(width, height)) / 2))), level };
  },
};

/** Evens out the base: each EV between floor and ceiling counts less, detail stays. Does nothing where nothing was prepared. */
export const localTone: Operation = ({ scope, planes, where: { level, rect }, prepared }, { strength, floorEv, ceilingEv, pivotEv }) => {
  if (!prepared) return;
  const { base, level: found } = prepared as Prepared;
  const { kernels } = scope;
  const put = (plane: Float32Array) => {
    const at = scope.floats(plane.length + 16);
    kernels.f32(at, plane.length).set(plane);
    return at;
  };
  const ends = [Math.min(floorEv, ceilingEv), Math.max(floorEv, ceilingEv)];
  const parameters = scope.matrix([...LUMINANCE, strength, pivotEv, ...ends, DARKEST, 2 ** (level - found)]);
  kernels.run(
    "localToneRows",
    [...each(planes), rect.width, rect.x, rect.y, put(base.slope), put(base.offset), base.width, base.height, parameters],
    0,
    rect.height,
    16,
  );
};
