import { grain } from "../../../core/adjust/grain";
import { REC2020, REC709, rgbToRgb } from "../../../core/color/primaries";
import { decodeSrgb } from "../../../core/color/srgbCurve";
import { transform } from "../../../core/geometry/matrix3";
import { rampMask } from "../../../core/masks/shapes";
import { allocatePlanes, each, type Planes } from "../../../engine/operations/frames/frameSamples";
import type { StackSite } from "../../../engine/operations/layers/StackSite";
import type { Scope } from "../../../kernels/Kernels";
import type { ContentOperation } from "../tools";
import type { FillContent } from "./record";

const FROM_SRGB = rgbToRgb(REC709, REC2020);

export const fill: ContentOperation<FillContent> = (on, content, _layer, _backdrop, scope) => ({
  planes: filled(on, content, scope),
  alpha: on.everywhere(scope),
  changes: false,
});

/** One colour or a ramp of two, mixed as they are encoded, with grain. */
function filled({ ctx, where: { level, rect }, n }: StackSite, content: FillContent, scope: Scope): Planes {
  const planes = allocatePlanes(scope, n);
  const views = each(planes).map((at) => ctx.kernels.f32(at, n));
  const [from, to] = [content, content.ramp ?? content].map((c) => [c.red, c.green, c.blue]);
  const put = (i: number, encoded: number[]) => {
    const light = transform(FROM_SRGB, encoded.map(decodeSrgb));
    views.forEach((view, c) => (view[i] = Math.max(0, light[c])));
  };
  if (!content.ramp && content.grain === 0) {
    put(0, from);
    views.forEach((view) => view.fill(view[0]));
    return planes;
  }
  const along = new Float32Array(n);
  if (content.ramp) rampMask([content.ramp.x0, content.ramp.y0], [content.ramp.x1, content.ramp.y1], level, rect, along);
  const rough = content.grain > 0 ? grain(content.grainPx, level, rect) : null;
  for (let i = 0; i < n; i++) {
    const off = rough ? content.grain * rough[i] : 0;
    put(
      i,
      from.map((v, c) => Math.min(1, Math.max(0, v + (to[c] - v) * along[i] + off))),
    );
  }
  return planes;
}
