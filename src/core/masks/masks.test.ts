import fc from "fast-check";
import { applyStroke, placeDabs, strokeBounds } from "./placeDabs";

const points = fc
  .array(fc.tuple(fc.integer({ min: 0, max: 500 }), fc.integer({ min: 0, max: 500 })), { minLength: 1, maxLength: 30 })
  .map((p) => p.flatMap(([x, y]) => [x, y, 1]));

it("dabs are evenly spaced and never move when a stroke grows", () => {
  fc.assert(
    fc.property(points, fc.integer({ min: 4, max: 300 }), (path, diameter) => {
      const whole = placeDabs(path, diameter);
      const part = placeDabs(path.slice(0, Math.max(3, path.length - 6)), diameter);
      expect(whole.slice(0, part.length)).toEqual(part);
      const bounds = strokeBounds(path, diameter);
      for (let i = 0; i < whole.length; i += 3) {
        expect(whole[i]).toBeGreaterThanOrEqual(bounds.x0);
        expect(whole[i + 1]).toBeLessThanOrEqual(bounds.y1);
      }
    }),
  );
  const line = placeDabs([0, 0, 1, 100, 0, 1], 100);
  expect(line.filter((_, i) => i % 3 === 0).map((v) => Math.round(v * 1e9) / 1e9)).toEqual([0, 8, 16, 24, 32, 40, 48, 56, 64, 72, 80, 88, 96]);
});

it("white reveals, black conceals, and opacity is the most a stroke does", () => {
  const mask = Float32Array.from([0, 0.5, 1]);
  applyStroke(mask, Float32Array.from([1, 1, 1]), 0.5, true);
  expect([...mask]).toEqual([0.5, 0.75, 1]);
  applyStroke(mask, Float32Array.from([1, 0, 1]), 1, false);
  expect([...mask]).toEqual([0, 0.75, 0]);
});
