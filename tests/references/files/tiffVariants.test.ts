/**
 * TIFF as others write it: one picture written by python3-tifffile and turned by libtiff's tiffcp into every layout Marsh says it
 * reads; and our own files read by tifffile, PIL, OpenCV and exiftool.
 */
import { execFileSync } from "node:child_process";
import { readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { REC709 } from "../../../src/core/color/primaries";
import { concatBytes } from "../../../src/formats/bytes";
import { NO_EXIF } from "../../../src/formats/exif/exif";
import { exifSegment, survivingExif } from "../../../src/formats/exif/writeExif";
import { HdrWriter } from "../../../src/formats/hdr/HdrWriter";
import { writeProfile } from "../../../src/formats/icc/writeProfile";
import { spliceJpeg } from "../../../src/formats/jpeg/segments";
import { readPicture } from "../../../src/formats/readPicture";
import { TiffWriter } from "../../../src/formats/tiff/TiffWriter";
import type { Codecs } from "../../../src/formats/codecs";
import { loadCodecs, randomOf } from "../../support/kernels";
import { runPython, temporaryFolder } from "../../support/python";

const folder = temporaryFolder();
let codecs: Codecs;
beforeAll(async () => {
  codecs = await loadCodecs();
});

const WRITE = `
import json, sys, numpy as np, tifffile
bits, grey, out = int(sys.argv[1]), sys.argv[2] == 'grey', sys.argv[3]
y, x = np.mgrid[0:77, 0:93]
planes = [(x * 501 + y * 77) % 65536, (x * x * 9 + y * 13) % 65536, (y * 803 + 5 * x) % 65536]
a = planes[0] if grey else np.stack(planes, -1)
a = a.astype(np.uint16) if bits == 16 else (a >> 8).astype(np.uint8)
tifffile.imwrite(out, a, photometric='minisblack' if grey else 'rgb')
print(json.dumps((np.repeat(a[..., None], 3, -1) if grey else a).ravel().tolist()))
`;

const PART = `
import json, sys, numpy as np, tifffile
a = tifffile.imread(sys.argv[1])
if a.ndim == 3: tifffile.imwrite(sys.argv[2], np.moveaxis(a, -1, 0), photometric='rgb', planarconfig='separate')
else: tifffile.imwrite(sys.argv[2], a, photometric='minisblack')
print(json.dumps(1))
`;

const LAYOUTS: [string, string[]][] = [
  ["uncompressed", ["-c", "none"]],
  ["LZW", ["-c", "lzw"]],
  ["LZW with predictor", ["-c", "lzw:2"]],
  ["Deflate with predictor", ["-c", "zip:2"]],
  ["PackBits", ["-c", "packbits"]],
  ["tiles", ["-t", "-w", "32", "-l", "16", "-c", "zip:2"]],
  ["planes apart", []],
  ["big-endian", ["-B", "-c", "none"]],
  ["big-endian, tiles, predictor", ["-B", "-t", "-w", "48", "-l", "32", "-c", "lzw:2"]],
  ["odd strips", ["-r", "7", "-c", "zip"]],
];

describe.each([
  [16, "colour"],
  [8, "colour"],
  [16, "grey"],
])("%s bit, %s", (bits, kind) => {
  const source = join(folder, `${bits}-${kind}.tif`);
  let wanted: number[];
  beforeAll(() => {
    wanted = runPython<number[]>(WRITE, [String(bits), kind, source]);
  });
  it.each(LAYOUTS)("%s", async (name, options) => {
    const turned = join(folder, `${bits}-${kind}-${name.replace(/\W/g, "")}.tif`);
    // tiffcp does not part the planes of 16-bit files
    if (name === "planes apart") runPython(PART, [source, turned]);
    else execFileSync("tiffcp", [...options, source, turned], { stdio: "ignore" });
    const { raster } = await readPicture(new Uint8Array(readFileSync(turned)), codecs);
    expect(raster).toMatchObject({ width: 93, height: 77, bits });
    expect(Buffer.compare(Buffer.from(Uint16Array.from(raster.data).buffer), Buffer.from(Uint16Array.from(wanted).buffer))).toBe(0);
  });
});

it("PNG, 8 and 16 bit, written by OpenCV", async () => {
  const wanted = runPython<{ a: number[]; b: number[] }>(
    `import cv2, json, sys, numpy as np
r = np.random.default_rng(3)
a = r.integers(0, 65536, (41, 53, 3)).astype(np.uint16); b = (a >> 8).astype(np.uint8)
cv2.imwrite(sys.argv[1] + '/a.png', a[..., ::-1]); cv2.imwrite(sys.argv[1] + '/b.png', b[..., ::-1])
print(json.dumps({'a': a.ravel().tolist(), 'b': b.ravel().tolist()}))`,
    [folder],
  );
  for (const [name, bits] of [
    ["a", 16],
    ["b", 8],
  ] as const) {
    const { raster } = await readPicture(new Uint8Array(readFileSync(join(folder, `${name}.png`))), codecs);
    expect(raster).toMatchObject({ width: 53, height: 41, bits });
    expect([...raster.data]).toEqual(wanted[name]);
  }
});

it("CMYK files of PIL are refused with a sentence", async () => {
  runPython(
    `from PIL import Image; import json, sys
i = Image.new('RGB', (40, 40), (90, 120, 30)); i.convert('CMYK').save(sys.argv[1] + '/c.jpg'); i.convert('CMYK').save(sys.argv[1] + '/c.tif')
print(json.dumps(1))`,
    [folder],
  );
  const read = (name: string) => readPicture(new Uint8Array(readFileSync(join(folder, name))), codecs);
  await expect(read("c.jpg")).rejects.toThrow("jpeg.notRgb");
  await expect(read("c.tif")).rejects.toThrow("tiff.cmyk");
});

it("noise at the highest quality, which the coder cannot hold, is refused, and the next picture is written all the same", async () => {
  const random = randomOf(8);
  const noise = Uint8Array.from({ length: 64 * 48 * 3 }, () => Math.floor(random() * 256));
  expect(() => codecs.jpeg.encode(noise, 64, 48, 100)).toThrow("jpeg.largerThanPicture");
  await codecs.jpeg.prepareEncoder();
  expect(codecs.jpeg.encode(noise, 64, 48, 90).length).toBeGreaterThan(3000);
});

it("our files are what other readers say they are", () => {
  const random = randomOf(4);
  const [width, height] = [61, 45];
  const metadata = survivingExif({
    ...NO_EXIF,
    make: "Sedge",
    model: "Sedge One",
    aperture: 8,
    focalLengthMm: 24,
    takenAt: "2026:09:18 19:02:12.51",
    copyright: "Wrenfold Marsh reserve",
  });
  const profile = writeProfile("sRGB", REC709, "srgb");
  const samples = Uint16Array.from({ length: width * height * 3 }, () => Math.floor(random() * 65536));
  const floats = Float32Array.from(samples, (v) => v / 4096);
  const write = (name: string, parts: Uint8Array[]) => writeFileSync(join(folder, name), concatBytes(parts));
  for (const [name, bits, data] of [
    ["our16.tif", 16, samples],
    ["our32.tif", 32, floats],
  ] as const) {
    const tiff = new TiffWriter({ width, height, bits, metadata, profile });
    tiff.writeRows(data);
    write(name, tiff.finish());
  }
  const hdr = new HdrWriter(width, height);
  hdr.writeRows(floats);
  write("our.hdr", hdr.finish());
  const pixels = Uint8Array.from(samples, (v) => v >> 8);
  write("our.jpg", [spliceJpeg(codecs.jpeg.encode(pixels, width, height, 92), exifSegment(metadata), profile)]);
  const seen = runPython<{ t16: number[]; t32: number; hdr: number; jpeg: number; exif: Record<string, string>; icc: string }>(
    `import cv2, io, json, subprocess, sys, numpy as np, tifffile
from PIL import Image, ImageCms
f = sys.argv[1]
t = tifffile.imread(f + '/our16.tif'); fl = tifffile.imread(f + '/our32.tif'); h = cv2.imread(f + '/our.hdr', -1)[..., ::-1]; j = Image.open(f + '/our.jpg')
e = json.loads(subprocess.run(['exiftool', '-j', f + '/our.jpg'], capture_output=True, text=True).stdout)[0]
print(json.dumps({'t16': t.ravel().tolist(), 't32': float(np.abs(fl - t / 4096.0).max()), 'hdr': float((np.abs(h - fl) / fl.max(-1, keepdims=True)).max()),
 'jpeg': float(np.abs(np.asarray(j).astype(float) - (t >> 8)).mean()), 'exif': {k: str(e.get(k)) for k in ('Make', 'Model', 'FNumber', 'FocalLength', 'SubSecDateTimeOriginal', 'Copyright', 'Orientation', 'ExposureTime')},
 'icc': ImageCms.getProfileDescription(ImageCms.ImageCmsProfile(io.BytesIO(j.info['icc_profile']))).strip()}))`,
    [folder],
  );
  expect(seen.t16).toEqual([...samples]);
  expect(seen.t32).toBe(0);
  // eight bits of mantissa, rounded, against the largest channel
  expect(seen.hdr).toBeLessThan(1 / 128);
  expect(seen.jpeg).toBeLessThan(6); // white noise at quality 92
  expect(seen.icc).toBe("sRGB");
  expect(seen.exif).toMatchObject({
    Make: "Sedge",
    Model: "Sedge One",
    FocalLength: "24.0 mm",
    SubSecDateTimeOriginal: "2026:09:18 19:02:12.51",
    Copyright: "Wrenfold Marsh reserve",
    ExposureTime: "None",
  });
});
