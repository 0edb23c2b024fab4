/**
 * OpenEXR in every way of packing that is read, held to OpenEXR's own library as OpenCV brings it, sample by sample; tiles, levels and files of several
 * parts as Debian's OpenEXR tools make them.
 */
import { sentence } from "../../../src/messages/sentence";
import { readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { readExr } from "../../../src/formats/exr/readExr";
import { runPython, temporaryFolder } from "../../support/python";

const MAKE = `
import cv2, json, sys, subprocess, numpy as np
out = sys.argv[1]
rng = np.random.default_rng(11)
def scene(w, h):
    y, x = np.mgrid[0:h, 0:w].astype(np.float32)
    smooth = np.stack([0.001 + x / 20, y * y / 90, (x + 2 * y) / 50], -1)
    v = smooth * np.exp(rng.normal(size=(h, w, 1)) * 0.05) + (rng.random((h, w, 1)) < 0.1) * rng.random((h, w, 3)) * 50 - 0.02
    v[h // 3:h // 2, w // 4:w // 2] = 0.25
    return v.astype(np.float32)
ways = {'none': 'NO', 'rle': 'RLE', 'zips': 'ZIPS', 'zip': 'ZIP', 'piz': 'PIZ', 'pxr24': 'PXR24', 'b44': 'B44', 'b44a': 'B44A'}
made = []
for size in ((61, 40), (300, 217)):
    for kind in ('HALF', 'FLOAT'):
        for name, way in ways.items():
            file = f'{name}_{kind.lower()}_{size[0]}.exr'
            cv2.imwrite(f'{out}/{file}', scene(*size), [cv2.IMWRITE_EXR_TYPE, getattr(cv2, 'IMWRITE_EXR_TYPE_' + kind), cv2.IMWRITE_EXR_COMPRESSION, getattr(cv2, 'IMWRITE_EXR_COMPRESSION_' + way)])
            made.append(file)
cv2.imwrite(f'{out}/grey.exr', scene(90, 70)[..., 0]); made.append('grey.exr')
for name, how in (('tiled', ['-o', '-t', '64', '32', '-z', 'piz']), ('mip', ['-m', '-t', '64', '64', '-z', 'zip']), ('rip', ['-r', '-t', '32', '64', '-z', 'pxr24']), ('tiledraw', ['-o', '-t', '50', '50', '-z', 'none'])):
    subprocess.run(['exrmaketiled', *how, f'{out}/zip_float_300.exr', f'{out}/{name}.exr'], check=True); made.append(name + '.exr')
subprocess.run(['exrmultipart', '-combine', '-i', f'{out}/piz_half_300.exr', f'{out}/rip.exr', '-o', f'{out}/parts.exr'], check=True, stdout=subprocess.DEVNULL)
cv2.imwrite(f'{out}/dwaa.exr', scene(61, 40), [cv2.IMWRITE_EXR_COMPRESSION, cv2.IMWRITE_EXR_COMPRESSION_DWAA])
for file in made:
    v = cv2.imread(f'{out}/{file}', cv2.IMREAD_UNCHANGED)
    v = np.repeat(v[..., None], 3, -1) if v.ndim == 2 else v[..., ::-1]
    np.ascontiguousarray(v, dtype=np.float32).tofile(f'{out}/{file}.f32')
print(json.dumps(made))
`;
const folder = temporaryFolder();
const made = runPython<string[]>(MAKE, [folder]);
const bytesOf = (name: string) => new Uint8Array(readFileSync(join(folder, name)));
const truthOf = (name: string) => {
  const bytes = readFileSync(join(folder, `${name}.f32`));
  return new Float32Array(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength));
};
const differing = (a: ArrayLike<number>, b: ArrayLike<number>) => Array.from(b).filter((v, i) => !Object.is(a[i], v) && a[i] !== v).length;

it.each(made)("%s is read as OpenEXR's own library reads it", (name) => {
  const { raster } = readExr(bytesOf(name));
  const truth = truthOf(name);
  expect(raster.data).toHaveLength(truth.length);
  expect(differing(raster.data, truth)).toBe(0);
});

it("of a file of several parts the first picture is read, and said", () => {
  const { raster, notes } = readExr(bytesOf("parts.exr"));
  expect(differing(raster.data, truthOf("piz_half_300.exr"))).toBe(0);
  expect(notes.map(sentence)).toEqual(["The file holds 2 parts; “piz_half_300” is used."]);
});

it("what is not read is refused by name", () => {
  expect(() => readExr(bytesOf("dwaa.exr"))).toThrow(/exr.compression.*DWAA/);
});

it("cut anywhere, it is refused", () => {
  for (const name of ["piz_half_61.exr", "zip_float_61.exr", "pxr24_half_61.exr", "none_float_61.exr", "b44_half_61.exr", "rip.exr", "parts.exr"]) {
    const bytes = bytesOf(name);
    for (let k = 0; k < 40; k++) expect(() => readExr(bytes.slice(0, Math.floor((bytes.length * k) / 40)))).toThrow(/exr.damaged/);
  }
});

/** Turned bits that OpenEXR's library refuses are refused here as well; what both read is the same. */
it("with turned bits it is read as OpenEXR reads it, or refused", () => {
  const JUDGE = `
import cv2, json, sys, os, numpy as np
out = []
for f in json.load(open(sys.argv[1])):
    try: v = cv2.imread(f, cv2.IMREAD_UNCHANGED)
    except cv2.error: v = None
    if v is None: out.append(0); continue
    v = np.repeat(v[..., None], 3, -1) if v.ndim == 2 else v[..., ::-1]
    np.ascontiguousarray(v, dtype=np.float32).tofile(f + '.f32'); out.append(1)
print(json.dumps(out))
`;
  let seed = 5;
  const random = () => (seed = (seed * 1103515245 + 12345) % 2 ** 31) / 2 ** 31;
  const names: string[] = [];
  for (const name of ["piz_half_61.exr", "zip_float_61.exr", "pxr24_float_61.exr", "rle_half_61.exr", "b44_half_61.exr"]) {
    for (let k = 0; k < 24; k++) {
      const bytes = bytesOf(name);
      for (let n = 0; n < 1 + (k % 4); n++) bytes[400 + Math.floor(random() * (bytes.length - 400))] ^= 1 << Math.floor(random() * 8);
      names.push(`flip_${k}_${name}`);
      writeFileSync(join(folder, names[names.length - 1]), bytes);
    }
  }
  writeFileSync(join(folder, "list.json"), JSON.stringify(names.map((n) => join(folder, n))));
  const read = runPython<number[]>(JUDGE, [join(folder, "list.json")]);
  const wrong = names.filter((name, i) => {
    let own: ArrayLike<number> | null = null;
    try {
      own = readExr(bytesOf(name)).raster.data;
    } catch {
      return false;
    }
    return !read[i] || differing(own, truthOf(name)) > 0;
  });
  expect(wrong).toEqual([]);
});
