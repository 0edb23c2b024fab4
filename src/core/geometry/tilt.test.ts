import { pixelOfLocal, upOf, worldAxes, type Stance } from "../seat/upright";
import { multiply, project, type Matrix3 } from "./matrix3";
import { enlargement, lineOffDeg, nearerTo, straightenBy, tiltMatrix, type GuideLine, type Straightened } from "./tilt";

const size = { width: 600, height: 400 };
const focalPx = 520;

/** The picture turned clockwise about its middle, after its camera was. */
const mapOf = ({ angleDeg, pitchDeg, yawDeg }: Straightened): Matrix3 => {
  const [c, s] = [Math.cos((angleDeg * Math.PI) / 180), Math.sin((angleDeg * Math.PI) / 180)];
  const [cx, cy] = [(size.width - 1) / 2, (size.height - 1) / 2];
  return multiply([c, -s, cx - c * cx + s * cy, s, c, cy - s * cx - c * cy, 0, 0, 1], tiltMatrix({ pitchDeg, yawDeg, focalPx }, size));
};

/** Px of places on a wall that stands square before a camera which looks up and leans: metres right of and above its axis, at 10 m. */
function seenBy(stance: Stance, aside = 0) {
  const { right, up, ahead } = worldAxes(stance);
  const [c, s] = [Math.cos((aside * Math.PI) / 180), Math.sin((aside * Math.PI) / 180)];
  return (x: number, y: number): [number, number] => {
    const [u, w] = [c * x + s * 10, -s * x + c * 10];
    return pixelOfLocal([0, 1, 2].map((k) => u * right[k] + y * up[k] + w * ahead[k]) as [number, number, number], focalPx, size)!;
  };
}

it("the middle stays where it is and as large; nothing is turned by nothing", () => {
  const tilt = { pitchDeg: 12, yawDeg: -7, focalPx };
  const map = tiltMatrix(tilt, size);
  const [x, y] = project(map, 299.5, 199.5);
  expect([x, y]).toEqual([expect.closeTo(299.5, 9), expect.closeTo(199.5, 9)]);
  expect(enlargement(map, 299.5, 199.5)).toBeCloseTo(1, 9);
  const still = tiltMatrix({ pitchDeg: 0, yawDeg: 0, focalPx }, size);
  expect(project(still, 13, 371)).toEqual([expect.closeTo(13, 9), expect.closeTo(371, 9)]);
});

it("enlargement is what four corners of a small square say", () => {
  const map = tiltMatrix({ pitchDeg: 18, yawDeg: 9, focalPx }, size);
  const h = 0.01;
  const [p, q, r] = [project(map, 100, 60), project(map, 100 + h, 60), project(map, 100, 60 + h)];
  const area = Math.abs((q[0] - p[0]) * (r[1] - p[1]) - (q[1] - p[1]) * (r[0] - p[0])) / (h * h);
  expect(enlargement(map, 100, 60)).toBeCloseTo(area, 3);
});

it("a wall seen from below comes out square, px for px as a level camera would have shown it", () => {
  const stance = { pitchDeg: 14, rollDeg: 0, focalPx };
  const at = seenBy(stance);
  const level = seenBy({ pitchDeg: 0, rollDeg: 0, focalPx });
  const map = tiltMatrix({ pitchDeg: 14, yawDeg: 0, focalPx }, size);
  const to = ([x, y]: [number, number]) => project(map, x, y);
  // up to where the middle lies and how large it is, the homography of a turn is exact
  const [o, a] = [to(at(0, 2)), to(at(3, 2))];
  const [lo, la] = [level(0, 2), level(3, 2)];
  const scale = (a[0] - o[0]) / (la[0] - lo[0]);
  for (const [x, y] of [
    [-3, 0.5],
    [2.5, 3.4],
    [-1, 4],
  ]) {
    const [[u, v], [lu, lv]] = [to(at(x, y)), level(x, y)];
    expect(u - o[0]).toBeCloseTo(scale * (lu - lo[0]), 6);
    expect(v - o[1]).toBeCloseTo(scale * (lv - lo[1]), 6);
  }
});

it.each([
  ["looked up and leaned", { pitchDeg: 11, rollDeg: 4, focalPx }, 0],
  ["looked down", { pitchDeg: -9, rollDeg: -2.5, focalPx }, 0],
  ["looked up and aside", { pitchDeg: 6, rollDeg: 1, focalPx }, 12],
] as const)("lines tell how a camera stood that %s", (_name, stance, aside) => {
  const at = seenBy(stance, aside);
  const line = (is: GuideLine["is"], from: [number, number], to: [number, number]): GuideLine => ({ is, from, to });
  const lines = [
    line("upright", at(-2.5, -1), at(-2.5, 3)),
    line("upright", at(2, -0.5), at(2, 3.5)),
    line("level", at(-2, 3), at(2, 3)),
    line("level", at(-2, -1), at(2, -1)),
  ];
  const turn = straightenBy(lines, mapOf)!;
  for (const l of lines) expect(Math.abs(lineOffDeg(mapOf(turn), l))).toBeLessThan(1e-6);
  // what was not drawn follows: within 0.05 px of its line over 200 px
  expect(Math.abs(lineOffDeg(mapOf(turn), line("upright", at(0.3, -1), at(0.3, 2.8))))).toBeLessThan(0.014);
  // by what is upright alone: the way from its own up to straight up
  const up = upOf(stance);
  const byUprights = straightenBy(lines.slice(0, 2), mapOf)!;
  expect(byUprights.pitchDeg).toBeCloseTo((Math.atan2(up[2], -up[1]) * 180) / Math.PI, 4);
  expect(byUprights.angleDeg).toBeCloseTo((-Math.atan2(up[0], Math.hypot(up[1], up[2])) * 180) / Math.PI, 4);
  expect(byUprights.yawDeg).toBe(0);
});

it("one line turns the picture alone, and no line says nothing", () => {
  const turn = straightenBy([{ is: "level", from: [100, 200], to: [400, 216] }], mapOf)!;
  // by the angle it had, back
  expect(turn).toEqual({ angleDeg: expect.closeTo((-Math.atan2(16, 300) * 180) / Math.PI, 6), pitchDeg: 0, yawDeg: 0 });
  expect(straightenBy([], mapOf)).toBeNull();
});

it("lines that no camera makes upright at once are refused", () => {
  const lines: GuideLine[] = [
    { is: "upright", from: [100, 100], to: [180, 200] },
    { is: "upright", from: [500, 100], to: [420, 200] },
  ];
  expect(straightenBy(lines, mapOf)).toBeNull();
});

it("a drawn line is what it lies nearer to, whichever end it began at", () => {
  expect(nearerTo([10, 300], [40, 20])).toBe("upright");
  expect(nearerTo([400, 30], [20, 60])).toBe("level");
});
