/** Pictures that come with alpha, written by PIL, tifffile, OpenCV and libavif: colours and alpha as those wrote them, whether multiplied or not; and cut-outs as those read them. */
import { readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import type { Codecs } from "../../../src/formats/codecs";
import { readPicture } from "../../../src/formats/readPicture";
import { PngWriter } from "../../../src/formats/png/PngWriter";
import { TiffWriter } from "../../../src/formats/tiff/TiffWriter";
import { writeOra } from "../../../src/formats/ora/writeOra";
import { concatBytes } from "../../../src/formats/bytes";
import { sentence } from "../../../src/messages/sentence";
import { loadCodecs } from "../../support/kernels";
import { runPython, temporaryFolder } from "../../support/python";

const MAKE = `
import json, subprocess, sys, numpy as np, tifffile, cv2
from PIL import Image
out = sys.argv[1]
W, H = 64, 48
y, x = np.mgrid[0:H, 0:W]
rgb = np.stack([60 + 3 * x, 250 - 2 * y, 100 + x + y], -1).astype(np.uint8)
a = np.clip((x - 12) * 255 // 40, 0, 255).astype(np.uint8)
Image.fromarray(np.dstack([rgb, a])).save(f'{out}/png8.png')
Image.fromarray(np.dstack([rgb, a])).save(f'{out}/webp.webp', lossless=True, exact=True)
subprocess.run(['avifenc', '--lossless', f'{out}/png8.png', f'{out}/avif.avif'], check=True, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
rgb16, a16 = rgb.astype(np.uint16) * 257, a.astype(np.uint16) * 257
times = np.round(rgb16 * (a16 / 65535.0)[..., None]).astype(np.uint16)
for name, kind, v, planar in (('straight', 'unassalpha', rgb16, None), ('planar', 'unassalpha', rgb16, 'separate'), ('multiplied', 'assocalpha', times, None),
    ('unsaidStraight', 'unspecified', rgb16, None), ('unsaidMultiplied', 'unspecified', times, None), ('lied', 'assocalpha', rgb16, None)):
    px = np.dstack([v, a16])
    if planar: px = np.moveaxis(px, -1, 0).copy()
    tifffile.imwrite(f'{out}/{name}.tif', px, photometric='rgb', planarconfig=planar or 'contig', extrasamples=[kind])
tifffile.imwrite(f'{out}/opaque.tif', np.dstack([rgb16, np.full_like(a16, 65535)]), photometric='rgb', extrasamples=['unassalpha'])
tifffile.imwrite(f'{out}/nothing.tif', np.dstack([rgb16, np.zeros_like(a16)]), photometric='rgb', extrasamples=['unassalpha'])
light = (rgb / 255.0).astype(np.float32) * (a / 255.0).astype(np.float32)[..., None]
cv2.imwrite(f'{out}/exr.exr', np.dstack([light[..., ::-1], (a / 255.0).astype(np.float32)]))
few = Image.fromarray(rgb).quantize(8)
few.info['transparency'] = bytes([0, 40, 255, 128])
few.save(f'{out}/palette.png', transparency=bytes([0, 40, 255, 128]))
back = np.asarray(Image.open(f'{out}/palette.png').convert('RGBA'))
back.tofile(f'{out}/palette.rgba')
Image.fromarray(np.dstack([rgb, a])).transpose(Image.Transpose.ROTATE_90).save(f'{out}/turned.png', exif=(lambda e: (e.__setitem__(274, 6), e)[1])(Image.Exif()))
rgb.tofile(f'{out}/rgb.u8'); a.tofile(f'{out}/a.u8')
print(json.dumps([W, H]))
`;
const folder = temporaryFolder();
const [W, H] = runPython<[number, number]>(MAKE, [folder]);
const bytesOf = (name: string) => new Uint8Array(readFileSync(join(folder, name)));
const [RGB, A] = [bytesOf("rgb.u8"), bytesOf("a.u8")];
let codecs: Codecs;
beforeAll(async () => {
  codecs = await loadCodecs();
});

/** Largest difference of colours where anything shows, codes of 255. @param of code of a px, as a code of 255 */
const worst = (of: (i: number) => number, least: number) => {
  let most = 0;
  for (let i = 0; i < RGB.length; i++) if (A[Math.floor(i / 3)] > least) most = Math.max(most, Math.abs(of(i) - RGB[i]));
  return most;
};

it.each([
  ["png8.png", "straight", 0],
  ["webp.webp", "straight", 0],
  ["avif.avif", "straight", 0],
  ["straight.tif", "straight", 0],
  ["planar.tif", "straight", 0],
  ["unsaidStraight.tif", "straight", 0],
  ["lied.tif", "straight", 0],
  // what was rounded after it was multiplied comes back within a code of 16 bit, less the less there is
  ["multiplied.tif", "multiplied", 0.06],
  ["unsaidMultiplied.tif", "multiplied", 0.06],
  ["turned.png", "straight", 0],
])("%s has its colours beside alpha, %s", async (name, kind, most) => {
  const { raster, alpha, notes } = await readPicture(bytesOf(name), codecs);
  expect([raster.width, raster.height, alpha?.kind]).toEqual([W, H, kind]);
  expect([...alpha!.samples]).toEqual([...A].map((v) => 257 * v));
  const scale = raster.bits === 16 ? 257 : 1;
  expect(worst((i) => raster.data[i] / scale, 10)).toBeLessThanOrEqual(most);
  expect(notes.map(sentence)).toEqual(name === "lied.tif" ? ["Its colours are said to be multiplied by alpha, and are not: they are taken as they are."] : []);
});

it("light of an OpenEXR file is divided by its alpha", async () => {
  const { raster, alpha } = await readPicture(bytesOf("exr.exr"), codecs);
  expect(alpha!.kind).toBe("multiplied");
  expect(worst((i) => 255 * raster.data[i], 10)).toBeLessThan(0.05);
  alpha!.samples.forEach((v, i) => expect(Math.abs(v / 257 - A[i])).toBeLessThan(0.01));
});

it("colours of a palette have the alpha that stands beside it, as PIL reads them", async () => {
  const { raster, alpha } = await readPicture(bytesOf("palette.png"), codecs);
  const truth = bytesOf("palette.rgba");
  expect([...alpha!.samples]).toEqual(Array.from({ length: W * H }, (_, i) => 257 * truth[4 * i + 3]));
  expect([...raster.data]).toEqual(Array.from({ length: 3 * W * H }, (_, i) => truth[4 * Math.floor(i / 3) + (i % 3)]));
});

it("alpha that says nothing is left out, and said so", async () => {
  const of = async (name: string) => {
    const { alpha, notes } = await readPicture(bytesOf(name), codecs);
    return [alpha, notes.map(sentence)];
  };
  expect(await of("opaque.tif")).toEqual([null, ["Its alpha is opaque everywhere: all of it shows."]]);
  expect(await of("nothing.tif")).toEqual([null, ["Its alpha shows nothing anywhere: it is taken without."]]);
});

it("files with alpha are read by PIL, tifffile and by ourselves as they were meant", async () => {
  const rgba = Uint16Array.from(
    { length: 4 * W * H },
    (_, i) => 257 * (i % 4 === 3 ? A[i >> 2] : RGB[3 * (i >> 2) + (i % 4)]) + (i % 4 === 1 ? 3 : 0) * Number(RGB[1] < 255),
  );
  const tiff = new TiffWriter({ width: W, height: H, bits: 16, channels: 4, metadata: [], profile: null });
  tiff.writeRows(rgba);
  writeFileSync(join(folder, "out.tif"), concatBytes(tiff.finish()));
  const png = new PngWriter({ width: W, height: H, hasAlpha: true, metadata: [], profile: null });
  png.writeRows(rgba);
  const picture = concatBytes(png.finish());
  writeFileSync(join(folder, "out.png"), picture);
  const eight = new PngWriter({ width: W, height: H, bits: 8, hasAlpha: true, metadata: [], profile: null });
  eight.writeRows(Uint8Array.from(rgba, (v) => v >> 8));
  const thumbnail = concatBytes(eight.finish());
  writeFileSync(join(folder, "out.ora"), concatBytes(writeOra({ width: W, height: H, name: 'A <heron> & "reed"', picture, thumbnail })));
  const read = runPython<{ tiff: number[]; extra: number; png: number[]; small: number[]; first: string; stored: boolean; name: string; size: string[] }>(
    `
import json, sys, zipfile, io, numpy as np, tifffile, cv2, xml.etree.ElementTree as E
from PIL import Image
out = sys.argv[1]
t = tifffile.TiffFile(f'{out}/out.tif').pages[0]
z = zipfile.ZipFile(f'{out}/out.ora')
stack = E.fromstring(z.read('stack.xml'))
layer = stack.find('stack/layer')
png = cv2.imread(f'{out}/out.png', cv2.IMREAD_UNCHANGED)[..., [2, 1, 0, 3]]
print(json.dumps({'tiff': t.asarray().ravel().tolist(), 'extra': int(t.extrasamples[0]), 'png': png.ravel().tolist(),
  'small': np.asarray(Image.open(io.BytesIO(z.read('Thumbnails/thumbnail.png')))).ravel().tolist(), 'first': z.infolist()[0].filename,
  'stored': z.infolist()[0].compress_type == 0, 'name': layer.get('name'), 'size': [stack.get('w'), stack.get('h'), layer.get('src')]}))
`,
    [folder],
  );
  expect(read).toEqual({
    tiff: [...rgba],
    extra: 2,
    png: [...rgba],
    small: [...rgba].map((v) => v >> 8),
    first: "mimetype",
    stored: true,
    name: 'A <heron> & "reed"',
    size: [String(W), String(H), "data/layer.png"],
  });
  for (const name of ["out.tif", "out.png", "out.ora"]) {
    const { raster, alpha, format } = await readPicture(bytesOf(name), codecs);
    expect(format).toBe({ "out.tif": "TIFF", "out.png": "PNG", "out.ora": "OpenRaster" }[name]);
    expect([...raster.data]).toEqual([...rgba].filter((_, i) => i % 4 !== 3));
    expect([...alpha!.samples]).toEqual([...rgba].filter((_, i) => i % 4 === 3));
  }
  await expect(readPicture(bytesOf("out.ora").slice(0, 700), codecs)).rejects.toThrow(/zip.damaged|ora.damaged/);
});
