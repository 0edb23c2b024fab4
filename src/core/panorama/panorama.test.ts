/** Cameras, projections, level, light, seams and crops on made-up figures with known answers. */
import fc from "fast-check";
import { randomOf } from "../../../tests/support/kernels";
import { adjustCameras, type Tie } from "./adjustCameras";
import { angleBetween, attitudeOf, between, localRay, pixelOf, rayOf, rotationOf, type Camera, type Vector3 } from "./camera";
import { evenLight, falloffAt, type LightTie } from "./evenLight";
import { turnOfTies } from "./findRotation";
import { NOBODY } from "../merge/frameShares";
import { findSeams, spreadLabels, type SeamFrame } from "./findSeams";
import { coverageOf, inscribedCrop } from "./coverage";
import { bendCost, bendMap, CONTROLS } from "./bend";
import { bentView } from "./fillRectangle";
import { bowOf, horizonIn, tiltOf } from "./horizon";
import { compareProjections, proposeProjection } from "./judgeProjections";
import { layOut, viewMap } from "./layout";
import { levelByLines, offLevel, straighten, type LevelLine } from "./level";
import { adaptionFor, projectionOf, PROJECTIONS } from "./projections";

const camera = (yawDeg: number, pitchDeg = 0, rollDeg = 0, over: Partial<Camera> = {}): Camera => ({
  width: 900,
  height: 600,
  rotation: rotationOf({ yawDeg, pitchDeg, rollDeg }),
  focalPx: 1000,
  k1: 0,
  k2: 0,
  shiftX: 0,
  shiftY: 0,
  ...over,
});

it("yaw turns to the right, pitch upwards, roll clockwise; x right, y down, z forward", () => {
  const ahead = (c: Camera) => rayOf(c, (c.width - 1) / 2, (c.height - 1) / 2);
  expect(ahead(camera(90))[0]).toBeCloseTo(1, 12);
  expect(ahead(camera(0, 30))[1]).toBeCloseTo(-0.5, 12);
  // turned clockwise, the right of the frame sees what is below
  expect(rayOf(camera(0, 0, 10), 899, 299.5)[1]).toBeGreaterThan(0.05);
});

it("attitudes and rotations lead to each other, as do px and directions through any lens", () => {
  const angle = fc.double({ min: -85, max: 85, noNaN: true });
  fc.assert(
    fc.property(angle, angle, angle, fc.double({ min: -0.12, max: 0.1, noNaN: true }), (yawDeg, pitchDeg, rollDeg, k1) => {
      const back = attitudeOf(rotationOf({ yawDeg, pitchDeg, rollDeg }));
      expect(back.yawDeg).toBeCloseTo(yawDeg, 8);
      expect(back.pitchDeg).toBeCloseTo(pitchDeg, 8);
      expect(back.rollDeg).toBeCloseTo(rollDeg, 8);
      const c = camera(yawDeg, pitchDeg, rollDeg, { k1, k2: 0.01, shiftX: 4, shiftY: -7 });
      for (const [x, y] of [
        [0, 0],
        [450, 300],
        [899, 17],
      ]) {
        const p = pixelOf(c, rayOf(c, x, y))!;
        expect(Math.hypot(p[0] - x, p[1] - y)).toBeLessThan(1e-6);
      }
    }),
  );
  expect(pixelOf(camera(0), [0, 0, -1])).toBeNull();
});

it("a barrel brings what is far from the middle nearer to it", () => {
  const ray = localRay(camera(0), 850, 550);
  const [x] = pixelOf(camera(0, 0, 0, { k1: -0.1 }), ray)!;
  expect(x).toBeLessThan(850 - 5);
});

describe("projections", () => {
  const rays: Vector3[] = [
    [0.1, -0.2, 1],
    [-0.6, 0.3, 0.8],
    [0.9, 0.05, 0.5],
  ];
  it.each(PROJECTIONS)("%s leads back to the direction, keeps the middle and its scale", (name) => {
    const p = projectionOf(name, 0.6);
    for (const r of rays) {
      const length = Math.hypot(...r);
      const [x, y] = p.toPlane(r)!;
      p.toRay(x, y)!.forEach((v, i) => expect(v).toBeCloseTo(r[i] / length, 10));
    }
    expect(p.toPlane([0, 0, 1])!.map((v) => v + 0)).toEqual([0, 0]);
    const [dx] = p.toPlane([1e-4, 0, 1])!;
    expect(dx / 1e-4).toBeCloseTo(1, 6);
  });

  it("the adaptive one is rectilinear at one end, cylindrical at the other, and keeps verticals straight", () => {
    const r = rays[1];
    const at = (k: number) => projectionOf("adaptive", k).toPlane(r)!;
    projectionOf("rectilinear")
      .toPlane(r)!
      .forEach((v, i) => expect(at(1)[i]).toBeCloseTo(v, 10));
    projectionOf("cylindrical")
      .toPlane(r)!
      .forEach((v, i) => expect(at(1e-4)[i]).toBeCloseTo(v, 6));
    const upright = [-0.5, 0, 0.4].map((y) => projectionOf("adaptive", 0.7).toPlane([0.8, y, 0.6])![0]);
    expect(Math.max(...upright) - Math.min(...upright)).toBeLessThan(1e-12);
    expect(adaptionFor(0.2)).toBe(1);
  });

  it("says what it cannot show", () => {
    expect(projectionOf("rectilinear").toPlane([1, 0, 0.1])).toBeNull();
    expect(projectionOf("stereographic").toPlane([0.1, 0, -1])).toBeNull();
    expect(projectionOf("cylindrical").toPlane([0, 1, 0.1])).toBeNull();
    expect(projectionOf("equirectangular").toRay(4, 0)).toBeNull();
  });
});

it("finds turned cameras and their lens from places seen by two, a tenth of which moved", () => {
  const random = randomOf(3);
  const truth = [camera(-20, 2, 1), camera(0, -1, 0.5), camera(19, 1, -1)].map((c) => ({ ...c, k1: -0.08 }));
  const ties: Tie[] = [];
  for (const [a, b] of [
    [0, 1],
    [1, 2],
  ]) {
    while (ties.filter((t) => t.a === a).length < 80) {
      const [x, y] = [random() * 899, random() * 599];
      const p = between(truth[a], truth[b], x, y);
      if (!p || p[0] < 0 || p[1] < 0 || p[0] > 899 || p[1] > 599) continue;
      const moved = random() < 0.1 ? 25 : 0;
      const noise = () => (random() + random() + random() - 1.5) * 0.1;
      ties.push({ a, b, x, y, u: p[0] + noise() + moved, v: p[1] + noise(), weight: 1 });
    }
  }
  const start = [camera(-19, 1, 0), camera(0, -1, 0.5), camera(18, 0, 0)].map((c) => ({ ...c, focalPx: 930 }));
  const found = adjustCameras(start, ties, 1, [true, true, true], { freedom: "k1", toldFocal: null });
  for (const i of [0, 2]) expect(angleBetween(found.cameras[i].rotation, truth[i].rotation)).toBeLessThan(0.02);
  expect(Math.abs(found.cameras[0].focalPx / 1000 - 1)).toBeLessThan(0.003);
  expect(Math.abs(found.cameras[0].k1 + 0.08)).toBeLessThan(0.01);
  expect(found.directionSdDeg[1]).toBe(0);
  expect(found.directionSdDeg[0]).toBeGreaterThan(0);
});

it("places set by hand say how the camera was turned, two in one direction do not", () => {
  const [a, b] = [camera(3, 1, 4), camera(24, -5, -20)];
  const ties = [
    [560, 100],
    [700, 420],
    [850, 60],
  ].map(([x, y]) => {
    const [u, v] = between(a, b, x, y)!;
    return { x, y, u, v };
  });
  const turn = turnOfTies(ties, a, b)!;
  const truth = [0, 1, 2].flatMap((r) => [0, 1, 2].map((c) => [0, 1, 2].reduce((s, k) => s + a.rotation[3 * k + r] * b.rotation[3 * k + c], 0)));
  expect(angleBetween(turn, truth)).toBeLessThan(1e-6);
  expect(turnOfTies([ties[0], ties[0]], a, b)).toBeNull();
});

describe("level", () => {
  // a tripod that leans by 4°: all frames turn about an axis that is not upright
  const lean = rotationOf({ yawDeg: 0, pitchDeg: 3, rollDeg: 4 });
  const row = [-40, -20, 0, 20, 40].map((yaw) => {
    const own = rotationOf({ yawDeg: yaw, pitchDeg: 0, rollDeg: 0 });
    return camera(0, 0, 0, { rotation: [0, 1, 2].flatMap((r) => [0, 1, 2].map((c) => [0, 1, 2].reduce((s, k) => s + lean[r * 3 + k] * own[k * 3 + c], 0))) });
  });
  it("a leaning row lies level, its middle in the middle", () => {
    expect(angleBetween(rotationOf(straighten(row)), lean)).toBeLessThan(0.2);
  });
  it("a frame on its side changes nothing", () => {
    const m = row[1].rotation;
    const onSide = { ...row[1], rotation: [m[1], -m[0], m[2], m[4], -m[3], m[5], m[7], -m[6], m[8]] };
    expect(angleBetween(rotationOf(straighten([row[0], onSide, ...row.slice(2)])), lean)).toBeLessThan(0.2);
  });
  it("two places on the horizon, or on one upright line, make it so", () => {
    const turned = { yawDeg: 5, pitchDeg: 0, rollDeg: 6 };
    const horizon: LevelLine = { kind: "level", a: [0.5, 0, 1], b: [-0.6, 0, 1] };
    expect(offLevel(turned, horizon)).toBeCloseTo(6, 1);
    const level = levelByLines(turned, [horizon])!;
    expect(level.rollDeg).toBeCloseTo(0, 6);
    expect(level.pitchDeg).toBeCloseTo(0, 6);
    const upright = levelByLines({ yawDeg: 0, pitchDeg: 0, rollDeg: 3 }, [{ kind: "upright", a: [0.1, -0.5, 1], b: [0.1, 0.4, 1] }])!;
    const down = [1, 4, 7].map((i) => rotationOf(upright)[i]);
    // the line and the new down lie in one plane through the eye
    expect(Math.abs(down[0] * 0.9 - down[2] * 0.09)).toBeLessThan(1e-7);
    expect(levelByLines(turned, [{ kind: "level", a: [0, 0, 1], b: [0.001, 0, 1] }])).toBeNull();
  });
  it("several lines are met together: two uprights tell what one horizon would, and a contradiction is shared out", () => {
    const turn = rotationOf({ yawDeg: 20, pitchDeg: 4, rollDeg: -5 });
    const world = (v: Vector3): Vector3 => [0, 3, 6].map((i) => turn[i] * v[0] + turn[i + 1] * v[1] + turn[i + 2] * v[2]) as Vector3;
    const upright = (x: number): LevelLine => ({ kind: "upright", a: world([x, -0.4, 1]), b: world([x, 0.5, 1]) });
    const found = levelByLines({ yawDeg: 18, pitchDeg: 0, rollDeg: 0 }, [upright(-0.6), upright(0.7)])!;
    const [down, wanted] = [rotationOf(found), turn].map((m) => [m[1], m[4], m[7]]);
    expect(Math.hypot(...down.map((v, i) => v - wanted[i]))).toBeLessThan(1e-6);
    const apart: LevelLine[] = [0.02, -0.02].map((dy) => ({ kind: "level", a: [-0.5, dy, 1], b: [0.5, -dy, 1] }));
    const shared = levelByLines({ yawDeg: 0, pitchDeg: 0, rollDeg: 1 }, apart)!;
    expect(shared.rollDeg).toBeCloseTo(0, 5);
    expect(offLevel(shared, apart[0])).toBeCloseTo(offLevel(shared, apart[1]), 5);
  });
});

it("finds planted gains and falloff from what overlaps show, one in twelve of which moved", () => {
  const random = randomOf(9);
  const gains = [-0.3, 0.1, 0.2];
  const falloff: [number, number, number] = [-0.5, -0.2, 0.05];
  const ties = Array.from({ length: 900 }, (_, i): LightTie => {
    const a = i % 2;
    const [ra2, rb2] = [random(), random()];
    const ev = gains[a] + falloffAt(falloff, ra2) - gains[a + 1] - falloffAt(falloff, rb2) + 0.02 * (random() - 0.5) + (i % 12 === 0 ? 1.5 : 0);
    return { a, b: a + 1, ra2, rb2, ev: [ev + 0.1 * a, ev, ev] };
  });
  const found = evenLight(3, ties);
  gains.forEach((g, i) => expect(found.gainEv[i][1]).toBeCloseTo(g, 2));
  for (const r2 of [0.25, 0.5, 1]) expect(Math.abs(falloffAt(found.falloff, r2) - falloffAt(falloff, r2))).toBeLessThan(0.02);
  // red of the middle frame against the last was planted 0.1 EV higher
  expect(found.gainEv[1][0] - found.gainEv[2][0] - (found.gainEv[1][1] - found.gainEv[2][1])).toBeCloseTo(0.1, 2);
});

it("a seam goes round a thing that moved, and every px is given to a frame that sees it", async () => {
  const [w, h] = [60, 40];
  const plane = (left: number, thing: number) => {
    const values = new Float32Array(40 * h).fill(0.5);
    for (let y = 12; y < 28; y++) for (let x = thing - 4; x <= thing + 4; x++) if (x - left >= 0 && x - left < 40) values[y * 40 + x - left] = 0.1;
    return values;
  };
  const frame = (left: number, thing: number): SeamFrame => {
    const p = plane(left, thing);
    return { x: left, y: 0, width: 40, height: h, planes: [p, p, p], seen: new Uint8Array(40 * h).fill(2) };
  };
  const label = await findSeams(w, h, [frame(0, 26), frame(20, 34)], [0, 1], async () => {});
  for (let y = 0; y < h; y++) {
    for (let x = 0; x < w; x++) expect(label[y * w + x]).toBe(x < 20 ? 0 : x >= 40 ? 1 : label[y * w + x]);
  }
  // the thing of frame 0 at 22..30 or that of frame 1 at 30..38 is whole, and not both are there
  const row = label.subarray(20 * w, 21 * w);
  const whole = (from: number, to: number, k: number) => row.subarray(from, to + 1).every((v) => v === k);
  expect(whole(22, 38, 0) || whole(22, 38, 1)).toBe(true);
  const holes = label.slice();
  holes.fill(NOBODY, 0, w);
  expect(spreadLabels(holes, w, h).every((v) => v !== NOBODY)).toBe(true);
});

describe("layout", () => {
  const row = [-40, -20, 0, 20, 40].map((yaw, i) => camera(yaw, i % 2, 0.5 * i));
  it("the picture holds every frame, and px lead to directions and back", () => {
    for (const name of PROJECTIONS) {
      const view = layOut(row, straighten(row), name)!;
      const map = viewMap(view);
      for (const c of row) {
        for (const [x, y] of [
          [0, 0],
          [899, 599],
          [0, 599],
          [450, 300],
        ]) {
          const p = map.toPixel(rayOf(c, x, y))!;
          expect(p[0]).toBeGreaterThan(-1);
          expect(p[1]).toBeLessThan(view.height + 1);
          map.toRay(...p)!.forEach((v, i) => expect(v).toBeCloseTo(rayOf(c, x, y)[i], 8));
        }
      }
    }
  });

  it("the largest crop of any shape is as large as trying every rectangle finds, and holds no uncovered cell", () => {
    const random = randomOf(5);
    for (let round = 0; round < 12; round++) {
      const [columns, rows] = [12, 9];
      const covered = Uint8Array.from({ length: columns * rows }, () => (random() < 0.8 ? 1 : 0));
      let most = 0;
      for (let y0 = 0; y0 < rows; y0++) {
        for (let y1 = y0; y1 < rows; y1++) {
          for (let x0 = 0; x0 < columns; x0++) {
            for (let x1 = x0; x1 < columns; x1++) {
              let all = true;
              for (let y = y0; y <= y1; y++) for (let x = x0; x <= x1; x++) all &&= covered[y * columns + x] === 1;
              if (all) most = Math.max(most, (x1 - x0 + 1) * (y1 - y0 + 1));
            }
          }
        }
      }
      const crop = inscribedCrop({ cell: 10, columns, rows, covered }, { width: 120, height: 90 }, null)!;
      expect((crop.width * crop.height) / 100).toBe(most);
      for (let y = crop.y / 10; y < (crop.y + crop.height) / 10; y++)
        for (let x = crop.x / 10; x < (crop.x + crop.width) / 10; x++) expect(covered[y * columns + x]).toBe(1);
    }
  });

  it("a crop of a ratio holds what must stay with room about it, or says that it cannot", () => {
    const view = layOut(row, straighten(row), "cylindrical")!;
    const coverage = coverageOf(view, row);
    const stay = [
      { x: view.width * 0.55, y: view.height / 2 },
      { x: view.width * 0.75, y: view.height / 2 + 20 },
    ];
    const crop = inscribedCrop(coverage, view, 2, stay)!;
    expect(crop.width / crop.height).toBeCloseTo(2, 1);
    const room = stay.map((p) => Math.min(p.x - crop.x, crop.x + crop.width - p.x));
    expect(Math.min(...room)).toBeGreaterThan(0.2 * crop.width);
    expect(inscribedCrop(coverage, view, 2, [{ x: 2, y: 2 }])).toBeNull();
    expect(inscribedCrop(coverage, view, 2, [...stay, { x: view.width - 40, y: view.height / 2 }, { x: 40, y: view.height / 2 }])).toBeNull();
  });

  it("a narrow set is proposed rectilinear, a wide one not, and rectilinear bends no line", () => {
    const narrow = [-12, 0, 12].map((yaw) => camera(yaw));
    const figures = compareProjections(narrow, straighten(narrow), PROJECTIONS);
    expect(proposeProjection(figures, 72, 35).projection).toBe("rectilinear");
    const wide = compareProjections(row, straighten(row), PROJECTIONS);
    expect(proposeProjection(wide, 130, 36).projection).toBe("adaptive");
    const by = (name: string) => wide.find((f) => f.projection === name)!;
    expect(by("rectilinear").bend).toBeLessThan(1e-6);
    expect(by("cylindrical").bend).toBeGreaterThan(0.01);
    expect(by("stereographic").stretch).toBeCloseTo(1, 2);
    expect(by("rectilinear").stretch).toBeGreaterThan(by("adaptive").stretch);
    // 1 / cos of half the width is the stretch of a rectilinear picture at its sides; the worst twentieth is left out
    expect(by("rectilinear").stretch).toBeLessThan(1 / Math.cos((64.3 * Math.PI) / 180));
  });
});

describe("a border bent outwards", () => {
  const ragged = [camera(-30, 1.5, 2), camera(-10, -1.5, -1), camera(10, 2, 1.5), camera(30, -1, -2)];
  const flat = layOut(ragged, { yawDeg: 0, pitchDeg: 0, rollDeg: 0 }, "cylindrical")!;
  const share = (view: typeof flat) => {
    const crop = inscribedCrop(coverageOf(view, ragged), view, null)!;
    return (crop.width * crop.height) / (view.width * view.height);
  };
  it("fills the whole rectangle, halfway more than unbent, and says what it costs", () => {
    const [half, whole] = [bentView(flat, ragged, 0.5), bentView(flat, ragged, 1)];
    expect(share(flat)).toBeLessThan(0.9);
    expect(share(half)).toBeGreaterThan(share(flat) + 0.03);
    expect(share(whole)).toBeGreaterThan(0.985);
    const cost = bendCost(whole.bend!, whole.width, whole.height);
    // what is moved furthest is the border, by little more than lies between it and the frames
    const { cell, columns, rows, covered } = coverageOf(flat, ragged);
    const gap = (i: number, from: number, step: number) => {
      let k = 0;
      while (k < rows && !covered[(from + step * k) * columns + i]) k++;
      return k * cell;
    };
    const inner = Array.from({ length: Math.floor(0.8 * columns) }, (_, i) => i + Math.floor(0.1 * columns));
    const widest = Math.max(...inner.flatMap((i) => [gap(i, 0, 1), gap(i, rows - 1, -1)]));
    expect(cost.px).toBeGreaterThan(0.9 * widest);
    expect(cost.px).toBeLessThan(1.5 * widest);
    expect(bendCost(half.bend!, whole.width, whole.height).px).toBeCloseTo(cost.px / 2, 3);
    expect(bentView(whole, ragged, 0)).toEqual(flat);
  });
  it("nothing is invented: every px of the bent picture shows a direction, and leads back to itself", () => {
    const view = bentView(flat, ragged, 1);
    const map = viewMap(view);
    for (const [x, y] of [
      [0, 0],
      [view.width - 1, 3],
      [200, view.height - 1],
      [view.width / 2, view.height / 2],
    ]) {
      const p = map.toPixel(map.toRay(x, y)!)!;
      expect(Math.hypot(p[0] - x, p[1] - y)).toBeLessThan(1e-3);
    }
  });
  it("an even shift of one side fades by the square to nothing at the side across", () => {
    const side = (px: number) => new Array<number>(CONTROLS).fill(px);
    const { toFlat } = bendMap({ amount: 1, top: side(40), right: side(0), bottom: side(0), left: side(0) }, 401, 201);
    expect(toFlat(120, 0)[1]).toBeCloseTo(40, 9);
    expect(toFlat(120, 100)[1]).toBeCloseTo(110, 9);
    expect(toFlat(120, 200)[1]).toBeCloseTo(200, 9);
  });
});

it("a pitched cylindrical picture bows the horizon as the closed form says; a level one does not, a rolled one leans", () => {
  const row = [-40, -20, 0, 20, 40].map((yaw) => camera(yaw));
  const level = { yawDeg: 0, pitchDeg: 0, rollDeg: 0 };
  const line = (attitude: typeof level) => {
    const view = layOut(row, attitude, "cylindrical")!;
    const map = viewMap(view);
    return {
      view,
      line: horizonIn(level, (ray) => {
        const p = map.toPixel(ray);
        return p && p[0] >= 0 && p[1] >= 0 && p[0] < view.width && p[1] < view.height ? p : null;
      })!,
    };
  };
  expect(bowOf(line(level).line).px).toBeLessThan(0.01);
  const { view, line: pitched } = line({ ...level, pitchDeg: 8 });
  // the plane of the horizon, seen from a cylinder tilted by θ: y = tan θ cos λ
  const half = (pitched.points[pitched.points.length - 1].x - pitched.points[0].x) / 2 / view.scalePx;
  const wanted = view.scalePx * Math.tan((8 * Math.PI) / 180) * (1 - Math.cos(half));
  expect(Math.abs(bowOf(pitched).px / wanted - 1)).toBeLessThan(0.01);
  // rolled by ρ it is y = tan ρ sin λ
  const rolled = line({ ...level, rollDeg: 3 });
  const end = Math.abs(rolled.line.points[0].x - rolled.line.points[rolled.line.points.length - 1].x) / 2 / rolled.view.scalePx;
  const slope = (Math.atan((Math.tan((3 * Math.PI) / 180) * Math.sin(end)) / end) * 180) / Math.PI;
  expect(tiltOf(rolled.line)).toBeCloseTo(-slope, 1);
});
