/**
 * Files that need a decoder: DNG made here from known linear light (DNG 1.4, chapter 6: camera RGB = ColorMatrix · XYZ), WebP by PIL,
 * AVIF by libavif, and a profile of tables that Debian's Little CMS (PIL's ImageCms) reads too.
 */
import { sentence } from "../../../src/messages/sentence";
import { readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { REC2020, REC709, rgbToRgb } from "../../../src/core/color/primaries";
import { transform } from "../../../src/core/geometry/matrix3";
import type { Codecs } from "../../../src/formats/codecs";
import { readColor, readPicture, type Picture } from "../../../src/formats/readPicture";
import { loadCodecs } from "../../support/kernels";
import { runMarsh, runPython, temporaryFolder } from "../../support/python";

const MAKE = `
import json, struct, subprocess, sys, numpy as np, tifffile
from PIL import Image
out = sys.argv[1]
W, H = 258, 192
patches = np.array([[.18, .18, .18], [.5, .2, .1], [.1, .4, .2], [.1, .2, .6], [.7, .7, .7], [.03, .03, .03]])
rgb = np.zeros((H, W, 3))
for i in range(6):
    r, c = divmod(i, 3)
    rgb[r * 96:(r + 1) * 96, c * 86:(c + 1) * 86] = patches[i]
neutral = np.array([.5, 1, .7])
cam = rgb * neutral
cfa = np.zeros((H, W))
for y in (0, 1):
    for x in (0, 1):
        cfa[y::2, x::2] = cam[y::2, x::2, x + y]
raw = np.round(512 + cfa * (16383 - 512)).astype(np.uint16)
# IEC 61966-2-1: linear sRGB to XYZ; so camera RGB before white balance is linear sRGB
M = np.linalg.inv(np.array([[.4124, .3576, .1805], [.2126, .7152, .0722], [.0193, .1192, .9505]]))
rational = lambda v: [k for x in np.ravel(v) for k in (int(round(x * 10000)), 10000)]
tags = [(50706, 'B', 4, bytes([1, 4, 0, 0]), True), (50707, 'B', 4, bytes([1, 1, 0, 0]), True), (50708, 's', 0, 'Wrenfold Field Camera', True),
  (33421, 'H', 2, (2, 2), True), (33422, 'B', 4, bytes([0, 1, 1, 2]), True), (50721, '2i', 9, rational(M), True), (50728, '2I', 3, rational(neutral), True),
  (50714, 'H', 1, 512, True), (50717, 'H', 1, 16383, True), (50778, 'H', 1, 21, True), (271, 's', 0, 'Wrenfold', True), (272, 's', 0, 'Field Camera', True)]
for name, turn in (('plain', 1), ('turned', 6)):
    tifffile.imwrite(f'{out}/{name}.dng', raw, photometric=32803, extratags=tags + [(274, 'H', 1, turn, True)], metadata=None)

y, x = np.mgrid[0:64, 0:96]
still = np.stack([(x * 5 + y) % 256, (y * 4) % 256, (x + y * 3) % 256], -1).astype(np.uint8)
im = Image.fromarray(still)
exif = Image.Exif(); exif[271] = 'Wrenfold'; exif[274] = 3
def mft2(grid, table):
    # a version 2 RGB profile with one lut16 AToB0 to XYZ (ICC.1:2001, 6.5.7): no other program wrote it, Little CMS judges it
    lut = b'mft2' + bytes(4) + bytes([3, 3, grid, 0]) + struct.pack('>9i', *[65536 if i % 4 == 0 else 0 for i in range(9)]) + struct.pack('>HH', 2, 2)
    lut += struct.pack('>6H', *[0, 65535] * 3) + table.astype('>u2').tobytes() + struct.pack('>6H', *[0, 65535] * 3)
    desc = b'desc' + bytes(4) + struct.pack('>I', 12) + b'Reed tables\\0' + bytes(78)
    bodies = {b'desc': desc, b'cprt': b'text' + bytes(4) + b'none\\0', b'wtpt': b'XYZ ' + bytes(4) + struct.pack('>3i', 63190, 65536, 54061), b'A2B0': lut}
    at, head, rest = 132 + 12 * len(bodies), b'', b''
    for k, v in bodies.items():
        v += bytes(-len(v) % 4)
        head += k + struct.pack('>II', at + len(rest), len(v)); rest += v
    size = at + len(rest)
    top = bytearray(128); struct.pack_into('>I', top, 0, size); struct.pack_into('>I', top, 8, 0x02400000)
    top[12:24] = b'scnrRGB XYZ '; top[36:40] = b'acsp'; struct.pack_into('>3i', top, 68, 63190, 65536, 54061)
    return bytes(top) + struct.pack('>I', len(bodies)) + head + rest
g = np.linspace(0, 1, 17)
node = np.stack(np.meshgrid(g, g, g, indexing='ij'), -1).reshape(-1, 3) ** 1.9
node = node @ np.array([[.85, .15, 0], [.1, .8, .1], [.02, .08, .9]]).T  # a mixing no matrix profile of ours has
D50 = np.array([[.4361, .3851, .1431], [.2225, .7169, .0606], [.0139, .0971, .7141]])
tables = mft2(17, np.clip(node @ D50.T * 32768, 0, 65535))
open(out + '/tables.icc', 'wb').write(tables)
im.save(out + '/plain.png'); im.save(out + '/still.webp', lossless=True, exif=exif.tobytes()); im.save(out + '/tables.png', icc_profile=tables)
from PIL import ImageCms
import io
to = ImageCms.createProfile('sRGB')
# sRGB cannot hold all that the tables give; what it holds is compared
srgb = np.asarray(ImageCms.profileToProfile(im, ImageCms.ImageCmsProfile(io.BytesIO(tables)), to, renderingIntent=1))
subprocess.run(['avifenc', '-l', '-j', '1', out + '/plain.png', out + '/still.avif'], check=True, stdout=subprocess.DEVNULL)
subprocess.run(['avifenc', '-l', '-j', '1', '--irot', '1', out + '/plain.png', out + '/quarter.avif'], check=True, stdout=subprocess.DEVNULL)
subprocess.run(['avifenc', '-l', '-j', '1', '--irot', '1', '--imir', '0', out + '/plain.png', out + '/mirrored.avif'], check=True, stdout=subprocess.DEVNULL)
ramp = np.repeat(np.linspace(0, 65535, 96).astype(np.uint16)[None, :, None], 64, 0).repeat(3, 2)
import cv2
cv2.imwrite(out + '/ramp.png', ramp)
subprocess.run(['avifenc', '-j', '1', '-d', '10', '-y', '444', '--min', '0', '--max', '0', '--cicp', '9/16/9', out + '/ramp.png', out + '/pq.avif'], check=True, stdout=subprocess.DEVNULL)
print(json.dumps({'patches': patches.tolist(), 'still': still.ravel().tolist(), 'quarter': np.rot90(still).ravel().tolist(), 'mirrored': np.flipud(np.rot90(still)).ravel().tolist(),
  'half': np.rot90(still, 2).ravel().tolist(), 'srgb': srgb.ravel().tolist()}))
`;
const folder = temporaryFolder();
const truth = runPython<{ patches: number[][]; still: number[]; quarter: number[]; mirrored: number[]; half: number[]; srgb: number[] }>(MAKE, [folder]);
let codecs: Codecs;
beforeAll(async () => {
  codecs = await loadCodecs();
});
const bytesOf = (name: string) => new Uint8Array(readFileSync(join(folder, name)));
const read = (name: string) => readPicture(bytesOf(name), codecs);
const linearAt = ({ raster, color }: Picture, x: number, y: number) =>
  transform(
    color.toWorking,
    [0, 1, 2].map((c) => color.curves[c](raster.data[(y * raster.width + x) * 3 + c] / (raster.bits === 32 ? 1 : 2 ** raster.bits - 1))),
  );

describe("DNG", () => {
  it("gives the light it was made from: black level off, white balance as shot, linear Rec. 2020", async () => {
    const picture = await read("plain.dng");
    expect(picture).toMatchObject({ format: "camera raw", raster: { width: 258, height: 192, bits: 16 }, color: { name: "linear Rec. 2020" } });
    const toRec2020 = rgbToRgb(REC709, REC2020);
    truth.patches.forEach((patch, i) => {
      const seen = linearAt(picture, 43 + 86 * (i % 3), 48 + 96 * Math.floor(i / 3));
      transform(toRec2020, patch).forEach((v, c) => expect(Math.abs(seen[c] - v)).toBeLessThan(0.001));
    });
    expect(picture.exif).toMatchObject({ make: "Wrenfold", model: "Field Camera" });
    expect(sentence(picture.notes[0])).toMatch(/LibRaw .*black level 512, white level 16383, white balance as shot \(gains 2\.00, 1\.00, 1\.43\)/);
  });

  it("is turned upright once", async () => {
    const { raster } = await read("turned.dng");
    expect(raster).toMatchObject({ width: 192, height: 258 });
    // turned clockwise, the lower left patch comes to the upper left
    transform(rgbToRgb(REC709, REC2020), truth.patches[3]).forEach((v, c) => expect(raster.data[(20 * 192 + 20) * 3 + c] / 65535).toBeCloseTo(v, 3));
  });

  it("cut short or of unknown making is refused, never filled with black", async () => {
    await expect(readPicture(bytesOf("plain.dng").slice(0, 60_000), codecs)).rejects.toThrow("raw.cutShort");
    await expect(
      readPicture(
        Uint8Array.from({ length: 5000 }, (_, i) => i % 251),
        codecs,
      ),
    ).rejects.toThrow("file.unknown");
    // and the decoder still works afterwards
    expect((await read("plain.dng")).raster.width).toBe(258);
  });

  it("is told of by the command line", () => {
    const { out } = runMarsh(["inspect", join(folder, "plain.dng"), "--json", "--quiet"]);
    expect(JSON.parse(out)).toMatchObject({ frames: [{ format: "camera raw", bits: 16, colorSpace: "linear Rec. 2020" }] });
  });
});

it.each([
  ["still.avif", "still", 96],
  ["quarter.avif", "quarter", 64],
  ["mirrored.avif", "mirrored", 64],
  ["still.webp", "half", 96],
] as const)("%s comes back sample by sample, turned as the file says", async (name, wanted, width) => {
  const { raster, color } = await read(name);
  expect([raster.width, raster.bits, color.name]).toEqual([width, 8, "sRGB"]);
  expect([...raster.data]).toEqual(truth[wanted]);
});

it("a WebP keeps its metadata", async () => {
  expect((await read("still.webp")).exif.make).toBe("Wrenfold");
});

it("an AVIF coded in PQ is light above white (SMPTE ST 2084 at signal 0.5: 92.2 cd/m²; BT.2408: white 203 cd/m²)", async () => {
  const picture = await read("pq.avif");
  expect(picture.raster.bits).toBe(32);
  expect(picture.color.name).toBe("Rec. 2020, PQ");
  const at = (signal: number) => linearAt(picture, Math.round(signal * 95), 30)[1];
  expect(at(1)).toBeCloseTo(10_000 / 203, 0);
  // between the two pixels around 0.5, one 95th apart
  expect(at(47 / 95)).toBeLessThan(92.2457 / 203);
  expect(at(48 / 95)).toBeGreaterThan(92.2457 / 203);
});

it("a profile of tables is honoured as Little CMS of Debian honours it", async () => {
  const picture = await read("tables.png");
  expect([picture.color.name, picture.raster.bits, picture.notes]).toEqual(["Reed tables", 16, []]);
  expect((await readColor(bytesOf("tables.png"))).name).toBe("Reed tables");
  const toSrgb = rgbToRgb(REC2020, REC709);
  const encode = (v: number) => (v <= 0.0031308 ? 12.92 * v : 1.055 * v ** (1 / 2.4) - 0.055);
  let [worst, compared] = [0, 0];
  for (let p = 0; p < 96 * 64; p++) {
    const seen = transform(toSrgb, linearAt(picture, p % 96, Math.floor(p / 96))).map((v) => encode(v) * 255);
    if (seen.some((v) => v < 2 || v > 253)) continue;
    compared++;
    seen.forEach((v, c) => (worst = Math.max(worst, Math.abs(v - truth.srgb[p * 3 + c]))));
  }
  expect(compared).toBeGreaterThan(3000);
  // PIL rounds to 8 bits and goes through a version 2 profile of its own
  expect(worst).toBeLessThan(1.6);
});

it("damaged AVIF and WebP get one sentence", async () => {
  await expect(readPicture(bytesOf("still.avif").slice(0, 900), codecs)).rejects.toThrow("avif.damaged");
  await expect(readPicture(bytesOf("still.webp").slice(0, -40), codecs)).rejects.toThrow("webp.damaged");
  const absurd = bytesOf("still.avif");
  const at = Buffer.from(absurd).indexOf("ispe") + 8;
  new DataView(absurd.buffer).setUint32(at, 90_000);
  await expect(readPicture(absurd, codecs)).rejects.toThrow("file.pictureTooLarge");
});

it("other frames go on where one is damaged", () => {
  const cut = join(folder, "cut.avif");
  writeFileSync(cut, bytesOf("still.avif").slice(0, 900));
  const { frames } = JSON.parse(runMarsh(["inspect", cut, join(folder, "still.webp"), "--json", "--quiet"]).out) as { frames: { error: string | null }[] };
  expect(frames.map((f) => f.error)).toEqual(["The AVIF data is damaged or cut short and cannot be read.", null]);
});
