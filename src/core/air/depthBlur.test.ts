import { depthBlur, depthBlurReach, discAt, discSteps, type DepthShare } from "./depthBlur";

const [W, H] = [96, 80];
const plane = (value: (x: number, y: number) => number) => Float32Array.from({ length: W * H }, (_, i) => value(i % W, Math.floor(i / W)));
const shareOf = (share: (x: number, y: number) => number, disc: (x: number, y: number) => number): DepthShare => ({ share: plane(share), disc: plane(disc) });

// the thin lens: the circle of confusion of a point at distance d, focus at s, grows with |1 − s/d|; any optics handbook
it("is sharp at the focus, as wide as said infinitely far away, and twice that at a third of the way to the focus", () => {
  const lens = { focusM: 6, radiusPx: 10 };
  expect(discAt(lens, 6)).toBe(0);
  expect(discAt(lens, 12)).toBeCloseTo(5, 9);
  expect(discAt(lens, 1e9)).toBeCloseTo(10, 6);
  expect(discAt(lens, 3)).toBeCloseTo(-10, 9);
  expect(discAt(lens, 2)).toBeCloseTo(-20, 9);
  expect(discAt(lens, 0.1)).toBe(-20);
  expect(depthBlurReach(lens, 0)).toBeGreaterThan(20);
  expect(depthBlurReach(lens, 2)).toBeLessThan(depthBlurReach(lens, 0));
});

it.each([1, 2.5, 5, 9, 14])("makes a disc of radius %p px of a point and keeps its light", (radius) => {
  const light = plane((x, y) => (x === 48 && y === 40 ? 100 : 0));
  depthBlur(
    [light],
    [
      shareOf(
        () => 1,
        () => radius,
      ),
    ],
    W,
    H,
    16,
    0,
    0,
  );
  let [sum, squares] = [0, 0];
  light.forEach((v, i) => {
    sum += v;
    squares += v * ((i % W) - 48) ** 2;
  });
  expect(sum).toBeCloseTo(100, 1);
  // a disc of radius r has a variance of r²/4 along each axis; a sample's own is a twelfth
  expect(Math.sqrt(squares / sum) / Math.hypot(radius / 2, Math.sqrt(1 / 12))).toBeGreaterThan(0.93);
  expect(Math.sqrt(squares / sum) / Math.hypot(radius / 2, Math.sqrt(1 / 12))).toBeLessThan(1.09);
});

it("keeps what is sharp free of what is blurred behind it, and lays what is blurred before over it by half at its edge", () => {
  const isNear = (x: number) => x >= 48;
  const lights = () => plane((x) => (isNear(x) ? 0.1 : 0.9));
  const far = lights();
  depthBlur(
    [far],
    [
      shareOf(
        () => 1,
        (x) => (isNear(x) ? 0 : 8),
      ),
    ],
    W,
    H,
    16,
    0,
    0,
  );
  for (let x = 48; x < W; x++) expect(far[40 * W + x]).toBeCloseTo(0.1, 6);
  // and nothing of it darkens what lies behind
  for (let x = 0; x < 48; x++) expect(far[40 * W + x]).toBeCloseTo(0.9, 5);

  const near = lights();
  depthBlur(
    [near],
    [
      shareOf(
        () => 1,
        (x) => (isNear(x) ? -8 : 0),
      ),
    ],
    W,
    H,
    16,
    0,
    0,
  );
  expect((near[40 * W + 47] + near[40 * W + 48]) / 2).toBeCloseTo(0.5, 1);
  expect(near[40 * W + 36]).toBeCloseTo(0.9, 5);
  expect(near[40 * W + 43]).toBeLessThan(0.8);
});

it("a thing and what it does not cover of a sample are each as far as they are", () => {
  const light = plane((x) => (x >= 48 ? 0.8 : 0.2));
  const covers = (x: number) => (x > 48 ? 1 : x === 48 ? 0.5 : 0);
  const things = [
    shareOf(covers, () => 0),
    shareOf(
      (x) => 1 - covers(x),
      () => 6,
    ),
  ];
  depthBlur([light], things, W, H, 16, 0, 0);
  expect(light[40 * W + 60]).toBeCloseTo(0.8, 5);
  expect(light[40 * W + 30]).toBeCloseTo(0.2, 5);
});

it("is the same in a part of the picture, wherever that begins", () => {
  const disc = (x: number, y: number) => (y - 30) / 10 + (x > 50 ? 0.4 : 0);
  const value = (x: number, y: number) => 0.5 + 0.5 * Math.sin(x * 1.3 + y * y * 0.07);
  const whole = plane(value);
  depthBlur([whole], [shareOf(() => 1, disc)], W, H, 6, 0, 0);
  const reach = depthBlurReach({ radiusPx: 3 }, 0);
  const [x0, y0, w, h] = [3, 1, 93, 79];
  const part = Float32Array.from({ length: w * h }, (_, i) => value(x0 + (i % w), y0 + Math.floor(i / w)));
  const discs = Float32Array.from({ length: w * h }, (_, i) => disc(x0 + (i % w), y0 + Math.floor(i / w)));
  depthBlur([part], [{ share: new Float32Array(w * h).fill(1), disc: discs }], w, h, 6, x0, y0);
  let compared = 0;
  for (let y = y0 + reach; y < H - reach; y++) {
    for (let x = x0 + reach; x < x0 + w - reach; x++) {
      expect(part[(y - y0) * w + x - x0]).toBe(whole[y * W + x]);
      compared++;
    }
  }
  expect(compared).toBeGreaterThan(200);
});

it("takes steps of discs that nobody tells apart, up to the widest", () => {
  const steps = discSteps(40);
  expect(steps[0]).toBe(0);
  expect(steps[steps.length - 1]).toBeGreaterThanOrEqual(40);
  expect(steps.length).toBeLessThan(26);
  steps.slice(2).forEach((r, i) => expect(r / steps[i + 1]).toBeLessThan(2.3));
});
