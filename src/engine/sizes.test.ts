/** Pictures of every size, from one pixel on: each is gathered, registered with its twin, merged, shown at every level and delivered, or refused with its size. */
import { written } from "../messages/message";
import { createNodeEngine, type NodeEngine } from "../cli/createNodeEngine";
import { addFrames, setRegistration, startJob, takeStep } from "../document/edits";
import { freshMerge, setMerge } from "../document/mergeEdits";
import { activeFramesOf } from "../document/selectors";
import { concatBytes } from "../formats/bytes";
import { LIMITS } from "../formats/formatError";
import { readTiff } from "../formats/tiff/readTiff";
import { TiffWriter } from "../formats/tiff/TiffWriter";
import { byDay } from "../../tests/support/night";
import { randomOf } from "../../tests/support/kernels";
import { MemoryRasterStore } from "./tiles/MemoryRasterStore";

let node: NodeEngine;
beforeAll(async () => {
  node = await createNodeEngine(process.cwd(), new MemoryRasterStore());
});

/** Around the sizes of tiles, levels and strips, and shapes far from square. */
const SIZES: [number, number][] = [
  ...[1, 2, 7, 15].map((n): [number, number] => [n, n]),
  ...Array.from({ length: 36 }, (_, i): [number, number] => [Math.round(16 * (1200 / 16) ** (i / 35)), Math.round(16 * (800 / 16) ** (i / 35))]),
  ...[255, 256, 257, 511, 512, 513].map((n): [number, number] => [n, n - 1]),
  ...[16, 17, 31, 33, 64, 100].flatMap((n): [number, number][] => [
    [n, 700],
    [900, n],
  ]),
  [420, 315],
  [513, 385],
];

/** A made-up texture; the second frame is half as bright. */
function file(width: number, height: number, gain: number): Uint8Array {
  const random = randomOf(width * 1000 + height);
  const writer = new TiffWriter({ width, height, bits: 16, metadata: [], profile: null });
  const samples = new Uint16Array(width * height * 3);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const light = gain * (0.3 + 0.2 * Math.sin(x / 5) * Math.cos(y / 6) + 0.25 * random());
      samples.fill(65535 * light ** (1 / 2.2), (y * width + x) * 3, (y * width + x) * 3 + 3);
    }
  }
  writer.writeRows(samples);
  return concatBytes(writer.finish());
}

it("there are sixty", () => expect(SIZES).toHaveLength(60));

it.each(byDay(SIZES, 12))("%i×%i", async (width, height) => {
  const files = [file(width, height, 1), file(width, height, 0.5)];
  const gathering = files.map((bytes, i) => node.ask("importFrame", { fileName: `${i}.tif`, bytes }));
  if (Math.min(width, height) < LIMITS.smallestSide) {
    // all at once: one that is refused while another is waited for would be nobody's
    const refused = await Promise.allSettled(gathering);
    expect(refused.map((r) => r.status === "rejected" && String(r.reason))).toEqual(files.map(() => expect.stringContaining("file.pictureTooSmall")));
    return;
  }
  const frames = await Promise.all(gathering);
  frames.forEach((frame, i) => node.sources.set(frame.sourceId, async () => files[i]));
  let state = startJob("Sizes", "2026-01-01T00:00:00Z", "set-1");
  state = takeStep(state.history, state.records, addFrames(frames), { stage: "gather", label: "step.compared" }, "t");
  const active = activeFramesOf(state.records);
  const request = { referenceId: active[0].id, referenceReason: written(""), model: "auto" as const };
  const { registration, measuredEv } = await node.ask("register", { records: state.records, frames: active, request });
  expect(registration.placements).toHaveLength(2);
  for (const method of ["fusion", "radiance"] as const) {
    const records = setMerge(freshMerge(method))(setRegistration(registration, measuredEv)(state.records));
    await node.ask("merge", { records, method });
    for (const view of [{ kind: "source", frameId: active[1].id }, { kind: "output" }] as const) {
      for (const level of [0, 1, 3]) {
        const rect = { x: 0, y: 0, width: Math.ceil(width / 2 ** level), height: Math.ceil(height / 2 ** level) };
        const seen = await node.ask("renderView", { records, view, level, rect, space: "srgb", held: null });
        expect(seen.pieces.length).toBeGreaterThan(0);
      }
    }
    const settings = { format: "tiff16" as const, quality: 95, space: "srgb" as const, content: "finished" as const, crop: false };
    const { parts } = await node.ask("exportPicture", { records, settings });
    const { raster } = readTiff(concatBytes(parts));
    expect([raster.width, raster.height]).toEqual([width, height]);
    expect(raster.data.some((v) => v > 1000)).toBe(true);
  }
});
