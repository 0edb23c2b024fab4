import { GroundCamera } from "../seat/groundCamera";
import { findLamps } from "./findLamps";
import { glowAt, GLOW_RADII, measureGlow } from "./glow";
import { facingAt, inflate } from "./inflate";
import { keyFillLight } from "./keyFill";
import { facing, lampPlace, lampRadiusPx, shineOf, type Lamp } from "./lamp";
import { colorOfKelvin } from "./lampKinds";

const camera = new GroundCamera({ width: 1200, height: 800 }, { pitchDeg: -5, rollDeg: 0, focalPx: 1200 }, 1.6);
const lamp = (given: Partial<Lamp>): Lamp => ({ id: "l", is: "lamp", x: 600, y: 300, distanceM: 4, wide: 0.2, ev: 2, color: [1, 1, 1], ...given });

describe("a lamp", () => {
  it("stands where it is seen", () => {
    const at = lampPlace(camera, lamp({ x: 900, y: 250 }))!;
    expect(camera.pixelOf(at)!.map((v) => Math.round(v))).toEqual([900, 250]);
    expect(Math.hypot(at[0], at[2])).toBeCloseTo(4, 6);
  });

  // the inverse square law, any handbook of photometry
  it("gives a quarter of its light at twice the way", () => {
    const at = lampPlace(camera, lamp({}))!;
    const shine = shineOf(camera, lamp({}));
    const [near, far] = [1, 2].map((m) => shine([at[0] + m, at[1], at[2]]));
    expect(near.light).toBeCloseTo(4, 6);
    expect(near.light / far.light).toBeCloseTo(4, 6);
    expect(near.towards[0]).toBeCloseTo(-1, 6);
  });

  it("is no brighter the nearer it is once it is as far as sun and moon", () => {
    const shine = shineOf(camera, lamp({ is: "moon", distanceM: null, ev: -1 }));
    expect(shine([0, 0, 5]).light).toBe(shine([9, 3, 80]).light);
    expect(shine([0, 0, 5]).light).toBeCloseTo(0.5, 12);
  });

  // the mean moon: 0.53° through a lens of 1200 px
  it("is as wide in the picture as its angle", () => {
    expect(2 * lampRadiusPx(camera, lamp({ is: "moon", distanceM: null, wide: 0.53, x: 599.5, y: 399.5 }))).toBeCloseTo(
      2 * 1200 * Math.tan((0.265 * Math.PI) / 180),
      6,
    );
  });

  // the mean over a small disc of max(0, cos): no light is lost and none is made
  it("lights a surface at its horizon by the part of its disc that is above that", () => {
    const sine = 0.2;
    for (const cosine of [-0.3, -0.15, -0.05, 0, 0.05, 0.15, 0.4]) {
      let [sum, count] = [0, 0];
      for (let i = -200; i <= 200; i++) {
        for (let j = -200; j <= 200; j++) {
          const [u, v] = [i / 200, j / 200];
          if (u * u + v * v > 1) continue;
          sum += Math.max(0, cosine + sine * v);
          count++;
        }
      }
      expect(Math.abs(facing(cosine, sine) - sum / count)).toBeLessThan(0.012);
    }
  });

  // CIE 1931 chromaticities of black bodies, as tables have them: 2856 K is illuminant A, (0.4476, 0.4074)
  it("has the colour of its temperature", () => {
    const [r, g, b] = colorOfKelvin(2856);
    const xyz = [0.636958 * r + 0.144617 * g + 0.168881 * b, 0.2627 * r + 0.677998 * g + 0.059302 * b, 0.028073 * g + 1.060985 * b];
    const sum = xyz[0] + xyz[1] + xyz[2];
    expect(xyz[0] / sum).toBeCloseTo(0.4476, 2);
    expect(xyz[1] / sum).toBeCloseTo(0.4074, 2);
    expect(xyz[1]).toBeCloseTo(1, 3);
  });
});

describe("a surface blown up from its outline", () => {
  const disc = (side: number, r: number) =>
    Float32Array.from({ length: side * side }, (_, i) => (Math.hypot((i % side) - side / 2, Math.floor(i / side) - side / 2) < r ? 1 : 0));

  it("makes a ball of a disc", () => {
    const surface = inflate(disc(240, 100), 240, 240);
    const n = new Float64Array(3);
    for (const [dx, dy] of [
      [0, 0],
      [50, 0],
      [-60, 40],
      [20, -80],
    ]) {
      facingAt(surface, 120 + dx, 120 + dy, 1, n);
      expect(Math.abs(n[0] - dx / 100)).toBeLessThan(0.04);
      expect(Math.abs(n[1] - dy / 100)).toBeLessThan(0.04);
    }
  });

  it("is as round where it is looked at coarsely", () => {
    const surface = inflate(disc(1000, 420), 1000, 1000);
    const n = new Float64Array(3);
    facingAt(surface, 500 + 300, 500, 1, n);
    expect(Math.abs(n[0] - 300 / 420)).toBeLessThan(0.05);
  });

  it.each([
    [120, 280],
    [61, 90],
    [332, 76],
  ])("is even to both sides of a board of %d by %d that fills its own samples", (width, height) => {
    const surface = inflate(new Float32Array(width * height).fill(1), width, height);
    const [left, right, top, bottom] = [0, 0, 0, 0].map(() => new Float64Array(3));
    for (const share of [0.04, 0.2, 0.4]) {
      facingAt(surface, share * width - 0.5, height / 2 - 0.5, 1, left);
      facingAt(surface, (1 - share) * width - 0.5, height / 2 - 0.5, 1, right);
      facingAt(surface, width / 2 - 0.5, share * height - 0.5, 1, top);
      facingAt(surface, width / 2 - 0.5, (1 - share) * height - 0.5, 1, bottom);
      expect(left[0]).toBeLessThan(0);
      expect(Math.abs(left[0] + right[0])).toBeLessThan(0.03);
      expect(top[1]).toBeLessThan(0);
      expect(Math.abs(top[1] + bottom[1])).toBeLessThan(0.03);
    }
  });

  it("faces sideways along the rim, and who looks where it is flat", () => {
    const surface = inflate(disc(240, 100), 240, 240);
    const n = new Float64Array(3);
    facingAt(surface, 120 - 99, 120, 1, n);
    expect(n[0]).toBeLessThan(-0.9);
    const before = n[2];
    facingAt(surface, 120 - 60, 120, 0.2, n);
    expect(n[2]).toBeGreaterThan(before);
    expect(n[2]).toBeGreaterThan(0.97);
  });

  it("is none where nothing is", () => {
    const surface = inflate(new Float32Array(100), 10, 10);
    const n = new Float64Array(3);
    facingAt(surface, 5, 5, 1, n);
    expect([...n]).toEqual([0, 0, 1]);
  });
});

it("lights what faces the key by as much as it is said to be over the fill", () => {
  const key = { towards: [0, 1, 0] as [number, number, number], ratioEv: 2 };
  expect(keyFillLight(key, [0, 1, 0])).toBeCloseTo(1, 9);
  expect(keyFillLight(key, [0, -1, 0])).toBeCloseTo(0.25, 9);
});

describe("the glow of a lamp", () => {
  const spread = { rimEv: -3, fallEv: -1.7, bendEv: -0.12 };
  const scene = (x: number, y: number): readonly number[] | null => {
    if (x < 0 || y < 0 || x > 799 || y > 599) return null;
    const r = Math.hypot(x - 300, y - 200) / 12;
    const light = r <= 1 ? 30 : glowAt(spread, r);
    // it stands before an uneven dusk, and a post runs through it
    const sky = 0.002 + 0.000004 * y;
    return Math.abs(x - 330) < 3 ? [0.0005, 0.0005, 0.0005] : [1.3 * light + sky, 0.95 * light + sky, 0.3 * light + sky];
  };
  const WEIGHTS = [0.2627, 0.678, 0.0593];

  it("is read off the plate within 0.3 EV out to ten radii, with its colour", () => {
    const told = measureGlow(300, 200, 12, scene, WEIGHTS)!;
    for (let radii = 1.25; radii <= GLOW_RADII; radii *= 1.3) {
      const truly = glowAt(spread, radii) * (1.3 * 0.2627 + 0.95 * 0.678 + 0.3 * 0.0593);
      expect(Math.abs(Math.log2(glowAt(told, radii) / truly))).toBeLessThan(0.3);
    }
    expect(told.color[0] / told.color[2]).toBeCloseTo(1.3 / 0.3, 0);
  });

  it("tells nothing where nothing glows", () => {
    expect(measureGlow(300, 200, 12, () => [0.2, 0.2, 0.2], WEIGHTS)).toBeNull();
  });

  it("never grows with the way", () => {
    const odd = { rimEv: -2, fallEv: -1, bendEv: 0.4 };
    for (let radii = 1; radii < 500; radii *= 1.4) expect(glowAt(odd, radii * 1.4)).toBeLessThanOrEqual(glowAt(odd, radii));
  });
});

describe("lamps of a picture", () => {
  const [width, height] = [480, 320];
  const dusk = () => Float32Array.from({ length: width * height }, (_, i) => 0.01 + 0.00004 * Math.floor(i / width));
  const put = (data: Float32Array, x: number, y: number, r: number, light: number) => {
    for (let v = y - r; v <= y + r; v++) for (let u = x - r; u <= x + r; u++) if (Math.hypot(u - x, v - y) <= r) data[v * width + u] = light;
  };

  it("are small and far brighter than what surrounds them", () => {
    const data = dusk();
    put(data, 100, 80, 4, 1);
    put(data, 300, 200, 7, 0.8);
    const found = findLamps({ data, width, height });
    expect(found.map((l) => [Math.round(l.x), Math.round(l.y)]).sort((a, b) => a[0] - b[0])).toEqual([
      [100, 80],
      [300, 200],
    ]);
    expect(found.find((l) => l.x < 200)!.radius).toBeCloseTo(4, 0);
  });

  it("are neither a bright sky nor glints among glints", () => {
    const data = dusk();
    for (let i = 0; i < width * 90; i++) data[i] = 0.9;
    expect(findLamps({ data, width, height })).toEqual([]);
    const reeds = dusk();
    for (let k = 0; k < 900; k++) reeds[(150 + ((k * 7) % 150)) * width + ((k * 37) % width)] = 1;
    expect(findLamps({ data: reeds, width, height })).toEqual([]);
  });
});
