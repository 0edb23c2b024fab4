/** Many frames looked at in one place, as they come from files: what was planted in which is found. */
import { createNodeEngine } from "../cli/createNodeEngine";
import { encodeSrgb } from "../core/color/srgbCurve";
import { addFrames, chooseFrames, startJob } from "../document/edits";
import { framesOf, framesOfSet, setsOf, workingSetIdOf } from "../document/selectors";
import { concatBytes } from "../formats/bytes";
import { TiffWriter } from "../formats/tiff/TiffWriter";
import { randomOf } from "../../tests/support/kernels";
import { CancelledError } from "./task";
import { MemoryRasterStore } from "./tiles/MemoryRasterStore";

const [W, H] = [360, 240];
const PLACE = { x: 120, y: 80, width: 144, height: 96 };
/** Twelve frames of one morning: each with its shift, light, waves and somebody, or none. */
const FRAMES = Array.from({ length: 12 }, (_, k) => ({
  dx: (k * 5) % 11,
  dy: (k * 3) % 7,
  ev: k === 8 ? 1.5 : (k % 3) * 0.2,
  waves: k === 5 ? 0.01 : 0.12,
  somebody: k === 3 || k === 7,
  blur: k !== 10,
}));

/** Stones of many sizes. */
const STONES = (() => {
  const random = randomOf(9);
  const light = new Float32Array((W + 20) * (H + 20)).fill(0.18);
  for (let k = 0; k < 700; k++) {
    const [cx, cy, r, v] = [random() * W, random() * H, 3 + 14 * random(), 0.1 * (random() - 0.4)];
    for (let y = Math.max(0, Math.floor(cy - r)); y < Math.min(H + 20, cy + r); y++)
      for (let x = Math.max(0, Math.floor(cx - r)); x < Math.min(W + 20, cx + r); x++)
        if (Math.hypot(x - cx, y - cy) < r) light[y * (W + 20) + x] = Math.max(0.05, light[y * (W + 20) + x] + v);
  }
  return light;
})();

function file({ dx, dy, ev, waves, somebody, blur }: (typeof FRAMES)[number], k: number): Uint8Array {
  const random = randomOf(k + 1);
  const writer = new TiffWriter({ width: W, height: H, bits: 16, metadata: [], profile: null });
  const samples = new Uint16Array(W * H * 3);
  for (let y = 0; y < H; y++) {
    for (let x = 0; x < W; x++) {
      const [u, v] = [x + dx, y + dy];
      const stones = STONES[v * (W + 20) + u];
      const grain = blur ? 0 : 0.08 * Math.sin(u * 1.4) * Math.cos(v * 1.2);
      const water = stones * (1 + waves * Math.sin(u / 3.1 + k) * Math.cos(v / 2.7));
      const light = somebody && Math.hypot(x - 190, y - 125) < 24 ? 0.01 : (water + grain) * 2 ** ev * 0.35;
      samples.fill(Math.round(65535 * encodeSrgb(Math.min(1, Math.max(0, light + 0.0005 * random())))), (y * W + x) * 3, (y * W + x) * 3 + 3);
    }
  }
  writer.writeRows(samples);
  return concatBytes(writer.finish());
}

it("ranks frames by light, stillness, sharpness and who stands in the way; only what is chosen goes into a set", async () => {
  const node = await createNodeEngine(process.cwd(), new MemoryRasterStore());
  const imported = [];
  for (const [k, f] of FRAMES.entries()) {
    const bytes = file(f, k);
    const frame = await node.ask("importFrame", { fileName: `m${k}.tif`, bytes });
    node.sources.set(frame.sourceId, async () => bytes);
    imported.push(frame);
  }
  const records = addFrames(imported)(startJob("Morning", "2026-01-01T00:00:00Z", "set-a").records);
  const frames = framesOf(records);
  const { frames: ranked, ofScene } = await node.ask("rankFrames", { frames, pointed: frames[0], place: PLACE });
  expect(ofScene).toBe(false);
  expect(ranked.map((r) => r.frameId)).toEqual(frames.map((f) => f.id));
  const best = (of: "lightEv" | "ripple" | "sharpness", sign: 1 | -1) => ranked.reduce((top, r, i) => (sign * r[of] > sign * ranked[top][of] ? i : top), 0);
  expect([best("lightEv", 1), best("ripple", -1), best("sharpness", 1)]).toEqual([8, 5, 10]);
  for (const [k, r] of ranked.entries()) {
    if (FRAMES[k].somebody) expect(r.covered).toBeGreaterThan(0.06);
    else expect(r.covered).toBeLessThan(0.02);
    // found within two cells of 3 px of where the shift took it, waves or not
    expect(Math.abs(r.found!.x - (PLACE.x - FRAMES[k].dx))).toBeLessThanOrEqual(6);
    expect(Math.abs(r.found!.y - (PLACE.y - FRAMES[k].dy))).toBeLessThanOrEqual(6);
  }
  const chosen = [5, 8, 10].map((k) => frames[k].id);
  const after = chooseFrames(chosen)(records);
  expect(framesOfSet(after, workingSetIdOf(after)).map((f) => f.id)).toEqual(chosen);
  expect(setsOf(after).map((s) => framesOfSet(after, s.id).length)).toEqual([9, 3]);
});

it("a place at the border, as large as the frame or of a few px is looked at all the same, and looking can be stopped", async () => {
  const node = await createNodeEngine(process.cwd(), new MemoryRasterStore());
  const bytes = file(FRAMES[0], 0);
  const frame = await node.ask("importFrame", { fileName: "a.tif", bytes });
  node.sources.set(frame.sourceId, async () => bytes);
  const [only] = framesOf(addFrames([frame])(startJob("Job", "2026-01-01T00:00:00Z", "set-a").records));
  for (const place of [
    { x: 0, y: 0, width: W, height: H },
    { x: W - 30, y: H - 10, width: 30, height: 10 },
    { x: 0, y: 100, width: 3, height: 3 },
  ]) {
    const { frames } = await node.ask("rankFrames", { frames: [only], pointed: only, place });
    expect(frames[0].found).toMatchObject({ x: place.x, y: place.y });
    expect(Number.isFinite(frames[0].lightEv + frames[0].sharpness + frames[0].ripple)).toBe(true);
  }
  const stopped = { step: () => Promise.reject(new CancelledError()) };
  await expect(node.ask("rankFrames", { frames: [only], pointed: only, place: PLACE }, stopped)).rejects.toBeInstanceOf(CancelledError);
});
