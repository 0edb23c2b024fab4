import { intersect, sizeAtLevel, widen } from "../../../core/geometry/rectangle";
import { blurReach } from "../../../core/raster/blur";
import { cutOut as cutPart } from "../../../core/raster/planeParts";
import { layerOf } from "../../../document/selectors";
import { each } from "../../../engine/operations/frames/frameSamples";
import { ownLevel, shownBy, toOwnPlace } from "../../../engine/operations/layers/frameLayers";
import { readCutThrough } from "../frame/operation";
import type { ContentOperation } from "../tools";
import type { BleedContent } from "./record";

/** Width of a Gaussian edge from a tenth to nine tenths, and deviation of a disc of radius 1. */
const [WIDTH, OF_DISC] = [2.563, 0.5];

/** Lays what lies behind a thing over its rim, as far as the plate's edges reach: what a lens would have made of both together. */
export const bleed: ContentOperation<BleedContent> = (on, { layerId, px, amount }, _layer, backdrop, scope) => {
  const { job, where } = on;
  const subject = layerOf(job.records, layerId);
  const cutter = job.cutouts.get(layerId);
  if (subject?.content.type !== "frame" || !cutter || amount === 0) return null;
  const { content } = subject;
  const { shown, moved } = shownBy(job, content);
  const own = ownLevel(job, content, where.level);
  if (!shown || !moved || !cutter.shownAt(own)) return null;
  // what was brought out of focus is softer already
  const sigma = Math.hypot(px / WIDTH, OF_DISC * (content.defocus?.radiusPx ?? 0)) / 2 ** where.level;
  const size = sizeAtLevel(where.width, where.height, where.level);
  const wide = intersect(widen(where.rect, blurReach(sigma), size), { x: 0, y: 0, ...size });
  const m = wide.width * wide.height;
  const { kernels, filters } = on.ctx;
  const cut = [0, 1, 2, 3].map(() => scope.floats(Math.ceil(m / 8) * 8 + 16));
  readCutThrough(on, shown, cutter, own, toOwnPlace(moved, where, shown), wide, content.exposureEv, cut, scope);
  const behind = kernels.f32(cut[3], m).map((a) => 1 - Math.min(1, Math.max(0, a)));
  if (behind.every((v) => v === 0) || behind.every((v) => v === 1)) return null;
  const around = (data: Float32Array) => cutPart(filters.gaussianBlur({ width: wide.width, height: wide.height, data }, sigma), wide, where.rect);
  const share = around(behind);
  const below = each(on.below(subject)(wide, scope)).map((at) => kernels.f32(at, m));
  const out = on.own(backdrop, scope);
  each(out).forEach((at, c) => {
    const plane = kernels.f32(at, on.n);
    const light = around(below[c].map((v, i) => v * behind[i]));
    for (let i = 0; i < on.n; i++) plane[i] += amount * (light[i] - share[i] * plane[i]);
  });
  return { planes: out, alpha: on.everywhere(scope, backdrop), changes: true };
};
