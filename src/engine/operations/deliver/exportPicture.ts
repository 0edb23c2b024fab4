import type { MergeMethod } from "../../../kinds/merges/records";
import { SPACES, type ExportSpace } from "../../../core/color/outputSpaces";
import { REC2020, REC709, rgbToRgb } from "../../../core/color/primaries";
import type { Records } from "../../../document/records/types";
import { stripRows } from "../layers/layerReach";
import { outputGeometry } from "../../../document/outputGeometry";
import { framesOf, registrationOf } from "../../../document/selectors";
import { exifSegment, survivingExif } from "../../../formats/exif/writeExif";
import { NO_EXIF } from "../../../formats/exif/exif";
import { HdrWriter } from "../../../formats/hdr/HdrWriter";
import { writeProfile } from "../../../formats/icc/writeProfile";
import { spliceJpeg } from "../../../formats/jpeg/segments";
import { PngWriter } from "../../../formats/png/PngWriter";
import { TiffWriter } from "../../../formats/tiff/TiffWriter";
import type { EngineContext } from "../../EngineContext";
import { composeRect, prepareJob } from "../layers/compose";
import { openTarget, printedPlanes } from "../print/printing";
import { readyCutouts } from "../matte/cutouts";
import { each, type Planes } from "../frames/frameSamples";
import { composeOutput } from "../finish/composeOutput";
import type { Task } from "../../task";
import { portion } from "../../task";
import type { Scope } from "../../../kernels/Kernels";
import type { PreparedJob } from "../layers/PreparedJob";

export interface ExportSettings {
  format: "tiff16" | "png16" | "jpeg" | "hdr" | "tiff32";
  /** JPEG only, 1 to 100 */
  quality: number;
  space: ExportSpace;
  /** what is written: the finished picture, that as its target prints it, or the merge as it is (linear) */
  content: "finished" | "printed" | "merge";
  /** the crop in force, or the whole reference frame */
  crop: boolean;
}

export interface ExportResult {
  parts: Uint8Array[];
  width: number;
  height: number;
  bytes: number;
  /** samples outside the output space or range, clipped; share 0..1 of all samples */
  clippedShare: number;
  /** samples below zero, which Radiance HDR cannot hold, written as 0; 0 for other formats */
  negatives: number;
}

/** Streams the picture strip by strip into a file; the same samples in every host. */
export async function exportPicture(ctx: EngineContext, records: Records, settings: ExportSettings, task: Task, method?: MergeMethod): Promise<ExportResult> {
  const job = await prepareJob(ctx, records, portion(task, 0, 0.5), method);
  await readyCutouts(job, 0, portion(task, 0.5, 0.6));
  const target = settings.content === "printed" ? await openTarget(ctx, records) : null;
  const whole = { x: 0, y: 0, width: job.inputs.width, height: job.inputs.height };
  const { width, height } = settings.crop ? outputGeometry(records).crop : whole;
  const linear = settings.format === "hdr" || settings.format === "tiff32";
  const { name, primaries } = linear ? { name: "Rec. 709, linear", primaries: REC709 } : SPACES[settings.space];
  const matrix = rgbToRgb(REC2020, primaries);
  const profile = writeProfile(name, primaries, linear ? "linear" : "srgb");
  const metadata = survivingExif(framesOf(records).find((f) => f.id === registrationOf(records)?.referenceId) ? exifOf(records) : NO_EXIF);
  const sink = createSink(ctx, settings, width, height, metadata, profile);
  let clipped = 0;
  const strip = stripRows(records, 0);
  for (let y = 0; y < height; y += strip) {
    await task.step(0.6 + (0.4 * y) / height, 1, "task.writing");
    const rows = Math.min(strip, height - y);
    ctx.kernels.withScope((scope) => {
      const rect = { x: 0, y, width, height: rows };
      const planes = target ? printedPlanes(ctx, job, target, 0, rect, scope) : stripOf(ctx, job, settings, rect, scope);
      ctx.kernels.run("applyMatrix", [...each(planes), scope.matrix(matrix)], 0, planes.length, 65536);
      clipped += countOutside(ctx, planes, width * rows);
      sink.write(planes, width * rows);
    });
    await sink.settle?.(ctx.pool.size * 4);
  }
  await sink.settle?.(0);
  if (settings.format === "jpeg") await ctx.codecs.jpeg.prepareEncoder();
  const parts = sink.finish();
  return {
    parts,
    width,
    height,
    bytes: parts.reduce((sum, p) => sum + p.length, 0),
    clippedShare: clipped / (width * height * 3),
    negatives: sink.negatives?.() ?? 0,
  };
}

function stripOf(
  ctx: EngineContext,
  job: PreparedJob,
  settings: ExportSettings,
  rect: { x: number; y: number; width: number; height: number },
  scope: Scope,
): Planes {
  const upTo = settings.content === "merge" ? "merge" : "finish";
  return settings.crop ? composeOutput(ctx, job, 0, rect, upTo, scope) : composeRect(ctx, job, 0, rect, upTo, scope);
}

function exifOf(records: Records) {
  const frame = framesOf(records).find((f) => f.id === registrationOf(records)?.referenceId)!;
  return { ...NO_EXIF, ...frame, orientation: 1 };
}

function countOutside(ctx: EngineContext, planes: Planes, n: number): number {
  let count = 0;
  for (const at of each(planes)) {
    const samples = ctx.kernels.f32(at, n);
    for (let i = 0; i < n; i++) if (samples[i] < -1e-5 || samples[i] > 1 + 1e-5) count++;
  }
  return count;
}

interface Sink {
  write(planes: Planes, n: number): void;
  /** waits until at most so much is still being packed */
  settle?(most: number): Promise<unknown>;
  finish(): Uint8Array[];
  negatives?(): number;
}

function createSink(
  ctx: EngineContext,
  settings: ExportSettings,
  width: number,
  height: number,
  metadata: ReturnType<typeof survivingExif>,
  profile: Uint8Array,
): Sink {
  const { kernels, pool } = ctx;
  const packZlib = (bytes: Uint8Array) => pool.run("zlib", { bytes });
  const packBlock = (bytes: Uint8Array, last: boolean) => pool.run("deflate", { bytes, last });
  if (settings.format === "hdr" || settings.format === "tiff32") {
    const writer = settings.format === "hdr" ? new HdrWriter(width, height) : new TiffWriter({ width, height, bits: 32, metadata, profile, pack: packZlib });
    return {
      write: (planes, n) =>
        writer.writeRows(
          interleave(
            each(planes).map((at) => kernels.f32(at, n)),
            new Float32Array(n * 3),
          ),
        ),
      settle: async (most) => writer instanceof TiffWriter && writer.settle(most),
      finish: () => writer.finish(),
      negatives: () => (writer instanceof HdrWriter ? writer.negatives : 0),
    };
  }
  const encode = (planes: Planes, top: number) => {
    for (const at of each(planes)) kernels.run("encodeSamples", [at, at, top], 0, planes.length, 16384);
  };
  if (settings.format === "tiff16" || settings.format === "png16") {
    const writer =
      settings.format === "tiff16"
        ? new TiffWriter({ width, height, bits: 16, metadata, profile, pack: packZlib })
        : new PngWriter({ width, height, metadata, profile, pack: packBlock });
    return {
      write: (planes, n) => {
        encode(planes, 65535);
        writer.writeRows(
          interleave(
            each(planes).map((at) => kernels.f32(at, n)),
            new Uint16Array(n * 3),
          ),
        );
      },
      settle: (most) => writer.settle(most),
      finish: () => writer.finish(),
    };
  }
  const pixels = new Uint8Array(width * height * 3);
  let at = 0;
  return {
    write: (planes, n) => {
      encode(planes, 255);
      interleave(
        each(planes).map((p) => kernels.f32(p, n)),
        pixels.subarray(at, at + n * 3),
      );
      at += n * 3;
    },
    finish: () => [spliceJpeg(ctx.codecs.jpeg.encode(pixels, width, height, settings.quality), exifSegment(metadata), profile)],
  };
}

function interleave<T extends Float32Array | Uint16Array | Uint8Array>(planes: Float32Array[], out: T): T {
  const [r, g, b] = planes;
  for (let i = 0, p = 0; i < r.length; i++, p += 3) {
    out[p] = r[i];
    out[p + 1] = g[i];
    out[p + 2] = b[i];
  }
  return out;
}
