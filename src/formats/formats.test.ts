/** Readers and writers: round trips, hostile and damaged files. Other readers look at the written files in tests/references. */
import { laterRefusal } from "../../tests/support/refusal";
import fc from "fast-check";
import { loadCodecs, randomOf } from "../../tests/support/kernels";
import { REC2020, REC709, DISPLAY_P3, rgbToRgb } from "../core/color/primaries";
import { decodeSrgb } from "../core/color/srgbCurve";
import { applyOrientation } from "../core/raster/orientation";
import { crc32 } from "./archive/crc32";
import { bytesInMemory, readZip } from "./archive/readZip";
import { ZipWriter } from "./archive/ZipWriter";
import { asciiBytes, concatBytes } from "./bytes";
import { exposureEvOf, NO_EXIF } from "./exif/exif";
import { exifSegment, survivingExif } from "./exif/writeExif";
import { readExif } from "./exif/readExif";
import { FormatError } from "./formatError";
import { HdrWriter, packRgbe } from "./hdr/HdrWriter";
import { readProfile } from "./icc/readProfile";
import { writeProfile } from "./icc/writeProfile";
import { readJpegProfile, spliceJpeg } from "./jpeg/segments";
import type { Codecs } from "./codecs";
import { readPicture } from "./readPicture";
import { PngWriter } from "./png/PngWriter";
import { TiffWriter } from "./tiff/TiffWriter";
import type { IfdEntry } from "./tiff/ifd";
import { decodePackBits } from "./tiff/packBits";

let codecs: Codecs;
beforeAll(async () => {
  codecs = await loadCodecs();
});
const random = randomOf(21);

function tiffOf(width: number, height: number): { bytes: Uint8Array; samples: Uint16Array } {
  const samples = Uint16Array.from({ length: width * height * 3 }, () => Math.floor(random() * 65536));
  const writer = new TiffWriter({
    width,
    height,
    bits: 16,
    metadata: survivingExif({ ...NO_EXIF, make: "Sedge", aperture: 8 }),
    profile: writeProfile("sRGB", REC709, "srgb"),
  });
  for (let y = 0; y < height; y += 50) writer.writeRows(samples.subarray(y * width * 3, Math.min(height, y + 50) * width * 3));
  return { bytes: concatBytes(writer.finish()), samples };
}

const SHOT = survivingExif({ ...NO_EXIF, model: "Sedge One", focalLengthMm: 24, takenAt: "2026:09:18 19:02:12.51", copyright: "Wrenfold Marsh reserve" });
const jpegOf = (width = 64, height = 48, entries = SHOT) =>
  spliceJpeg(
    codecs.jpeg.encode(
      Uint8Array.from({ length: width * height * 3 }, (_, i) => (i * 7) % 256),
      width,
      height,
      95,
    ),
    exifSegment(entries),
    writeProfile("Display P3", DISPLAY_P3, "srgb"),
  );

it("a 16-bit TIFF comes back sample by sample, with profile and metadata", async () => {
  const { bytes, samples } = tiffOf(37, 131);
  const picture = await readPicture(bytes, codecs);
  expect(picture.raster).toMatchObject({ width: 37, height: 131, bits: 16 });
  expect([...picture.raster.data]).toEqual([...samples]);
  expect(picture.color.name).toBe("sRGB");
  expect(picture.exif).toMatchObject({ make: "Sedge", aperture: 8, orientation: 1 });
});

it("a 16-bit PNG comes back sample by sample, with profile and metadata, and wants all its rows", async () => {
  const [width, height] = [37, 131];
  const { samples } = tiffOf(width, height);
  const options = {
    width,
    height,
    metadata: survivingExif({ ...NO_EXIF, make: "Sedge", aperture: 8 }),
    profile: writeProfile("Display P3", DISPLAY_P3, "srgb"),
  };
  const writer = new PngWriter(options);
  for (let y = 0; y < height; y += 50) writer.writeRows(samples.subarray(y * width * 3, Math.min(height, y + 50) * width * 3));
  const picture = await readPicture(concatBytes(writer.finish()), codecs);
  expect(picture.raster).toMatchObject({ width, height, bits: 16 });
  expect([...picture.raster.data]).toEqual([...samples]);
  expect(picture.color.name).toBe("Display P3");
  expect(picture.exif).toMatchObject({ make: "Sedge", aperture: 8 });
  expect(() => new PngWriter(options).finish()).toThrow(RangeError);
  expect(() => new PngWriter(options).writeRows(samples.subarray(0, 5))).toThrow(RangeError);
});

describe("where a camera noted that it stood", () => {
  const pairs = (...values: number[]): [number, number][] => values.map((v) => [Math.round(v * 1000), 1000]);
  const noted = (side: "N" | "S", north: "T" | "M"): IfdEntry[] => [
    {
      tag: 0x8769,
      value: {
        type: "ifd",
        entries: [
          { tag: 0x9003, value: { type: "ascii", text: "2026:09:18 19:02:12" } },
          { tag: 0x9011, value: { type: "ascii", text: "-03:30" } },
        ],
      },
    },
    {
      tag: 0x8825,
      value: {
        type: "ifd",
        entries: [
          { tag: 1, value: { type: "ascii", text: side } },
          { tag: 2, value: { type: "rational", values: pairs(51, 30, 36) } },
          { tag: 3, value: { type: "ascii", text: "W" } },
          { tag: 4, value: { type: "rational", values: pairs(8, 15, 0) } },
          { tag: 16, value: { type: "ascii", text: north } },
          { tag: 17, value: { type: "rational", values: pairs(212.5) } },
        ],
      },
    },
  ];
  // tags of Exif 2.32, tables 4, 8 and 15
  it("comes with its heading and its clock, south and west negative", () => {
    expect(readExif(jpegOf(64, 48, noted("S", "T"))).shotFrom).toEqual({ latitudeDeg: -51.51, longitudeDeg: -8.25, headingDeg: 212.5, overUtcH: -3.5 });
    expect(readExif(jpegOf(64, 48, noted("N", "T"))).shotFrom!.latitudeDeg).toBeCloseTo(51.51, 6);
  });

  it("has no heading where that is towards magnetic north, and is absent where no place was noted", () => {
    expect(readExif(jpegOf(64, 48, noted("N", "M"))).shotFrom!.headingDeg).toBeNull();
    expect(readExif(jpegOf(64, 48, noted("N", "T").slice(0, 1)))).not.toHaveProperty("shotFrom");
  });
});

it("a JPEG carries its metadata and its profile through", async () => {
  const picture = await readPicture(jpegOf(), codecs);
  expect(picture.exif).toMatchObject({ model: "Sedge One", focalLengthMm: 24, takenAt: "2026:09:18 19:02:12.51", copyright: "Wrenfold Marsh reserve" });
  expect(picture.color.name).toBe("Display P3");
  picture.color.toWorking.forEach((v, i) => expect(v).toBeCloseTo(rgbToRgb(DISPLAY_P3, REC2020)[i], 3));
  expect(readJpegProfile(jpegOf())!.length).toBeGreaterThan(300);
});

it("profiles: curve and matrix survive writing and reading", () => {
  const color = readProfile(writeProfile("sRGB", REC709, "srgb"));
  for (let i = 0; i <= 20; i++) expect(color.curves[1](i / 20)).toBeCloseTo(decodeSrgb(i / 20), 4);
  expect(readProfile(writeProfile("linear", REC709, "linear")).curves[0](0.3)).toBe(0.3);
  expect(() => readProfile(new Uint8Array(200))).toThrow(FormatError);
});

it("exposure from metadata: labels are snapped to the third-stop ladder", () => {
  const ev = (exposureTimeS: number) => exposureEvOf({ ...NO_EXIF, exposureTimeS, aperture: 8, iso: 100 })!;
  // 1/125 stands for 1/128, 1/30 for 1/32, 0.6 for 0.63 (common practice, no source)
  expect(ev(1 / 30) - ev(1 / 125)).toBeCloseTo(2, 9);
  expect(ev(0.6) - ev(2.5)).toBeCloseTo(-2, 9);
  expect(ev(1 / 8)).toBeCloseTo(-9, 9);
  expect(exposureEvOf(NO_EXIF)).toBeNull();
});

it("orientation: eight ways to turn a picture, each undone by its opposite (Exif 2.32, table 6)", () => {
  const source = { width: 3, height: 2, bits: 8 as const, data: Uint8Array.from({ length: 18 }, (_, i) => i) };
  const pixel = (r: typeof source, x: number, y: number) => r.data[(y * r.width + x) * 3] / 3;
  const six = applyOrientation(source, 6) as typeof source;
  expect([six.width, six.height]).toEqual([2, 3]);
  // turned 90° clockwise: the lower left pixel comes to the upper left
  expect(pixel(six, 0, 0)).toBe(3);
  expect(pixel(applyOrientation(source, 8) as typeof source, 0, 0)).toBe(2);
  const opposite = [0, 1, 2, 3, 4, 5, 8, 7, 6];
  for (let k = 1; k <= 8; k++) expect(applyOrientation(applyOrientation(source, k), opposite[k])).toEqual(source);
});

describe("bad pictures get one sentence", () => {
  const cases: [string, () => Uint8Array, RegExp][] = [
    ["an empty file", () => new Uint8Array(0), /empty/],
    [
      "text",
      () => asciiBytes("this is no picture at all, only words"),
      /not a JPEG, PNG, TIFF, WebP, AVIF, OpenEXR, OpenRaster, Radiance, DNG or known camera raw/,
    ],
    ["text that begins like a TIFF", () => asciiBytes("II is how this text file begins, named .tif"), /not a JPEG, PNG, TIFF/],
    ["a JPEG cut short", () => jpegOf().slice(0, 900), /damaged or cut short/],
    ["a TIFF cut short", () => tiffOf(40, 40).bytes.slice(0, 3000), /damaged or cut short/],
    ["one pixel", () => tiffOf(1, 1).bytes, /1×1 px; the smallest side/],
    ["a size over the limit", () => withTag(tiffOf(40, 40).bytes, 256, 40_000), /40000×40 px; the limits are 30000 px/],
    ["a palette TIFF", () => withTag(tiffOf(40, 40).bytes, 262, 3), /colour palette/],
    ["a CMYK TIFF", () => withTag(tiffOf(40, 40).bytes, 262, 5), /CMYK/],
    ["a PNG that is none", () => Uint8Array.from([0x89, 0x50, 1, 2, 3]), /PNG but is not one/],
  ];
  it.each(cases)("%s", async (_, make, sentence) => {
    await expect(readPicture(make(), codecs)).rejects.toThrow(FormatError);
    expect(await laterRefusal(readPicture(make(), codecs))).toMatch(sentence);
  });
});

/** Changes the value of a short or long tag of our own TIFF. */
function withTag(bytes: Uint8Array, tag: number, value: number): Uint8Array {
  const out = bytes.slice();
  const view = new DataView(out.buffer);
  const at = view.getUint32(4, true);
  for (let i = 0; i < view.getUint16(at, true); i++) {
    const p = at + 2 + i * 12;
    if (view.getUint16(p, true) === tag) view.setUint32(p + 8, value, true);
  }
  return out;
}

it("whatever is done to a file, the readers answer with a picture or a sentence", async () => {
  const files = [jpegOf(), tiffOf(24, 24).bytes];
  await fc.assert(
    fc.asyncProperty(
      fc.nat(1),
      fc.array(fc.tuple(fc.nat(), fc.nat(255)), { minLength: 1, maxLength: 12 }),
      fc.double({ min: 0.1, max: 1, noNaN: true }),
      async (which, changes, keep) => {
        const bytes = files[which].slice(0, Math.ceil(files[which].length * keep));
        for (const [place, value] of changes) bytes[place % bytes.length] = value;
        try {
          expect((await readPicture(bytes, codecs)).raster.width).toBeGreaterThan(0);
        } catch (error) {
          expect(error).toBeInstanceOf(FormatError);
        }
      },
    ),
    { numRuns: 400 },
  );
});

it("a bit turned in packed pixels is never read as another picture: PNG by its chunks' sums, TIFF and profiles by those of Deflate", async () => {
  const random = randomOf(21);
  const samples = Uint16Array.from({ length: 64 * 48 * 3 }, (_, i) => (i % 900 < 400 ? 30_000 : Math.floor(65_536 * random())));
  const facts = { width: 64, height: 48, metadata: [], profile: null };
  const png = new PngWriter(facts);
  png.writeRows(samples);
  const tiff = new TiffWriter({ ...facts, bits: 16 });
  tiff.writeRows(samples);
  for (const [name, whole] of [
    ["PNG", concatBytes(png.finish())],
    ["TIFF", concatBytes(tiff.finish())],
  ] as const) {
    expect((await readPicture(whole, codecs)).raster.data).toEqual(samples);
    for (let k = 0; k < 60; k++) {
      const turned = whole.slice();
      turned[Math.floor(whole.length * (0.1 + 0.8 * random()))] ^= 1 << (k % 8);
      const read = await readPicture(turned, codecs).then(
        ({ raster }) => Buffer.from(raster.data.buffer, raster.data.byteOffset, raster.data.byteLength),
        (error) => expect(error).toBeInstanceOf(FormatError),
      );
      // what is read all the same, as a bit of padding that was turned, is the picture
      if (read) expect([name, k, Buffer.compare(read, Buffer.from(samples.buffer))]).toEqual([name, k, 0]);
    }
  }
});

it("PackBits: the example of TIFF 6.0, section 9 (page 42)", () => {
  const packed = Uint8Array.from([0xfe, 0xaa, 0x02, 0x80, 0x00, 0x2a, 0xfd, 0xaa, 0x03, 0x80, 0x00, 0x2a, 0x22, 0xf7, 0xaa]);
  const wanted = [0xaa, 0xaa, 0xaa, 0x80, 0, 0x2a, 0xaa, 0xaa, 0xaa, 0xaa, 0x80, 0, 0x2a, 0x22, ...Array<number>(10).fill(0xaa)];
  expect([...decodePackBits(packed, 24)]).toEqual(wanted);
});

it("RGBE holds a pixel to within its 8-bit mantissa, and counts negatives", () => {
  fc.assert(
    fc.property(fc.double({ min: 1e-6, max: 1e6, noNaN: true }), fc.double({ min: 0, max: 1, noNaN: true }), (top, share) => {
      const [r, g, , e] = packRgbe(top, top * share, 0);
      const scale = 2 ** (e - 136);
      expect(Math.abs(r * scale - top)).toBeLessThanOrEqual(top / 128);
      expect(Math.abs(g * scale - top * share)).toBeLessThanOrEqual(top / 128);
    }),
  );
  const writer = new HdrWriter(8, 1);
  writer.writeRows(Float32Array.from({ length: 24 }, (_, i) => (i === 5 ? -1 : 0.5)));
  expect(writer.negatives).toBe(1);
});

describe("zip", () => {
  const zipOf = (entries: [string, Uint8Array][]) => {
    const parts: Uint8Array[] = [];
    const zip = new ZipWriter((b) => parts.push(b));
    for (const [name, bytes] of entries) zip.add(name, bytes);
    zip.finish();
    return concatBytes(parts);
  };
  it("comes back as it was", async () => {
    const body = Uint8Array.from({ length: 5000 }, () => Math.floor(random() * 256));
    const [a, b] = await readZip(
      bytesInMemory(
        zipOf([
          ["job.json", asciiBytes("{}")],
          ["sources/ä.bin", body],
        ]),
      ),
    );
    expect([a.name, b.name]).toEqual(["job.json", "sources/ä.bin"]);
    expect([...(await b.read())]).toEqual([...body]);
  });
  it("CRC-32 of the standard check string", () => {
    expect(crc32(asciiBytes("123456789"))).toBe(0xcbf43926); // ISO 3309 check value
  });
  it.each(["../outside", "a/../../b", "/etc/passwd", "c:\\x", "a\\b"])("refuses the path %s", async (name) => {
    await expect(readZip(bytesInMemory(zipOf([[name, asciiBytes("x")]])))).rejects.toThrow(/zip.climbsOut/);
  });
  it("refuses an entry that states far more than it holds", async () => {
    const bytes = zipOf([["job.json", asciiBytes("x".repeat(100))]]);
    const view = new DataView(bytes.buffer);
    const central = bytes.length - 22 - 46 - 8;
    view.setUint16(central + 10, 8, true);
    view.setUint32(central + 24, 1_900_000_000, true);
    await expect(readZip(bytesInMemory(bytes))).rejects.toThrow(/zip.size/);
  });
  it("refuses a damaged entry, a cut file and a file that is no zip", async () => {
    const bytes = zipOf([["job.json", asciiBytes("hello there")]]);
    bytes[40] ^= 1;
    const [entry] = await readZip(bytesInMemory(bytes));
    await expect(entry.read()).rejects.toThrow("zip.checksum");
    await expect(readZip(bytesInMemory(bytes.slice(0, 60)))).rejects.toThrow(/zip.damaged/);
    await expect(readZip(bytesInMemory(asciiBytes("no zip")))).rejects.toThrow(/zip.damaged/);
  });
  it("whatever is done to a zip, the reader answers with entries or a sentence", async () => {
    const good = zipOf([
      ["job.json", asciiBytes("{}")],
      ["b", asciiBytes("body")],
    ]);
    await fc.assert(
      fc.asyncProperty(fc.array(fc.tuple(fc.nat(), fc.nat(255)), { minLength: 1, maxLength: 8 }), async (changes) => {
        const bytes = good.slice();
        for (const [place, value] of changes) bytes[place % bytes.length] = value;
        try {
          for (const entry of await readZip(bytesInMemory(bytes))) await entry.read();
        } catch (error) {
          expect(error).toBeInstanceOf(FormatError);
        }
      }),
      { numRuns: 300 },
    );
  });
});

it("damaged metadata is no error", () => {
  expect(readExif(asciiBytes("nothing of the kind"))).toEqual(NO_EXIF);
});
