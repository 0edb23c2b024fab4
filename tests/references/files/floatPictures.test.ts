/**
 * Float pictures written by other programs: OpenEXR (half and float, several compressions) and Radiance by OpenCV, 32-bit float TIFF
 * by tifffile and libtiff's tiffcp in the layouts that readers get wrong: predictor 3, planar, tiled, big-endian.
 */
import { sentence } from "../../../src/messages/sentence";
import { readFileSync } from "node:fs";
import { join } from "node:path";
import { readPicture } from "../../../src/formats/readPicture";
import { FormatError } from "../../../src/formats/formatError";
import { loadCodecs } from "../../support/kernels";
import { runMarsh, runPython, temporaryFolder } from "../../support/python";

const MAKE = `
import cv2, json, subprocess, sys, numpy as np, tifffile
out = sys.argv[1]
y, x = np.mgrid[0:40, 0:61].astype(np.float32)
rgb = np.stack([0.001 + x / 20, y * y / 90, (x + 2 * y) / 50], -1).astype(np.float32)
rgb[3, 5] = [40, 0, 900]
bgr = np.ascontiguousarray(rgb[..., ::-1])
E, T, C = cv2.IMWRITE_EXR_TYPE, cv2.IMWRITE_EXR_COMPRESSION, cv2
cv2.imwrite(out + '/half_zip.exr', bgr, [E, C.IMWRITE_EXR_TYPE_HALF, T, C.IMWRITE_EXR_COMPRESSION_ZIP])
cv2.imwrite(out + '/float_zip.exr', bgr, [E, C.IMWRITE_EXR_TYPE_FLOAT, T, C.IMWRITE_EXR_COMPRESSION_ZIP])
cv2.imwrite(out + '/half_piz.exr', bgr, [E, C.IMWRITE_EXR_TYPE_HALF, T, C.IMWRITE_EXR_COMPRESSION_PIZ])
cv2.imwrite(out + '/float_none.exr', bgr, [E, C.IMWRITE_EXR_TYPE_FLOAT, T, C.IMWRITE_EXR_COMPRESSION_NO])
cv2.imwrite(out + '/light.hdr', bgr)
tifffile.imwrite(out + '/plain.tif', rgb, photometric='rgb')
tifffile.imwrite(out + '/big.tif', rgb, photometric='rgb', byteorder='>')
# big-endian with predictor 3 is left out: what tiffcp writes then its own library cannot read
for name, how in (('predictor', ['-c', 'zip:3']), ('tiled', ['-c', 'zip:3', '-t', '-w', '16', '-l', '16'])):
    subprocess.run(['tiffcp', *how, out + '/plain.tif', out + f'/{name}.tif'], check=True)
tifffile.imwrite(out + '/planar.tif', np.ascontiguousarray(rgb.transpose(2, 0, 1)), photometric='rgb', planarconfig='separate')
odd = np.full((20, 20, 3), 0.5, np.float32)
odd[0, 0, 1], odd[0, 1, 0], odd[0, 2, 2], odd[0, 3] = np.nan, np.inf, -np.inf, [-0.5, 0.25, 1e6]
tifffile.imwrite(out + '/odd.tif', odd, photometric='rgb', compression='zlib')
cv2.imwrite(out + '/odd.exr', np.ascontiguousarray(odd[..., ::-1]), [E, C.IMWRITE_EXR_TYPE_FLOAT])
subprocess.run(['exrstdattr', '-chromaticities', '0.708', '0.292', '0.170', '0.797', '0.131', '0.046', '0.3127', '0.3290', out + '/float_zip.exr', out + '/wide.exr'], check=True)
# what a bracket of one float picture looks like
scene = np.abs(cv2.GaussianBlur(np.random.default_rng(3).normal(size=(300, 420, 3)).astype(np.float32), (0, 0), 4)) * 9
M = np.float32([[1, 0.004, 5.25], [-0.004, 1, -3.5]])
cv2.imwrite(out + '/a.exr', scene); cv2.imwrite(out + '/b.exr', cv2.warpAffine(scene, M, (420, 300), flags=cv2.INTER_CUBIC, borderMode=cv2.BORDER_REFLECT) * 0.5)
print(json.dumps(rgb.ravel().tolist()))
`;
const folder = temporaryFolder();
const truth = runPython<number[]>(MAKE, [folder]);
const codecsReady = loadCodecs();
const read = async (name: string) => readPicture(new Uint8Array(readFileSync(join(folder, name))), await codecsReady);

it.each([
  // relative steps of the format: half floats 2⁻¹¹, RGBE one part in 256 of the largest channel
  ["half_zip.exr", 5e-4],
  ["half_piz.exr", 5e-4],
  ["float_zip.exr", 1e-6],
  ["float_none.exr", 1e-6],
  ["plain.tif", 0],
  ["predictor.tif", 0],
  ["tiled.tif", 0],
  ["big.tif", 0],
  ["planar.tif", 0],
])("%s is read to its own precision, from the top down", async (name, relative) => {
  const { raster, color } = await read(name);
  expect(raster).toMatchObject({ width: 61, height: 40, bits: 32 });
  expect(color.name).toBe("linear Rec. 709");
  const worst = truth.reduce((most, v, i) => Math.max(most, Math.abs(raster.data[i] - v) - relative * Math.abs(v)), 0);
  expect(worst).toBeLessThanOrEqual(1e-7);
});

it.each(["odd.tif", "odd.exr"])("%s: infinite light and what is no number are empty, negative light is kept, all is said", async (name) => {
  const { raster, notes } = await read(name);
  const px = (x: number) => [...raster.data.slice(3 * x, 3 * x + 3)];
  expect(px(0)).toEqual([NaN, NaN, NaN]);
  expect(px(1)).toEqual([NaN, NaN, NaN]);
  expect(px(2)).toEqual([NaN, NaN, NaN]);
  expect(px(3)).toEqual([-0.5, 0.25, 65504]);
  expect(notes.map(sentence)).toEqual([
    "3 px (0.75 %) hold infinite light or no number. They are empty: no merge takes them.",
    "1 px (0.25 %) are brighter than 65504 times white and are held to that.",
  ]);
});

it("primaries of an OpenEXR picture count", async () => {
  const { color } = await read("wide.exr");
  expect(color.name).toBe("linear, primaries of its own");
  // those of Rec. 2020: its light is working light
  color.toWorking.forEach((v, i) => expect(v).toBeCloseTo(i % 4 === 0 ? 1 : 0, 4));
});

it("a Radiance picture is read to its own precision", async () => {
  const { raster } = await read("light.hdr");
  for (let p = 0; p < truth.length; p += 3) {
    const step = Math.max(truth[p], truth[p + 1], truth[p + 2]) / 128;
    for (let c = 0; c < 3; c++) expect(Math.abs(raster.data[p + c] - truth[p + c])).toBeLessThanOrEqual(step);
  }
});

it("an OpenEXR picture that states an absurd size is refused before anything is made for it", async () => {
  const bytes = new Uint8Array(readFileSync(join(folder, "float_zip.exr")));
  const at = Buffer.from(bytes).indexOf("dataWindow\0box2i\0") + 17 + 4;
  const view = new DataView(bytes.buffer);
  view.setInt32(at + 8, 900_000, true);
  view.setInt32(at + 12, 900_000, true);
  const codecs = await codecsReady;
  await expect(readPicture(bytes, codecs)).rejects.toThrow(/file.pictureTooLarge/);
});

it("a float picture that is cut short gets one sentence", async () => {
  const bytes = new Uint8Array(readFileSync(join(folder, "float_zip.exr")));
  const codecs = await codecsReady;
  await expect(readPicture(bytes.slice(0, bytes.length >> 1), codecs)).rejects.toThrow(FormatError);
  const light = new Uint8Array(readFileSync(join(folder, "light.hdr")));
  await expect(readPicture(light.slice(0, light.length - 9), codecs)).rejects.toThrow(/[a-z]+\.damaged/);
});

it("float frames are registered and merged as they are", () => {
  const [a, b] = [join(folder, "a.exr"), join(folder, "b.exr")];
  const registered = JSON.parse(runMarsh(["register", "--reference", a, b, "--json", "--quiet"]).out) as {
    frames: { registered: boolean; matrix: number[][] }[];
  };
  expect(registered.frames[0].registered).toBe(true);
  // the frame was moved by +5.25, −3.5, so it goes back by about that
  expect(registered.frames[0].matrix[0][2]).toBeCloseTo(-5.25, 0);
  const out = join(folder, "merged.tif");
  const merged = runMarsh(["merge", "radiance", a, b, "-o", out, "--reference", a, "--json", "--quiet"]);
  expect(merged.code).toBe(0);
  const mean = runPython<number[]>(
    `import json, sys, cv2, tifffile; a = cv2.imread(sys.argv[1], -1)[..., ::-1]; m = tifffile.imread(sys.argv[2]); print(json.dumps([float(a[60:240, 60:360].mean()), float(m[m.shape[0]//2-80:m.shape[0]//2+80, m.shape[1]//2-120:m.shape[1]//2+120].mean())]))`,
    [a, out],
  );
  expect(mean[1] / mean[0]).toBeGreaterThan(0.9);
  expect(mean[1] / mean[0]).toBeLessThan(1.1);
});
