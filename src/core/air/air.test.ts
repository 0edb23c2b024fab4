import { beamAlong, type Beam } from "./beam";
import { discBlur, lineBlur, radiusBetween } from "./defocus";
import { clearness, unevenness, type Mist } from "./mist";
import { clouds } from "./noise";
import { eachParticle, hiddenBy, type Particle, type Particles } from "./particles";
import { measureEdgeWidth } from "../measure/frameMeasures";

describe("mist", () => {
  const even: Mist = { visibleM: 800, halfHeightM: null, patchy: 0, cloudM: 5, seed: 1 };

  // WMO-No. 8: meteorological optical range and visibility by Koschmieder: contrast 0.02 at the visual range
  it("leaves a fiftieth of the contrast where one sees no further", () => {
    expect(clearness(even, 1.6, 0, 800)).toBeCloseTo(0.02, 9);
    expect(clearness(even, 1.6, 0, 400)).toBeCloseTo(Math.sqrt(0.02), 9);
    expect(clearness(even, 1.6, 0, 0)).toBe(1);
  });

  it("is as thick along a ray as the sum of what it passes", () => {
    const low: Mist = { ...even, halfHeightM: 2 };
    for (const dy of [-0.2, -0.01, 0, 0.05, 0.6]) {
      const [far, steps] = [30, 40_000];
      let halvings = 0;
      for (let k = 0; k < steps; k++) halvings += ((Math.log2(50) / 800) * 2 ** (-(7 + dy * far * ((k + 0.5) / steps)) / 2) * far) / steps;
      expect(clearness(low, 7, dy, far)).toBeCloseTo(2 ** -halvings, 6);
    }
  });

  it("is as thick as on the whole where it is even, and thicker in clouds", () => {
    expect(unevenness(even, 1.6, 0, 0, 1, 50)).toBe(1);
    const thicker = [...Array(200).keys()].map((k) => unevenness({ ...even, patchy: 0.8 }, 1.6, Math.sin(k), 0, Math.cos(k), 20));
    expect(Math.max(...thicker)).toBeGreaterThan(1.15);
    expect(Math.min(...thicker)).toBeLessThan(0.85);
    expect(clearness(even, 1.6, 0, 400, 2)).toBeCloseTo(0.02, 9);
  });

  it("is uneven in space, and no thicker on the whole", () => {
    let sum = 0;
    const values: number[] = [];
    for (let i = 0; i < 4000; i++) {
      const v = clouds((i % 20) * 3.7, Math.floor(i / 400) * 2.9, (Math.floor(i / 20) % 20) * 4.1, 3, 7);
      values.push(v);
      sum += v / 4000;
    }
    expect(Math.abs(sum)).toBeLessThan(0.05);
    expect(Math.max(...values) - Math.min(...values)).toBeGreaterThan(0.8);
    expect(clouds(1.25, -3.5, 9.1, 3, 7)).not.toBe(clouds(1.25, -3.5, 9.1, 3, 8));
  });
});

describe("particles", () => {
  const snow: Particles = { count: 800, sizeMm: 12, nearM: 1, farM: 20, fallMs: 1, driftMs: 0.4, exposureS: 0.02, focusM: 5, blurPx: 8, seed: 3 };
  const size = { width: 900, height: 600 };
  const within = (rect: { x: number; y: number; width: number; height: number }, told = snow) => {
    const found: Particle[] = [];
    eachParticle(told, 1000, size, rect, (p) => found.push(p));
    return found;
  };
  const drawn = (rect: { x: number; y: number; width: number; height: number }) => {
    const out = new Float64Array(rect.width * rect.height).fill(1);
    for (const p of within(rect).sort((a, b) => b.distanceM - a.distanceM || a.x0 - b.x0))
      for (let i = 0; i < out.length; i++) out[i] *= 1 - hiddenBy(p, rect.x + (i % rect.width), rect.y + Math.floor(i / rect.width), 1);
    return out;
  };

  it("are the same in every rectangle", () => {
    const whole = drawn({ x: 100, y: 80, width: 120, height: 90 });
    const part = drawn({ x: 150, y: 110, width: 40, height: 30 });
    for (let j = 0; j < 30; j++) for (let i = 0; i < 40; i++) expect(part[j * 40 + i]).toBeCloseTo(whole[(j + 30) * 120 + i + 50], 12);
  });

  it("are about as many as were asked for, most of them far away", () => {
    const all = within({ x: 0, y: 0, ...size }).filter((p) => {
      const [x, y] = [(p.x0 + p.x1) / 2, (p.y0 + p.y1) / 2];
      return x >= 0 && y >= 0 && x < size.width && y < size.height;
    });
    expect(Math.abs(all.length - snow.count)).toBeLessThan(0.15 * snow.count);
    // half of a volume that grows as the cube lies beyond 0.794 of the way
    expect(all.filter((p) => p.distanceM > 0.794 * 20).length / all.length).toBeCloseTo(0.5, 1);
  });

  it("are streaks as long as they fall while they are seen", () => {
    const [still, seen] = [within({ x: 0, y: 0, ...size }, { ...snow, exposureS: 0 }), within({ x: 0, y: 0, ...size })];
    for (const p of still) expect([p.x1 - p.x0, p.y1 - p.y0]).toEqual([0, 0]);
    for (const p of seen) {
      // 0.75 to 1.25 m/s for a fiftieth of a second, through a lens of 1000 px
      const fell = ((p.y1 - p.y0) * p.distanceM) / 1000 / 0.02;
      expect(fell).toBeGreaterThanOrEqual(0.75 - 1e-9);
      expect(fell).toBeLessThanOrEqual(1.25 + 1e-9);
    }
  });

  it("hide as much on a coarse level as on the finest", () => {
    const p: Particle = { x0: 40.3, y0: 40.8, x1: 40.3, y1: 40.8, radius: 5, opacity: 0.7, distanceM: 5 };
    const sum = (scale: number) => {
      let all = 0;
      for (let y = 0; y < 80 / scale; y++)
        for (let x = 0; x < 80 / scale; x++) all += hiddenBy(p, (x + 0.5) * scale - 0.5, (y + 0.5) * scale - 0.5, scale) * scale * scale;
      return all;
    };
    const full = sum(1);
    expect(full / (0.7 * Math.PI * 25)).toBeCloseTo(1, 1);
    for (const scale of [2, 4, 8]) expect(sum(scale) / full).toBeCloseTo(1, 0);
  });
});

describe("a beam", () => {
  const beam: Beam = { from: [0, 3, 5], along: [0, -1, 0], radiusM: 0.1, grows: 0.25, reachM: 3, soft: 0.3, dusty: 0, cloudM: 1, seed: 1, spreads: true };
  const eye: [number, number, number] = [0, 1.6, 0];
  const seen = (y: number, x = 0, far = 100) => {
    const [dx, dy, dz] = [x, y - 1.6, 5];
    const length = Math.hypot(dx, dy, dz);
    return beamAlong(beam, eye, dx / length, dy / length, dz / length, far);
  };

  it("is seen within its cone, brightest where it begins", () => {
    expect(seen(2.8)).toBeGreaterThan(seen(1.5));
    expect(seen(1.5)).toBeGreaterThan(0);
    expect(seen(2.8, 0.4)).toBe(0);
    expect(seen(0.6, 0.4)).toBeGreaterThan(0);
  });

  it("is cut by what stands before it", () => {
    expect(seen(1.5, 0, 3)).toBe(0);
    const half = seen(1.5, 0, 5);
    expect(half).toBeGreaterThan(0);
    expect(half).toBeLessThan(seen(1.5));
  });
});

describe("out of focus", () => {
  // a disc of equal light: the sum of what it covers, counted px by px in parts of a tenth
  it("spreads a point evenly over a disc, and loses nothing", () => {
    for (const radius of [0.8, 2, 3.6, 7.3]) {
      const [w, h] = [41, 41];
      const plane = new Float32Array(w * h);
      plane[20 * w + 20] = 1;
      discBlur(plane, w, h, radius);
      expect(plane.reduce((s, v) => s + v, 0)).toBeCloseTo(1, 4);
      expect(plane[20 * w + 20] * Math.PI * radius * radius).toBeCloseTo(1, 1);
      expect(plane[20 * w + 20 + Math.ceil(radius + 1)]).toBe(0);
      // round: as much to the side as up
      const inside = Math.max(0, Math.floor(radius) - 1);
      expect(plane[20 * w + 20 + inside]).toBeCloseTo(plane[(20 + inside) * w + 20], 2);
    }
  });

  it.each([2.5, 4, 6, 9, 12])("makes edges as wide as is asked for: %d px", (wanted) => {
    const [w, h] = [480, 360];
    const stripes = Float32Array.from({ length: w * h }, (_, i) => Math.floor((i % w) / 60) % 2);
    discBlur(stripes, w, h, radiusBetween(1, wanted)!);
    const data = Uint16Array.from(stripes, (v) => 10_000 + 40_000 * v);
    expect(Math.abs(measureEdgeWidth({ width: w, height: h, data }, 24) / wanted - 1)).toBeLessThan(0.15);
  });

  it("cannot be sharpened", () => {
    expect(radiusBetween(5, 3)).toBeNull();
    expect(radiusBetween(3, 3)).toBe(0);
  });

  it("moves along a line, and loses nothing", () => {
    const [w, h] = [41, 21];
    const plane = new Float32Array(w * h);
    plane[10 * w + 20] = 1;
    lineBlur(plane, w, h, 9, 0);
    expect(plane.reduce((s, v) => s + v, 0)).toBeCloseTo(1, 5);
    expect(plane[10 * w + 23]).toBeCloseTo(1 / 9, 1);
    expect(plane[10 * w + 27]).toBe(0);
    expect(plane[12 * w + 20]).toBe(0);
  });
});
