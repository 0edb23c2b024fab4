import { LUMINANCE } from "../color/primaries";
import { project } from "../geometry/matrix3";
import { withWires } from "../matte/wires";
import { GroundCamera } from "../seat/groundCamera";
import { skyFigures } from "./skyFigures";
import { coveredShare, skyStance, skyToPlate, type SkyView } from "./skyView";

describe("a sky over a plate", () => {
  const plate = { width: 1200, height: 800 };
  const own = { width: 900, height: 600 };
  const stance = { pitchDeg: 4, rollDeg: 2, focalPx: 1000 };
  const view: SkyView = { focalPx: 700, horizonY: 540, panDeg: 0, liftDeg: 0, times: 1 };
  const camera = new GroundCamera(plate, stance, 1.6);
  const theirs = new GroundCamera(own, skyStance(view, own), 1.6);

  it("shows the same directions as its own picture", () => {
    const map = skyToPlate(view, own, stance, plate);
    for (const [x, y] of [
      [100, 100],
      [450, 300],
      [820, 520],
    ]) {
      const [dx, dy, dz] = theirs.rayOf(x, y);
      const [u, v] = project(map, x, y);
      const [ex, ey, ez] = camera.rayOf(u, v);
      const k = Math.hypot(dx, dy, dz) / Math.hypot(ex, ey, ez);
      expect([ex * k - dx, ey * k - dy, ez * k - dz].every((d) => Math.abs(d) < 1e-6)).toBe(true);
    }
  });

  it("keeps its horizon at the plate's, however large it is; lifted and turned by degrees", () => {
    for (const times of [1, 2.5]) {
      const [u, v] = project(skyToPlate({ ...view, times }, own, stance, plate), 449.5, 540);
      expect(camera.rayOf(u, v)[1] / 1000).toBeCloseTo(0, 6);
    }
    const [u, v] = project(skyToPlate({ ...view, panDeg: 12, liftDeg: 5 }, own, stance, plate), 449.5, 540);
    const [dx, dy, dz] = camera.rayOf(u, v);
    expect((Math.atan2(dx, dz) * 180) / Math.PI).toBeCloseTo(12, 6);
    expect((Math.asin(dy / Math.hypot(dx, dy, dz)) * 180) / Math.PI).toBeCloseTo(5, 6);
  });

  it("covers what its picture reaches over", () => {
    const same = [1, 0, 0, 0, 1, 0, 0, 0, 1];
    expect(coveredShare(same, plate, 799, plate, () => true)).toBe(1);
    expect(coveredShare(same, plate, 399, plate, () => true)).toBeCloseTo(0.5, 1);
    expect(coveredShare(same, plate, 399, plate, (_x, y) => y < 300)).toBe(1);
  });
});

describe("what a picture shows of its sky", () => {
  const [width, height] = [300, 200];
  const picture = (of: (x: number, y: number) => number[]): Float32Array[] => {
    const planes = [0, 1, 2].map(() => new Float32Array(width * height));
    for (let i = 0; i < width * height; i++) of(i % width, Math.floor(i / width)).forEach((v, c) => (planes[c][i] = v));
    return planes;
  };
  const noise = (x: number, y: number) => 0.5 + 0.5 * Math.sin(x * 12.9898 + y * 78.233);

  it("ends where land begins, and has its colour and its sun", () => {
    const told = skyFigures(
      picture((x, y) => (y > 120 ? [0.05 * noise(x, y), 0.06 * noise(y, x), 0.02] : Math.hypot(x - 220, y - 40) < 6 ? [1, 1, 1] : [0.3, 0.4, 0.6])),
      width,
      height,
      LUMINANCE,
    )!;
    expect(Math.abs(told.horizon - 120)).toBeLessThanOrEqual(3);
    expect(told.hasLand).toBe(true);
    expect(told.color[2]).toBeCloseTo(0.6, 2);
    expect(told.share).toBeCloseTo(0.6, 1);
    expect(Math.hypot(told.sun![0] - 220, told.sun![1] - 40)).toBeLessThan(2);
  });

  it("is all of it where clouds go from edge to edge, and none of it in noise", () => {
    const storm = picture((x, y) => {
      const v = 0.25 + 0.12 * Math.sin(x / 21 + Math.sin(y / 13)) * Math.cos(y / 17);
      return [v, v, v * 1.1];
    });
    expect(skyFigures(storm, width, height, LUMINANCE)).toMatchObject({ hasLand: false, bottom: height - 1, sun: null });
    const rough = picture((x, y) => [noise(x, y), noise(y, x), noise(x + 3, y)]);
    expect(skyFigures(rough, width, height, LUMINANCE)).toBeNull();
  });
});

it("wires that hang on the land are told from the sky; a bird and a soft cloud are not", () => {
  const [width, height] = [120, 90];
  const L = new Float32Array(width * height).fill(0.7);
  const sky = new Uint8Array(width * height).fill(1);
  const land = (x: number) => x < 10;
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      if (land(x)) [L[i], sky[i]] = [0.2, 0];
      L[i] += 0.04 * Math.exp(-((x - 90) ** 2 + (y - 20) ** 2) / 400);
      if (!land(x) && y === 40 + Math.floor(x / 8)) L[i] = 0.45;
      if (Math.hypot(x - 70, y - 75) < 2) L[i] = 0.3;
    }
  }
  const rgb = [L, L, L] as const;
  const mask = withWires({ width, height, rgb, lab: [L, new Float32Array(L.length), new Float32Array(L.length)], plate: null }, sky);
  const wire = [...Array(100).keys()].map((k) => mask[(40 + Math.floor((k + 12) / 8)) * width + k + 12]);
  expect(wire.filter((v) => v).length).toBeGreaterThan(95);
  expect(mask[75 * width + 70]).toBe(0);
  expect(mask[20 * width + 90]).toBe(0);
  expect(mask[60 * width + 5]).toBe(1);
});
