/** What the weave measures and how it chooses, on made-up frames with known answers. */
import { sentence } from "../../messages/sentence";
import { randomOf } from "../../../tests/support/kernels";
import { cutBetween, findBorders, SURE } from "./findBorders";
import { AIMS, proposeAim, rankFrames, type CellMeasures } from "./judgeRegions";
import { measureRegions, type WeaveFrame } from "./measureRegions";
import { nameRegions } from "./nameRegions";
import { partCore, SOLID } from "./partCore";
import { findPieces, regionsOf, splitRegion } from "./segment";

const [W, H] = [96, 64];
const plane = (f: (x: number, y: number) => number) => Float32Array.from({ length: W * H }, (_, i) => f(i % W, Math.floor(i / W)));

const cell = (change: Partial<CellMeasures> = {}): CellMeasures => ({
  clipped: 0,
  noise: 0.02,
  detailEv: 0.3,
  rippleEv: 0.5,
  chroma: 0.05,
  colourRange: 0.02,
  lightEv: -3,
  shadeEv: 0.5,
  steady: 0.7,
  alone: 0,
  lightFromDeg: 0,
  lightFromEv: 0,
  ...change,
});

describe("frames of a region are ranked by its aim, with the reason", () => {
  const better: Record<(typeof AIMS)[number], Partial<CellMeasures>> = {
    light: { lightEv: -1 },
    detail: { detailEv: 0.6 },
    colour: { chroma: 0.12 },
    smooth: { rippleEv: 0.1, steady: 0 },
    noise: { noise: 0.002 },
    still: { alone: 0 },
  };
  it.each(AIMS)("%s", (aim) => {
    const cells = [cell({ alone: 0.2 }), cell({ alone: 0.3 }), cell({ alone: 0.4, ...better[aim] })];
    const { order, reason } = rankFrames(aim, cells, [1, 2, 5]);
    expect(order[0]).toBe(2);
    expect(sentence(reason)).toMatch(/^Frame 5: .*, frame 1 /);
  });
  it("what is lost bars a frame that would win, and that is said; what is lost in all bars none", () => {
    const bright = { lightEv: 0, clipped: 0.4 };
    const { order, reason } = rankFrames("light", [cell(), cell(bright)], [1, 2]);
    expect(order).toEqual([0, 1]);
    expect(sentence(reason)).toContain("frame 2 has +0.5 EV but 40 % of it is lost");
    expect(rankFrames("light", [cell({ clipped: 0.4 }), cell(bright)], [1, 2]).order).toEqual([1, 0]);
    // what is lost weighs more than a little more of the aim, also in a sky
    const sky = rankFrames("colour", [cell({ chroma: 0.064, clipped: 0.11 }), cell({ chroma: 0.054, clipped: 0.007 })], [1, 3]);
    expect(sky.order).toEqual([1, 0]);
    expect(sentence(sky.reason)).toContain("frame 1 has 8.4 but 11 % of it is lost");
    // much more of it weighs more, and what is lost is said
    const burnt = rankFrames("colour", [cell({ chroma: 0.12, clipped: 0.11 }), cell({ chroma: 0.05, clipped: 0.01 })], [1, 4]);
    expect(burnt.order).toEqual([0, 1]);
    expect(sentence(burnt.reason)).toContain("11 % of it is lost here, in frame 4 1 %");
    expect(sentence(rankFrames("light", [cell()], [1]).reason)).toBe("The only frame.");
  });
});

it("the sky is looked at for its colour, a surface that lay still in one frame for smoothness, the rest for light", () => {
  const place = { isSky: false, middle: 0.6, top: 0.4, share: 0.1 };
  const moving = [cell(), cell({ rippleEv: 0.55 }), cell({ rippleEv: 0.52, steady: 0.65 })];
  expect(proposeAim({ ...place, isSky: true, cells: moving })).toBe("colour");
  expect(proposeAim({ ...place, cells: moving })).toBe("light");
  // its ripples are weaker, and those of none of the others
  expect(proposeAim({ ...place, cells: [...moving, cell({ rippleEv: 0.1, steady: 0.1 })] })).toBe("smooth");
  // as strong, for something stands in it and is mirrored, but its own
  expect(proposeAim({ ...place, cells: [...moving, cell({ rippleEv: 0.48, steady: 0.2 })] })).toBe("smooth");
  // a lamp lit in one frame: unlike the others, and rougher
  expect(proposeAim({ ...place, cells: [...moving, cell({ rippleEv: 1.2, steady: 0 })] })).toBe("light");
  expect(proposeAim({ ...place, cells: [cell({ rippleEv: 0.1, steady: 0 }), cell()] })).toBe("light");
});

describe("a frame is measured in each region", () => {
  const random = randomOf(5);
  const label = Uint8Array.from(plane((x) => (x < W / 2 ? 0 : 1)));
  const ripples = plane(() => 0.4 * (random() - 0.5));
  const frame = (light: Float32Array, change: Partial<WeaveFrame> = {}): WeaveFrame => ({
    light,
    lab: [plane(() => 0.5), plane((x) => (x < W / 2 ? 0.03 : 0)), plane((x) => (x < W / 2 ? 0.04 : 0))],
    lost: new Uint8Array(W * H),
    detail: plane(() => 0.09),
    noise: plane(() => 0.05),
    ...change,
  });
  const base = plane((x, y) => -3 + ripples[y * W + x]);
  it("light, colour, noise, detail and what is lost are means over the region", () => {
    const brighter = base.map((v, i) => v + (label[i] ? 1.5 : 0));
    const lost = Uint8Array.from(label, (k, i) => (k === 0 && i % W < W / 4 ? 3 : 0));
    const [left, right] = measureRegions([frame(base, { lost }), frame(brighter)], label, 2, W, H);
    expect(right[1].lightEv - right[0].lightEv).toBeCloseTo(1.5, 5);
    expect(left[1].lightEv).toBeCloseTo(left[0].lightEv, 5);
    expect([left[0].clipped, right[0].clipped]).toEqual([0.5, 0]);
    expect(left[0].chroma).toBeCloseTo(0.05, 6);
    expect(left[0].colourRange).toBeCloseTo(0, 6);
    expect(right[0].noise).toBeCloseTo(0.05, 6);
    expect(right[0].detailEv).toBeCloseTo(0.3, 6);
  });
  it("a surface that moved in one frame does not follow the others there", () => {
    const own = plane((x, y) => (x < W / 2 ? -3 + 0.4 * (random() - 0.5) : base[y * W + x]));
    const [left, right] = measureRegions([frame(base), frame(base.slice()), frame(own)], label, 2, W, H);
    expect(left[0].steady).toBeGreaterThan(0.45);
    expect(Math.abs(left[2].steady)).toBeLessThan(0.1);
    expect(right[2].steady).toBeGreaterThan(0.95);
  });
  it("what stands in one frame alone is its share of the region, whatever the light", () => {
    const square = (x: number, y: number) => x >= 60 && x < 76 && y >= 20 && y < 36;
    const passing = plane((x, y) => (square(x, y) ? 1 : base[y * W + x]));
    const [left, right] = measureRegions([frame(base), frame(base.map((v) => v + 2)), frame(passing)], label, 2, W, H);
    const share = (16 * 16) / ((W / 2) * H);
    expect(right[2].alone).toBeGreaterThan(0.5 * share);
    expect(right[2].alone).toBeLessThan(2.5 * share);
    expect([left[0].alone, left[2].alone, right[1].alone].every((v) => v < 0.25 * share)).toBe(true);
  });
  it("the light comes from where it rises to against the other frames", () => {
    // 2 EV across the picture, to the right
    const slanted = plane((x, y) => base[y * W + x] + (2 * x) / W);
    const all = new Uint8Array(W * H);
    const [cells] = measureRegions([frame(base), frame(slanted)], all, 1, W, H);
    expect(Math.abs(cells[1].lightFromDeg - 90)).toBeLessThan(3);
    expect(Math.abs(cells[0].lightFromDeg - 270)).toBeLessThan(3);
  });
});

describe("regions", () => {
  // three flat areas: the left half, and the right one parted below its middle
  const features = [plane((x) => (x < W / 2 ? 0.2 : 0.6)), plane((x, y) => (x >= W / 2 && y >= H / 2 ? 0.3 : 0)), plane(() => 0)];
  const pieces = findPieces(features, W, H);
  const at = (label: Uint8Array, x: number, y: number) => label[y * W + x];
  it("end where the picture does, and the most unlike are parted first", () => {
    const three = regionsOf(pieces, 3);
    expect(new Set(three).size).toBe(3);
    for (const [x0, x1, y0, y1] of [
      [1, W / 2 - 2, 1, H - 2],
      [W / 2 + 1, W - 2, 1, H / 2 - 2],
      [W / 2 + 1, W - 2, H / 2 + 1, H - 2],
    ]) {
      const found = new Set<number>();
      for (let y = y0; y <= y1; y++) for (let x = x0; x <= x1; x++) found.add(at(three, x, y));
      expect(found.size).toBe(1);
    }
    const two = regionsOf(pieces, 2);
    expect(at(two, 80, 10)).toBe(at(two, 80, 50));
    expect(at(two, 10, 10)).not.toBe(at(two, 80, 10));
  });
  it("a region is parted where it grew together last, and one of a single piece is not", () => {
    const two = regionsOf(pieces, 2);
    const right = two.map((v) => (v === at(two, 80, 10) ? 1 : 0));
    const half = splitRegion(pieces, right)!;
    expect(at(half, 80, 10)).not.toBe(at(half, 80, 50));
    expect(at(half, 10, 10)).toBe(0);
    const one = Uint8Array.from(pieces.label, (v) => (v === pieces.label[0] ? 1 : 0));
    expect(splitRegion(pieces, one)).toBeNull();
  });
  it("are named by their places, with a number where two would be the same", () => {
    const place = (across: number, middle: number, spans = 0.3) => ({ across, middle, spans });
    expect(nameRegions([place(0.5, 0.2, 0.95), place(0.1, 0.5), place(0.2, 0.4), place(0.9, 0.9)])).toEqual([
      "Top, all across",
      "Middle left 1",
      "Middle left 2",
      "Bottom right",
    ]);
  });
});

it("a border moves to where the frames agree, and no further than it may", () => {
  const wanted = Uint8Array.from(plane((x) => (x < 40 ? 0 : 1)));
  const same = plane(() => 0.4);
  // they differ everywhere but along a column a few samples aside
  const other = plane((x) => (x >= 43 && x <= 45 ? 0.4 : 0.7));
  const found = findBorders(
    wanted,
    9,
    [
      [same, same, same],
      [other, other, other],
    ],
    W,
    H,
  );
  for (let y = 2; y < H - 2; y++) {
    const row = found.subarray(y * W, (y + 1) * W);
    const first = row.indexOf(1);
    expect(first).toBeGreaterThanOrEqual(43);
    expect(first).toBeLessThanOrEqual(46);
    expect(row.subarray(first).every((v) => v === 1)).toBe(true);
  }
  expect(findBorders(new Uint8Array(W * H), 9, [[same, same, same]], W, H)).toEqual(new Uint8Array(W * H));
});

describe("a part that is taken from another frame", () => {
  const disc = (cx: number, cy: number, r: number) => (x: number, y: number) => Math.hypot(x - cx, y - cy) <= r;
  const grain = randomOf(5);
  const noise = Float32Array.from({ length: 2 * W * H }, () => 0.02 * (grain() - 0.5));
  /** Three planes of a wall with one dark line, and a bright disc before it. */
  const picture = (line: number, isDisc: (x: number, y: number) => boolean, k: number): Float32Array[] =>
    [0, 1, 2].map(() => plane((x, y) => (isDisc(x, y) ? 0.8 : x === line ? 0.1 : 0.4) + noise[k * W * H + y * W + x]));
  const [below, above] = [picture(20, disc(40, 30, 9), 0), picture(26, disc(56, 32, 9), 1)];
  const box = { x: 10, y: 10, width: 70, height: 44 };

  it("brings the thing along as both frames show it, and not the lines behind it", () => {
    const core = partCore(below, above, box, W, H);
    let missing = 0;
    for (let i = 0; i < core.length; i++) {
      const [x, y] = [i % W, Math.floor(i / W)];
      if ((disc(40, 30, 8)(x, y) || disc(56, 32, 8)(x, y)) && core[i] !== SOLID) missing++;
      if (Math.abs(x - 23) < 5) expect(core[i]).not.toBe(SOLID);
    }
    expect(missing).toBe(0);
    expect(partCore(below, below, box, W, H).includes(SOLID)).toBe(false);
  });

  it("is joined where both show least, and keeps what has to come", () => {
    const core = partCore(below, above, box, W, H);
    const wants = Float32Array.from(core, (v, i) => (v === SOLID ? SURE : i % W > 4 && i % W < W - 4 ? 0 : -SURE));
    const taken = cutBetween(
      wants,
      above,
      () => below,
      () => true,
      W,
      H,
    );
    for (let i = 0; i < taken.length; i++) {
      if (core[i] === SOLID) expect(taken[i]).toBe(1);
      // neither line is crossed: both lie outside
      if (i % W <= 26) expect(taken[i]).toBe(0);
    }
  });
});
