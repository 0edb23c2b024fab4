/** Blend formulas against another implementation of W3C Compositing and Blending Level 1: opaque 8-bit layers on a canvas. */
import { createCanvas, type GlobalCompositeOperation } from "@napi-rs/canvas";
import { BLEND_MODES, LINEAR_MODES, type BlendMode } from "../../../src/core/blend/blendModes";
import { decodeSrgb, encodeSrgb } from "../../../src/core/color/srgbCurve";
import { loadKernels, randomOf } from "../../support/kernels";

const SIDE = 64;
const PAIRS = SIDE * SIDE;

/** Our names as the standard's keywords. */
const keyword = (mode: BlendMode) => (mode === "normal" ? "source-over" : mode.replace(/[A-Z]/g, (c) => `-${c.toLowerCase()}`)) as GlobalCompositeOperation;

const random = randomOf(11);
const picture = () => Uint8ClampedArray.from({ length: PAIRS * 4 }, (_, i) => (i % 4 === 3 ? 255 : Math.floor(random() * 256)));

function onCanvas(mode: BlendMode, backdrop: Uint8ClampedArray, source: Uint8ClampedArray): Uint8ClampedArray {
  const [below, above] = [createCanvas(SIDE, SIDE), createCanvas(SIDE, SIDE)];
  for (const [canvas, data] of [
    [below, backdrop],
    [above, source],
  ] as const) {
    const image = canvas.getContext("2d").createImageData(SIDE, SIDE);
    image.data.set(data);
    canvas.getContext("2d").putImageData(image, 0, 0);
  }
  const g = below.getContext("2d");
  g.globalCompositeOperation = keyword(mode);
  g.drawImage(above, 0, 0);
  return g.getImageData(0, 0, SIDE, SIDE).data;
}

it.each(BLEND_MODES.filter((m) => !LINEAR_MODES.includes(m)))("%s on 4096 random pairs", async (mode) => {
  const kernels = await loadKernels();
  const [backdrop, source] = [picture(), picture()];
  const wanted = onCanvas(mode, backdrop, source);
  let worst = 0;
  kernels.withScope((scope) => {
    const planes = (data: Uint8ClampedArray) =>
      [0, 1, 2].map((c) => {
        const at = scope.floats(PAIRS + 16);
        const view = kernels.f32(at, PAIRS);
        for (let i = 0; i < PAIRS; i++) view[i] = decodeSrgb(data[i * 4 + c] / 255);
        return at;
      });
    const base = planes(backdrop);
    const alpha = scope.floats(PAIRS + 16);
    kernels.f32(alpha, PAIRS).fill(1);
    kernels.run("layOver", [...base, 0, ...planes(source), alpha, 1, BLEND_MODES.indexOf(mode), 0], 0, PAIRS, 4096);
    base.forEach((at, c) => {
      const view = kernels.f32(at, PAIRS);
      for (let i = 0; i < PAIRS; i++) worst = Math.max(worst, Math.abs(Math.round(255 * encodeSrgb(view[i])) - wanted[i * 4 + c]));
    });
  });
  // the canvas rounds between steps; exclusion is off by two levels there
  expect(worst).toBeLessThanOrEqual(mode === "exclusion" ? 2 : 1);
});
