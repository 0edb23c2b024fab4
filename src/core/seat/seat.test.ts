/** Geometry of a plate from made-up cameras: what is projected is found again. */
import { randomOf } from "../../../tests/support/kernels";
import { findHorizon } from "./findHorizon";
import { findSegments, type Segment } from "./findSegments";
import { GroundCamera } from "./groundCamera";
import { directionOf, lightFromShadows, lightsApartDeg, type LightDirection, type ShadowMark } from "./lightFromShadows";
import { band } from "../masks/shapes";
import { litGround } from "./litGround";
import { combineShadows, measureShadow } from "./measureShadow";
import { stanceByLines, type DrawnLine } from "./stanceByLines";
import { horizonEnds, horizonsApartDeg, stanceThrough, upOf, type Stance } from "./upright";

/** Even numbers from −1 to 1. */
function evenOf(seed: number): () => number {
  const random = randomOf(seed);
  return () => 2 * random() - 1;
}

const SIZE = { width: 1200, height: 800 };
const STANCE: Stance = { pitchDeg: -6, rollDeg: 1.8, focalPx: 1050 };
const CAMERA = new GroundCamera(SIZE, STANCE, 1.7);
const at = (x: number, y: number, z: number) => CAMERA.pixelOf([x, y, z])!;

describe("the horizon", () => {
  it("lies lower where the camera looks up, and sinks to the right where it is turned clockwise", () => {
    const level = horizonEnds({ pitchDeg: 0, rollDeg: 0, focalPx: 1000 }, SIZE);
    expect(level[0][1]).toBeCloseTo(399.5, 9);
    expect(horizonEnds({ pitchDeg: 5, rollDeg: 0, focalPx: 1000 }, SIZE)[0][1]).toBeCloseTo(399.5 + 1000 * Math.tan((5 * Math.PI) / 180), 6);
    const [left, right] = horizonEnds({ pitchDeg: 0, rollDeg: 2, focalPx: 1000 }, SIZE);
    expect(right[1] - left[1]).toBeCloseTo(1199 * Math.tan((2 * Math.PI) / 180), 6);
  });

  it("tells the stance again", () => {
    const [left, right] = horizonEnds(STANCE, SIZE);
    const back = stanceThrough(left, right, STANCE.focalPx, SIZE);
    expect(back.pitchDeg).toBeCloseTo(STANCE.pitchDeg, 9);
    expect(back.rollDeg).toBeCloseTo(STANCE.rollDeg, 9);
    expect(Math.hypot(...upOf(STANCE))).toBeCloseTo(1, 12);
  });

  it("is where all places as high as the camera are seen", () => {
    const [[, y0], [x1, y1]] = horizonEnds(STANCE, SIZE);
    for (const [x, z] of [
      [-2, 5],
      [1, 9],
      [4, 40],
    ]) {
      const [u, v] = at(x, 1.7, z);
      expect(v).toBeCloseTo(y0 + (u / x1) * (y1 - y0), 6);
    }
  });
});

describe("the ground", () => {
  it("a px shows the place that is seen there, none at the horizon or above it", () => {
    const [x, y] = at(1.2, 0, 6.5);
    const place = CAMERA.placeAt(x, y)!;
    expect(place[0]).toBeCloseTo(1.2, 9);
    expect(place[2]).toBeCloseTo(6.5, 9);
    expect(CAMERA.placeAt(600, 50)).toBeNull();
    expect(CAMERA.pixelOf([0, 0, -3])).toBeNull();
  });

  it("what stands there has its height, and a known one tells how high the camera stood", () => {
    const [foot, top] = [at(-1, 0, 7), at(-1, 1.25, 7)];
    expect(CAMERA.heightOver(CAMERA.placeAt(...foot)!, ...top)).toBeCloseTo(1.25, 9);
    expect(GroundCamera.heightBy(SIZE, STANCE, foot, top, 1.25)).toBeCloseTo(1.7, 9);
    expect(GroundCamera.heightByLength(SIZE, STANCE, at(-1, 0, 7), at(2, 0, 11), 5)).toBeCloseTo(1.7, 9);
    expect(GroundCamera.heightByLength(SIZE, STANCE, [10, 10], foot, 5)).toBeNull();
  });
});

describe("lines that are drawn", () => {
  const line = (is: DrawnLine["is"], a: [number, number, number], b: [number, number, number]): DrawnLine => {
    const [[x0, y0], [x1, y1]] = [at(...a), at(...b)];
    return { is, x0, y0, x1, y1, metres: 0 };
  };
  const start: Stance = { pitchDeg: 0, rollDeg: 0, focalPx: 1050 };
  const focal = { px: 1050, sigma: 0.02 };
  const apart = (stance: Stance) => horizonsApartDeg(horizonEnds(stance, SIZE), horizonEnds(STANCE, SIZE), 1050);

  it("two that lead away and one upright tell how the camera stood", () => {
    const told = stanceByLines(
      [line("ahead", [-1, 0, 3], [-0.4, 0, 14]), line("ahead", [1, 0, 3], [1.6, 0, 14]), line("upright", [2, 0, 8], [2, 2, 8])],
      SIZE,
      start,
      focal,
    )!;
    expect(apart(told.stance)).toBeLessThan(0.1);
    expect(told.horizonSigmaDeg).toBeLessThan(1);
  });

  it("four in two directions do without an upright one", () => {
    const drawn = [
      line("ahead", [-1, 0, 3], [2, 0, 9]),
      line("ahead", [1, 0, 3], [4, 0, 9]),
      line("across", [-1, 0, 4], [-3, 0, 5]),
      line("across", [2, 0, 7], [-2, 0, 9]),
    ];
    expect(apart(stanceByLines(drawn, SIZE, start, focal)!.stance)).toBeLessThan(0.15);
  });

  it("one upright line tells the turn, and that the rest is not known", () => {
    const told = stanceByLines([line("upright", [0.02, 0, 8], [0.02, 2, 8])], SIZE, start, focal)!;
    expect(told.stance.rollDeg).toBeCloseTo(1.8, 0);
    expect(told.horizonSigmaDeg).toBeGreaterThan(2);
  });

  it("one level line alone, or a known length, tells nothing", () => {
    expect(stanceByLines([line("ahead", [-1, 0, 3], [-1, 0, 9])], SIZE, start, focal)).toBeNull();
    expect(stanceByLines([line("length", [-1, 0, 3], [-1, 0, 9])], SIZE, start, focal)).toBeNull();
  });
});

describe("straight edges", () => {
  const plane = (shade: (x: number, y: number) => number) => {
    const data = new Float32Array(300 * 200);
    for (let y = 0; y < 200; y++) for (let x = 0; x < 300; x++) data[y * 300 + x] = shade(x, y);
    return { width: 300, height: 200, data };
  };
  // an edge blurred by a lens, so that it lies between px
  const soft = (d: number) => 60 + 120 / (1 + Math.exp(-d / 0.6));

  it.each([3, 17, 44, 81, 128, 166])("one at %d° is found along its length, to a twentieth of a degree", (degrees) => {
    const [c, s] = [Math.cos((degrees * Math.PI) / 180), Math.sin((degrees * Math.PI) / 180)];
    const found = findSegments(plane((x, y) => soft(-(x - 149.5) * s + (y - 99.5) * c)));
    const longest = found.sort((a, b) => length(b) - length(a))[0];
    expect(length(longest)).toBeGreaterThan(150);
    const angle = (Math.atan2(longest.y1 - longest.y0, longest.x1 - longest.x0) * 180) / Math.PI;
    expect(Math.abs(((angle - degrees + 450) % 180) - 90)).toBeLessThan(0.05);
    // and it runs through where the edge lies, to a tenth of a px
    expect(Math.abs(-((longest.x0 + longest.x1) / 2 - 149.5) * s + ((longest.y0 + longest.y1) / 2 - 99.5) * c)).toBeLessThan(0.1);
  });

  it("noise shows hardly one", () => {
    const random = evenOf(5);
    expect(findSegments(plane(() => 128 + 30 * random())).length).toBeLessThanOrEqual(2);
  });

  const length = (s: Segment) => Math.hypot(s.x1 - s.x0, s.y1 - s.y0);
});

describe("a horizon by segments", () => {
  /** Edges of boxes in two square directions and upright ones, each end placed to a third of a px, among as many that mean nothing. */
  const segments = (clutter: number): Segment[] => {
    const random = evenOf(9);
    const out: Segment[] = [];
    const add = (a: [number, number], b: [number, number]) => {
      const off = () => 0.35 * random();
      out.push({ x0: a[0] + off(), y0: a[1] + off(), x1: b[0] + off(), y1: b[1] + off(), sigma: 0.5 / Math.hypot(b[0] - a[0], b[1] - a[1]) });
    };
    const [c, s] = [Math.cos(0.6), Math.sin(0.6)];
    for (let k = 0; k < 40; k++) {
      const [x, z, h] = [3 * random(), 9 + 3 * random(), 1.5 + random()];
      add(at(x, h, z), at(x + c, h, z + s));
      add(at(x, h - 1, z), at(x - s, h - 1, z + c));
      add(at(x, h - 1, z), at(x, h, z));
    }
    for (let k = 0; k < clutter; k++) {
      const [x, y, a, l] = [600 + 600 * random(), 400 + 400 * random(), 3.2 * random(), 20 + 15 * random()];
      add([x, y], [x + l * Math.cos(a), y + l * Math.sin(a)]);
    }
    return out;
  };

  it("is found among clutter, with the lens, and says how well", () => {
    const found = findHorizon(segments(150), SIZE, null)!;
    expect(horizonsApartDeg(horizonEnds(found.stance, SIZE), horizonEnds(STANCE, SIZE), 1050)).toBeLessThan(0.3);
    expect(found.focalFrom).toBe("directions");
    expect(Math.abs(found.stance.focalPx / 1050 - 1)).toBeLessThan(0.03);
    expect(found.horizonSigmaDeg).toBeLessThan(0.3);
    expect(found.vanishing.map((v) => v.of).sort()).toEqual(["level", "level", "upright"]);
    // most of what means nothing belongs nowhere
    expect(Array.from(found.belongs.slice(120)).filter((b) => b >= 0).length).toBeLessThan(30);
  });

  it("is not found in clutter alone", () => {
    expect(findHorizon(segments(400).slice(120), SIZE, null)).toBeNull();
  });
});

describe("the light by shadows", () => {
  const LIGHT = { azimuthDeg: -70, elevationDeg: 28 };
  const d = directionOf(LIGHT.azimuthDeg, LIGHT.elevationDeg);
  const mark = (x: number, z: number, h: number): ShadowMark => ({
    foot: at(x, 0, z),
    top: at(x, h, z),
    tip: at(x - (d[0] / d[1]) * h, 0, z - (d[2] / d[1]) * h),
  });
  const told = (marks: ShadowMark[]) => lightFromShadows(CAMERA, marks) as LightDirection;

  it("a foot, a top and a tip tell it", () => {
    const light = told([mark(-0.5, 5, 0.9)]);
    expect(lightsApartDeg(light, LIGHT)).toBeLessThan(1e-6);
    expect(light.sigmaDeg).toBeLessThan(2);
  });

  it("one wedge tells nothing, two cross in it", () => {
    const wedges = [mark(-1, 5, 0.9), mark(1.4, 7, 1.3)].map((m) => ({ ...m, foot: null }));
    expect(lightFromShadows(CAMERA, wedges.slice(0, 1))).toBe("tooFew");
    expect(lightsApartDeg(told(wedges), LIGHT)).toBeLessThan(1e-4);
  });

  it("with ±1 px on every place the true light lies within three of the stated deviations, nearly always", () => {
    const random = evenOf(3);
    // a sum of twelve is nearly normal, of deviation 1
    const normal = () => Array.from({ length: 12 }, () => random() / 2).reduce((a, b) => a + b, 0);
    const moved = ([x, y]: readonly [number, number]): [number, number] => [x + normal(), y + normal()];
    let within = 0;
    for (let k = 0; k < 60; k++) {
      const { foot, top, tip } = mark(-0.5, 5, 0.9);
      const light = told([{ foot: moved(foot!), top: moved(top), tip: moved(tip) }]);
      if (lightsApartDeg(light, LIGHT) < 3 * light.sigmaDeg) within++;
    }
    expect(within).toBeGreaterThanOrEqual(57);
  });

  it("an unsure horizon makes it less sure", () => {
    const unsure = lightFromShadows(CAMERA, [mark(-0.5, 5, 0.9)], { horizonDeg: 3, focalShare: 0.1 }) as LightDirection;
    expect(unsure.sigmaDeg).toBeGreaterThan(1.5 * told([mark(-0.5, 5, 0.9)]).sigmaDeg);
  });

  it("what cannot be is told by its reason", () => {
    const { foot, top, tip } = mark(-0.5, 5, 0.9);
    expect(lightFromShadows(CAMERA, [])).toBe("tooFew");
    expect(lightFromShadows(CAMERA, [{ foot, top, tip: [600, 20] }])).toBe("tipOffGround");
    expect(lightFromShadows(CAMERA, [{ foot, top: [foot![0], foot![1] + 40], tip }])).toBe("topUnderFoot");
    const other = mark(1, 6, 1);
    expect(
      lightFromShadows(CAMERA, [
        { foot, top, tip },
        { ...other, tip: at(1 + 2, 0, 6 + 1) },
      ]),
    ).toBe("contradict");
  });
});

describe("a shadow that is measured", () => {
  const LIGHT = directionOf(-75, 30);
  const [X, Z, H, HALF] = [0.2, 4, 0.9, 0.03];
  const tip: [number, number, number] = [X - (LIGHT[0] / LIGHT[1]) * H, 0, Z - (LIGHT[2] / LIGHT[1]) * H];
  const mark: ShadowMark = { foot: at(X, 0, Z), top: at(X, H, Z), tip: at(...tip) };
  /** Ground under a disc of light and a blue sky behind a post, in closed form: what of the disc it hides across its own width. */
  const ground = (sourceDeg: number, shade: number[]) => (x: number, y: number) => {
    const place = CAMERA.placeAt(x, y);
    if (!place) return null;
    const [lx, lz] = [tip[0] - X, tip[2] - Z];
    const length = Math.hypot(lx, lz);
    const along = ((place[0] - X) * lx + (place[2] - Z) * lz) / length;
    const across = ((place[0] - X) * lz - (place[2] - Z) * lx) / length;
    const radius = (along / length) * Math.hypot(length, H) * Math.tan((sourceDeg * Math.PI) / 360);
    const hidden = along < 0 || along > length ? 0 : discBelow((across + HALF) / radius) - discBelow((across - HALF) / radius);
    return shade.map((s) => 0.3 * (1 - hidden * (1 - s)));
  };
  /** Share of a disc of radius 1 on one side of a line. */
  const discBelow = (k: number) => (k <= -1 ? 0 : k >= 1 ? 1 : 0.5 + (Math.asin(k) + k * Math.sqrt(1 - k * k)) / Math.PI);

  it.each([1.5, 3])("tells a light %d° wide, its strength and the colour of the shade", (sourceDeg) => {
    const figures = measureShadow(CAMERA, mark, LIGHT, ground(sourceDeg, [0.22, 0.25, 0.3]))!;
    expect(Math.abs(Math.log(figures.sourceDeg / sourceDeg))).toBeLessThan(Math.log(1.5));
    expect(Math.abs(figures.ratioEv - 2)).toBeLessThan(0.2);
    expect(figures.halfWidthM).toBeCloseTo(HALF, 2);
    expect(figures.shadowMired).toBeLessThan(-5);
    const { ratioEv, ratioSpreadEv, shadowMired } = figures;
    const together = combineShadows([null, figures])!;
    expect(together).toEqual({ sourceDeg: expect.closeTo(figures.sourceDeg, 9) as number, ratioEv, ratioSpreadEv, shadowMired });
    // one that may as well be another tells no strength, and is outweighed by one that may not
    const unsure = { ...figures, ratioEv: 0.4, ratioSpreadEv: 3 };
    expect(combineShadows([unsure])).toMatchObject({ ratioEv: null, shadowMired: null });
    expect(combineShadows([unsure, figures])!.ratioEv).toBeCloseTo(ratioEv, 9);
    expect(combineShadows([{ ...unsure, ratioSpreadEv: 0.5 }, figures])!.ratioEv).toBeGreaterThan(0.9 * ratioEv);
  });

  it("a soft picture tells it too", () => {
    const random = evenOf(6);
    const blurred = (px: number) => {
      const weights = Array.from({ length: 25 }, (_, k) => Math.exp(-0.5 * ((k - 12) / px) ** 2));
      const sum = weights.reduce((a, b) => a + b, 0);
      return measureShadow(CAMERA, mark, LIGHT, (x, y) => {
        const light = [0, 0, 0];
        weights.forEach((w, k) => ground(0.53, [0.22, 0.25, 0.3])(x, y + k - 12)?.forEach((v, c) => (light[c] += (w * v) / sum)));
        return light.map((v) => v * (1 + 0.05 * random()));
      });
    };
    for (const px of [0.5, 3]) expect(Math.abs(blurred(px)!.ratioEv - 2)).toBeLessThan(0.3);
  });

  it("sees none where there is none", () => {
    const random = evenOf(2);
    expect(measureShadow(CAMERA, mark, LIGHT, () => [0.3 + 0.03 * random(), 0.3, 0.3])).toBeNull();
    expect(combineShadows([null])).toBeNull();
  });
});

describe("a ground that lies partly in the shade", () => {
  const random = evenOf(8);
  /** @param warmer red over green, log2, of the dark part */
  const places = (lit: number, shaded: number, apartEv: number, texture: number, warmer = -0.25) => {
    const isDark = (i: number) => i % 100 < 100 * (shaded / (lit + shaded));
    const y = Float32Array.from({ length: 4000 }, (_, i) => -2 + 0.5 * texture * (random() + random()) - (isDark(i) ? apartEv : 0));
    const tinted = (by: number) => y.map((v, i) => v + (isDark(i) ? by : 0));
    return { y, rgb: [tinted(warmer), y, tinted(-warmer)] as [Float32Array, Float32Array, Float32Array] };
  };

  it("is told from one that does not, and what lies in the light by what lies between the two", () => {
    const found = litGround(places(3, 1, 2.4, 0.8), 2.2)!;
    // the shade lies at −4.4, the light at −2: what is in the shade is left out whole, what is in the light kept whole
    const [shade, light] = [-4.4, -2].map((v) => band(v, found.fromEv, 10, found.softEv));
    expect(shade).toBe(0);
    expect(light).toBe(1);
  });

  it.each([
    ["one light", 1, 0, 2.4, 0.8, -0.25],
    ["two grounds of other kinds", 1, 1, 0.9, 0.5, -0.25],
    ["one place in the shade", 99, 1, 2.4, 0.5, -0.25],
    ["a dark ground that is warmer", 1, 1, 2.4, 0.5, 0.3],
  ])("not where there is %s", (_, lit, shaded, apart, texture, warmer) => {
    expect(litGround(places(lit, shaded, apart, texture, warmer), 2.4)).toBeNull();
  });

  it("not where nothing is", () => {
    const even = (n: number) => ({
      y: new Float32Array(n).fill(1),
      rgb: [0, 1, 2].map(() => new Float32Array(n)) as [Float32Array, Float32Array, Float32Array],
    });
    expect([litGround(even(0), 2), litGround(even(3), 2)]).toEqual([null, null]);
  });
});
