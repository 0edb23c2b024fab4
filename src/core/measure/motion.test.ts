import { measureMotion } from "./motion";

const [W, H] = [640, 480];
/** Samples of the drawing in one of the picture, along each side. */
const FINE = 3;
/** Discs and boards of grey, drawn finely. */
const drawing = (() => {
  const fine = new Float32Array(FINE * W * FINE * H).fill(0.4);
  for (let k = 0; k < 90; k++) {
    const [cx, cy, r] = [FINE * ((k * 197.3) % W), FINE * ((k * 131.7) % H), FINE * (14 + ((k * 37) % 17))];
    for (let y = Math.max(0, Math.floor(cy - r)); y < Math.min(FINE * H, cy + r); y++) {
      for (let x = Math.max(0, Math.floor(cx - r)); x < Math.min(FINE * W, cx + r); x++) {
        if (k % 3 === 0 || (x - cx) ** 2 + (y - cy) ** 2 < r * r) fine[y * FINE * W + x] = 0.15 + ((k * 61) % 50) / 80;
      }
    }
  }
  return fine;
})();
/** The same, moved along a line while it was taken: the mean of many moments. */
function moved(px: number, deg: number): { width: number; height: number; data: Uint16Array } {
  const [dx, dy] = [Math.cos((deg * Math.PI) / 180), Math.sin((deg * Math.PI) / 180)];
  const moments = Math.max(1, Math.ceil(3 * px));
  const shifts = Array.from({ length: moments }, (_, m) => ((m + 0.5) / moments - 0.5) * px * FINE).map((way) => [Math.round(way * dx), Math.round(way * dy)]);
  const data = new Uint16Array(W * H);
  for (let y = 0; y < H; y++) {
    for (let x = 0; x < W; x++) {
      let sum = 0;
      for (const [u, v] of shifts) {
        const [i, j] = [FINE * x + 1 + u, FINE * y + 1 + v];
        sum += drawing[Math.min(FINE * H - 1, Math.max(0, j)) * FINE * W + Math.min(FINE * W - 1, Math.max(0, i))];
      }
      data[y * W + x] = Math.round((50_000 * sum) / moments);
    }
  }
  return { width: W, height: H, data };
}

it.each([
  [8, 0],
  [12, 90],
  [10, 45],
  [14, -30],
])("tells a motion of %p px at %p degrees", (px, deg) => {
  const told = measureMotion(moved(px, deg), 24)!;
  expect(told).not.toBeNull();
  expect(Math.abs(told.px / px - 1)).toBeLessThan(0.25);
  const aside = Math.abs(((told.deg - deg + 270) % 180) - 90);
  expect(aside).toBeLessThan(12);
});

it("tells none where nothing moved, and none of an even surface", () => {
  expect(measureMotion(moved(0, 0), 24)).toBeNull();
  expect(measureMotion({ width: W, height: H, data: new Uint16Array(W * H).fill(20_000) }, 24)).toBeNull();
});
