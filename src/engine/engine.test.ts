/** The engine as a whole on small pictures: what is seen is what is delivered, whatever the order, the store or the cut. */
import { wholeFrame } from "../kinds/contents/frame/record";
import { sentence } from "../messages/sentence";
import { message, written } from "../messages/message";
import { byDay } from "../../tests/support/night";
import { newStroke } from "../../tests/support/records";
import { decode } from "fast-png";
import type { MergeMethod } from "../kinds/merges/records";
import { createNodeEngine, type NodeEngine } from "../cli/createNodeEngine";
import { addPin, setGeometry } from "../document/edits";
import { setFinish } from "../document/finishEdits";
import { addLayer, paintedMask } from "../document/layerEdits";
import type { Records } from "../document/records/types";
import { framesOf, layersOf } from "../document/selectors";
import { prepareSmallJob as prepare, SMALL_JOB } from "../../tests/support/smallJob";
import { readTiff } from "../formats/tiff/readTiff";
import { concatBytes } from "../formats/bytes";
import { FRAME_COLORS } from "../core/color/frameColors";
import { CancelledError, SILENT } from "./task";
import { MemoryRasterStore } from "./tiles/MemoryRasterStore";
import { atCoarse, asFinerLevels } from "./operations/merge/coarseMerge";
import { prepareJob } from "./operations/layers/compose";
import { noiseOfRectangle, radianceRange } from "./operations/merge/confidence";
import { mergeFusion } from "./operations/merge/mergeFusion";
import { mergeRadiance } from "./operations/merge/mergeRadiance";
import { mergeRepeats } from "./operations/merge/mergeRepeats";

/** A job with a painted layer and every adjustment set. */
function worked(records: Records): Records {
  const frame = framesOf(records)[2];
  let r = addLayer({
    name: "L",
    content: wholeFrame(frame.id, { exposureEv: -1 }),
    opacity: 0.8,
    mask: paintedMask(0, "p"),
  })(records);
  const layer = layersOf(r)[0];
  const stroke = newStroke({ id: "s1", layerId: layer.id, diameterPx: 90, softness: 0.6, flow: 0.5, opacity: 0.9, points: [100, 100, 1, 260, 180, 0.7] });
  r = { ...r, s1: stroke, s2: { ...stroke, id: "s2", index: 1, reveal: false, points: [200, 150, 1, 220, 250, 1] } };
  for (const [type, values] of [
    ["exposure", { ev: 0.4 }],
    ["whiteBalance", { mired: 12, duv: 0.002 }],
    ["contrast", { factor: 1.2, pivot: 0.2 }],
    ["chroma", { factor: 1.1 }],
    ["toneResponse", { headroomEv: 2 }],
  ] as const) {
    r = setFinish(type, values)(r);
  }
  return r;
}

const exported = async (node: NodeEngine, records: Records, method?: MergeMethod) => {
  const result = await node.ask("exportPicture", {
    records,
    settings: { format: "tiff16", quality: 95, space: "srgb", content: "finished", crop: true },
    method,
  });
  return readTiff(concatBytes(result.parts)).raster;
};

const [W, H] = SMALL_JOB;
let node: NodeEngine;
let records: Records;
beforeAll(async () => {
  node = await createNodeEngine(process.cwd(), new MemoryRasterStore());
  records = await prepare(node);
});

it("a small picture is shown at any scale: the coarsest level it has stands for all that are coarser", async () => {
  const frameId = framesOf(records)[0].id;
  for (const view of [{ kind: "source", frameId }, { kind: "merge", method: null }, { kind: "compose" }, { kind: "output" }] as const) {
    for (const level of [0, 1, 2, 3, 5]) {
      const rect = { x: 0, y: 0, width: Math.ceil(W / 2 ** level), height: Math.ceil(H / 2 ** level) };
      const seen = await node.ask("renderView", { records, view, level, rect, space: "srgb", held: null });
      expect(seen.level).toBe(Math.min(1, level));
      expect(seen.rect).toEqual({
        x: 0,
        y: 0,
        width: Math.ceil((view.kind === "output" ? seen.rect.width * 2 ** seen.level : W) / 2 ** seen.level),
        height: seen.rect.height,
      });
      expect(seen.pieces.length).toBeGreaterThan(0);
    }
  }
});

it.each([
  [0, 0],
  [3.5, 0],
  [-1.5, 12],
])("the screen at 1:1 shows what is delivered, turned by %s°, its camera by %s°", async (angleDeg, pitchDeg) => {
  const tilt = { pitchDeg, yawDeg: -pitchDeg / 3, focalPx: 500 };
  const job = setGeometry({ angleDeg, tilt, ratio: null, crop: { x: 40, y: 30, width: 301, height: 207 } })(worked(records));
  const delivered = await exported(node, job);
  expect([delivered.width, delivered.height]).toEqual([301, 207]);
  const seen = await node.ask("renderRect", { records: job, view: { kind: "output" }, level: 0, rect: { x: 0, y: 0, width: 301, height: 207 }, space: "srgb" });
  let worst = 0;
  for (let i = 0; i < 301 * 207; i++) for (let c = 0; c < 3; c++) worst = Math.max(worst, Math.abs(seen.rgba[i * 4 + c] - delivered.data[i * 3 + c] / 257));
  // the dither of the screen may move a value by one code
  expect(worst).toBeLessThanOrEqual(1.01);
});

it("a frame that states another size than its picture has is refused in a sentence, wherever it is used", async () => {
  const [first] = framesOf(records);
  const wrong: Records = { ...records, [first.id]: { ...first, width: W - 40 } };
  const told = { name: "FormatError", told: message("file.sizeDiffers", { stated: `${W - 40}×${H}`, found: `${W}×${H}` }) };
  const settings = { format: "tiff16" as const, quality: 95, space: "srgb" as const, content: "finished" as const, crop: true };
  await expect(node.ask("exportPicture", { records: wrong, settings })).rejects.toMatchObject(told);
  const frames = framesOf(wrong);
  const request = { referenceId: frames[1].id, referenceReason: written(""), model: "auto" as const };
  await expect(node.ask("register", { records: wrong, frames, request })).rejects.toMatchObject(told);
});

it("a rectangle is the same whether asked for alone or with all around it", async () => {
  const job = worked(records);
  for (const level of [0, 1]) {
    const whole = await node.ask("renderRect", { records: job, view: { kind: "compose" }, level, rect: { x: 0, y: 0, width: W, height: H }, space: "srgb" });
    const part = await node.ask("renderRect", { records: job, view: { kind: "compose" }, level, rect: { x: 37, y: 51, width: 66, height: 49 }, space: "srgb" });
    for (let y = 0; y < 49; y++) {
      const from = ((y + 51) * whole.rect.width + 37) * 4;
      expect([...part.rgba.subarray(y * 66 * 4, (y + 1) * 66 * 4)]).toEqual([...whole.rgba.subarray(from, from + 66 * 4)]);
    }
  }
});

it("the same samples from another store, made in another order", async () => {
  const job = worked(records);
  const first = await exported(node, job);
  const other = await createNodeEngine(process.cwd());
  for (const f of framesOf(records)) other.sources.set(f.sourceId, () => node.ctx.loadSource(f.sourceId));
  await other.ask("merge", { records, method: "fusion" });
  const second = await exported(other, job);
  expect(Buffer.compare(Buffer.from(first.data.buffer), Buffer.from(second.data.buffer))).toBe(0);
});

it("a finished 16-bit frame in place comes through untouched: one frame, nothing done", async () => {
  const frame = framesOf(records)[1];
  const alone = { ...records };
  for (const f of framesOf(records)) if (f.id !== frame.id) alone[f.id] = { ...f, excluded: true };
  const job = setGeometry({ angleDeg: 0, ratio: null, crop: { x: 0, y: 0, width: W, height: H } })(alone);
  const out = await exported(node, job, "fusion");
  const source = readTiff(await node.ctx.loadSource(frame.sourceId)).raster;
  let worst = 0;
  for (let i = 0; i < source.data.length; i++) worst = Math.max(worst, Math.abs(source.data[i] - out.data[i]));
  // 16-bit codes through float32 pyramids, a curve and two matrices
  expect(worst).toBeLessThanOrEqual(8);
});

it("measures what a step does, and nothing where nothing is done", async () => {
  const brighter = setFinish("exposure", { ev: 1 })(records);
  const effect = (await node.ask("measureEffect", { before: records, after: brighter }))!;
  expect(effect.share).toBeGreaterThan(0.95);
  expect(effect.meanDeltaE).toBeGreaterThan(3);
  expect(await node.ask("measureEffect", { before: records, after: { ...records } })).toEqual({ share: 0, meanDeltaE: 0 });
});

it("proof finds what is wrong and its remedies mend it", async () => {
  const bad = addPin({ purpose: "neutral", x: 60, y: 200, radius: 4, target: null })(
    setGeometry({ angleDeg: 0, ratio: null, crop: { x: 0, y: 0, width: W, height: H } })(worked(records)),
  );
  const idle = setFinish("chroma", { factor: 1 })(bad);
  const kinds = (await node.ask("proof", { records: idle })).map((f) => f.kind);
  expect(kinds).toEqual(expect.arrayContaining(["emptyBorder", "cast", "noEffect"]));
  const cast = (await node.ask("proof", { records: idle })).find((f) => f.kind === "cast")!;
  expect(cast.remedy).toMatchObject({ kind: "setFinish", step: "whiteBalance" });
  const mended = setFinish(
    "whiteBalance",
    (cast.remedy as { values: Record<string, number> }).values,
  )(setGeometry({ angleDeg: 0, ratio: null, crop: { x: 6, y: 4, width: 400, height: 288 } })(idle));
  const left = (await node.ask("proof", { records: mended })).map((f) => f.kind);
  expect(left).not.toContain("cast");
  expect(left).not.toContain("emptyBorder");
});

it("proposes the frame that holds a region, with its reason", async () => {
  const bright = await node.ask("proposeFrame", { records, region: { x: 280, y: 60, width: 40, height: 40 } });
  const dark = await node.ask("proposeFrame", { records, region: { x: 20, y: 220, width: 60, height: 60 } });
  expect(bright!.best.number).toBe(1);
  // up to 0.32 of white here: four times as much, as frame 3 has it, would clip
  expect(dark!.best.number).toBe(2);
  expect(sentence(dark!.reason)).toMatch(/0\.0 % clipped/);
});

it("an exposure pin proposes the exposure that reaches its lightness, and none is proposed without a pin", async () => {
  expect((await node.ask("proposeFinish", { records })).exposure).toBeNull();
  const pinned = addPin({ purpose: "exposure", x: 60, y: 200, radius: 4, target: 55 })(records);
  const { exposure } = await node.ask("proposeFinish", { records: pinned });
  const there = await node.ask("readOut", { records: setFinish("exposure", { ev: exposure!.ev })(pinned), x: 60, y: 200, radius: 4 });
  expect(Math.abs(there.lab[0] - 55)).toBeLessThan(0.3);
});

it("a task that is stopped leaves nothing half done", async () => {
  const other = await createNodeEngine(process.cwd(), new MemoryRasterStore());
  for (const f of framesOf(records)) other.sources.set(f.sourceId, () => node.ctx.loadSource(f.sourceId));
  let steps = 0;
  const stopping = {
    step: async () => {
      if (++steps > 4) throw new CancelledError();
    },
  };
  const before = other.ctx.kernels.arena.inUse;
  await expect(other.ask("merge", { records, method: "fusion" }, stopping)).rejects.toThrow(CancelledError);
  expect(other.ctx.kernels.arena.inUse).toBe(before);
  const facts = await other.ask("merge", { records, method: "fusion" });
  expect(Object.values(facts.shares).reduce((a, b) => a + b, 0)).toBeCloseTo(1, 9);
});

it.each(byDay(["radiance", "fusion", "clippedMean", "base"] as MergeMethod[], 2))("a %s stopped anywhere is made whole the next time", async (method) => {
  const other = await createNodeEngine(process.cwd(), new MemoryRasterStore());
  for (const f of framesOf(records)) other.sources.set(f.sourceId, () => node.ctx.loadSource(f.sourceId));
  const whole = { x: 0, y: 0, width: W, height: H };
  const view = { kind: "merge" as const, method };
  const draw = (n: NodeEngine) => n.ask("renderRect", { records, view, level: 0, rect: whole, space: "srgb" });
  for (let last = 1; last < 40; last += 3) {
    let steps = 0;
    const stopping = {
      step: async () => {
        if (++steps > last) throw new CancelledError();
      },
    };
    await other.ask("merge", { records, method }, stopping).catch((error: unknown) => expect(error).toBeInstanceOf(CancelledError));
  }
  // said in one word: a difference of half a million numbers would take minutes to be told
  expect(Buffer.from((await draw(other)).rgba).equals(Buffer.from((await draw(node)).rgba))).toBe(true);
});

// the contrast that weighs a fusion depends on the scale
it.each([
  ["radiance", 0.02],
  ["clippedMean", 0.02],
  ["fusion", 0.1],
] as const)("a first look at a %s is close to the exact merge, and says which levels it has", async (method, limit) => {
  const exact = await prepareJob(node.ctx, records, SILENT, method);
  const coarse = atCoarse(exact.inputs, 1);
  const merged = await {
    radiance: () => mergeRadiance(node.ctx, coarse, false, SILENT),
    fusion: () => mergeFusion(node.ctx, coarse, { contrast: 1, saturation: 1, exposedness: 0.25 }, SILENT),
    clippedMean: () => mergeRepeats(node.ctx, coarse, "clippedMean", SILENT),
  }[method]();
  const picture = asFinerLevels(merged.picture, 1, exact.inputs);
  expect(picture.spec).toMatchObject({ width: W, height: H });
  const [w, h] = [W / 2, H / 2];
  const [a, b] = [new Float32Array(w * h), new Float32Array(w * h)];
  exact.merge.picture.read(1, 1, 0, 0, w, h, a);
  picture.read(1, 1, 0, 0, w, h, b);
  const off = a.map((v, i) => Math.abs(Math.log2((b[i] + 1e-3) / (v + 1e-3)))).sort();
  // merging means and taking means of a merge are not the same, but nearly
  expect(off[off.length >> 1]).toBeLessThan(limit);
  expect(off[Math.floor(off.length * 0.95)]).toBeLessThan(0.25);
  expect(() => picture.read(0, 1, 0, 0, W, H, new Float32Array(W * H))).toThrow("finer than this merge");
  expect(() => picture.write(1, 1, 0, b)).toThrow("cannot be written");
});

it("the range of a radiance merge and its confidence follow from exposures, noise and light", async () => {
  const job = await prepareJob(node.ctx, records, SILENT, "radiance");
  const { headroomEv, floorEv } = radianceRange(job);
  // the brightest light of the scene is 2.2 + 0.32, seen unclipped two stops down
  expect(headroomEv).toBeGreaterThan(0.9);
  expect(headroomEv).toBeLessThan(1.4);
  expect(floorEv).toBeLessThan(-8);
  const rect = { x: 20, y: 40, width: 200, height: 100 };
  const noise = noiseOfRectangle(job, 0, rect);
  const light = new Float32Array(rect.width * rect.height);
  job.merge.picture.read(0, 1, rect.x, rect.y, rect.width, rect.height, light);
  const exposures = [0.25, 1, 4];
  const { shot, readSquared } = job.inputs.noise;
  let compared = 0;
  light.forEach((v, i) => {
    // the largest channel clips first; near clipping a frame counts in part, which the model here does not know
    if (exposures.some((t) => v * t > 0.5 && v * t < 1.3)) return;
    const weight = exposures.reduce((sum, t) => sum + (v * t <= 0.5 ? (t * t) / (shot * v * t + readSquared) : 0), 0);
    const expected = 1 / (v * Math.sqrt(weight));
    compared++;
    expect(noise[i] / expected).toBeGreaterThan(0.85);
    expect(noise[i] / expected).toBeLessThan(1.15);
  });
  expect(compared).toBeGreaterThan(2000);
});

it("maps of a merge are files of its size: the frame that gives most by its colour, light against noise by 32 codes a doubling", async () => {
  const read = async (kind: "provenance" | "confidence") => decode(await node.ask("exportMap", { records, kind, cropped: false, method: "radiance" }));
  const [who, how] = [await read("provenance"), await read("confidence")];
  expect([who.width, who.height, who.channels, how.width, how.height, how.channels]).toEqual([W, H, 3, W, H, 1]);
  const job = await prepareJob(node.ctx, records, SILENT, "radiance");
  const index = new Uint8Array(W * H);
  job.merge.dominant.read(0, 0, 0, 0, W, H, index);
  const noise = noiseOfRectangle(job, 0, { x: 0, y: 0, width: W, height: H });
  for (let i = 0; i < W * H; i += 997) {
    expect([...who.data.subarray(i * 3, i * 3 + 3)]).toEqual([...FRAME_COLORS[index[i]]]);
    expect(Math.abs(how.data[i] - Math.max(0, Math.min(255, (255 / 8) * Math.log2(1 / noise[i]))))).toBeLessThanOrEqual(0.51);
  }
});

it("a first look can be drawn at any level asked for", async () => {
  const view = { kind: "coarse" as const, method: "fusion" as const };
  const seen = await node.ask("renderRect", { records, view, level: 1, rect: { x: 10, y: 10, width: 60, height: 40 }, space: "srgb" });
  expect(seen).toMatchObject({ level: 1, rect: { x: 10, y: 10, width: 60, height: 40 } });
  expect(Math.max(...seen.rgba.filter((_, i) => i % 4 < 3))).toBeGreaterThan(100);
});

it("two requests for the same raster make it once; one that was stopped is made again", async () => {
  let made = 0;
  const make = async () => {
    made++;
    await new Promise((r) => setTimeout(r, 5));
    return made;
  };
  expect(await Promise.all([node.ctx.cache.makeOnce("k", make), node.ctx.cache.makeOnce("k", make)])).toEqual([1, 1]);
  const stopped = node.ctx.cache.makeOnce("k", async () => {
    await new Promise((r) => setTimeout(r, 5));
    throw new CancelledError();
  });
  const waiting = node.ctx.cache.makeOnce("k", make);
  await expect(stopped).rejects.toThrow(CancelledError);
  expect(await waiting).toBe(2);
});

it("an unregistered job says what to do", async () => {
  await expect(node.ask("merge", { records: {}, method: "radiance" })).rejects.toThrow("registering.none");
});
