/**
 * PNG of every colour type, depth and order of rows, held to PIL, sample by sample; what they say of their colour; and bombs. The interlaced ones are put
 * together here after PNG specification, third edition, 8.2, and PIL judges them too.
 */
import { sentence } from "../../../src/messages/sentence";
import { readFileSync } from "node:fs";
import { join } from "node:path";
import { deflateSync } from "node:zlib";
import { encodeSrgb } from "../../../src/core/color/srgbCurve";
import { crc32 } from "../../../src/formats/archive/crc32";
import { concatBytes } from "../../../src/formats/bytes";
import { readPng } from "../../../src/formats/png/readPng";
import { readColor, readPicture } from "../../../src/formats/readPicture";
import { loadCodecs } from "../../support/kernels";
import { runPython, temporaryFolder } from "../../support/python";

const MAKE = `
import json, struct, sys, zlib, numpy as np
from PIL import Image
out = sys.argv[1]
rng = np.random.default_rng(4)
CHANNELS = {0: 1, 2: 3, 3: 1, 4: 2, 6: 4}
ADAM7 = [(0, 0, 8, 8), (4, 0, 8, 8), (0, 4, 4, 8), (2, 0, 4, 4), (0, 2, 2, 4), (1, 0, 2, 2), (0, 1, 1, 2)]
def chunk(t, d): return struct.pack('>I', len(d)) + t + d + struct.pack('>I', zlib.crc32(t + d))
def rows(a, depth):
    # a: rows x samples of codes; every filter in turn
    if depth == 16: b = a.astype('>u2').view(np.uint8).reshape(a.shape[0], -1)
    elif depth == 8: b = a.astype(np.uint8)
    else:
        bits = ((a[..., None].astype(int) >> np.arange(depth - 1, -1, -1)) & 1).reshape(a.shape[0], -1).astype(np.uint8)
        b = np.packbits(bits, axis=1)
    return b
def filtered(b, step, first):
    raw, before = b'', np.zeros(b.shape[1], int)
    for y, line in enumerate(b.astype(int)):
        left = np.concatenate([np.zeros(step, int), line[:-step] if line.size > step else line[:0]])[:line.size]
        corner = np.concatenate([np.zeros(step, int), before[:-step] if line.size > step else before[:0]])[:line.size]
        kind = (y + first) % 5
        p = left + before - corner
        pa, pb, pc = abs(p - left), abs(p - before), abs(p - corner)
        paeth = np.where((pa <= pb) & (pa <= pc), left, np.where(pb <= pc, before, corner))
        guess = [0 * line, left, before, (left + before) // 2, paeth][kind]
        raw += bytes([kind]) + ((line - guess) & 255).astype(np.uint8).tobytes()
        before = line
    return raw
made = []
for size in ((37, 23), (64, 40)):
    w, h = size
    for color, depths in {0: (1, 2, 4, 8, 16), 2: (8, 16), 3: (1, 2, 4, 8), 4: (8, 16), 6: (8, 16)}.items():
        for depth in depths:
            n = CHANNELS[color]
            v = rng.integers(0, 2 ** depth, (h, w, n))
            for lace in (0, 1):
                raw = b''
                step = max(1, n * depth // 8)
                for x, y, sx, sy in (ADAM7 if lace else [(0, 0, 1, 1)]):
                    part = v[y::sy, x::sx]
                    if part.size: raw += filtered(rows(part.reshape(part.shape[0], -1), depth), step, depth + lace)
                z = zlib.compress(raw)
                cut = len(z) // 3
                palette = chunk(b'PLTE', bytes(rng.integers(0, 256, 3 * 2 ** depth, dtype=np.uint8))) if color == 3 else b''
                name = f'c{color}_d{depth}_{w}' + ('_laced' if lace else '')
                open(f'{out}/{name}.png', 'wb').write(b'\\x89PNG\\r\\n\\x1a\\n' + chunk(b'IHDR', struct.pack('>IIBBBBB', w, h, depth, color, 0, 0, lace)) + palette
                    + chunk(b'IDAT', z[:cut]) + chunk(b'IDAT', z[cut:]) + chunk(b'IEND', b''))
                if depth == 16:
                    # PIL reads these at 8 bits or not at all: the codes themselves are the truth
                    rgb = v[..., :3] if n >= 3 else np.repeat(v[..., :1], 3, -1)
                else:
                    i = Image.open(f'{out}/{name}.png')
                    i = i.convert('RGB') if color != 4 else i.getchannel('L').convert('RGB')
                    if color == 6: i = Image.merge('RGB', Image.open(f'{out}/{name}.png').split()[:3])
                    rgb = np.asarray(i)
                np.ascontiguousarray(rgb).astype(np.uint16).tofile(f'{out}/{name}.u16')
                if color in (4, 6):
                    (v[..., -1].astype(np.uint32) * (1 if depth == 16 else 257)).astype(np.uint16).tofile(f'{out}/{name}.a16')
                made.append(name)
print(json.dumps(made))
`;
const folder = temporaryFolder();
const made = runPython<string[]>(MAKE, [folder]);

it.each(made)("%s is read as PIL reads it", (name) => {
  const { raster, alpha, notes } = readPng(new Uint8Array(readFileSync(join(folder, `${name}.png`))));
  const codes = (kind: string) => {
    const truth = readFileSync(join(folder, `${name}.${kind}`));
    return [...new Uint16Array(truth.buffer.slice(truth.byteOffset, truth.byteOffset + truth.byteLength))];
  };
  expect([...raster.data]).toEqual(codes("u16"));
  expect(alpha && [...alpha.samples]).toEqual(/^c[46]/.test(name) ? codes("a16") : null);
  expect(raster.bits).toBe(name.includes("d16") ? 16 : 8);
  expect(notes).toEqual([]);
});

/** A grey picture of 20×20 px with further chunks before its pixels. */
function png(chunks: [type: string, data: number[] | Uint8Array][], idat = deflateSync(new Uint8Array(20 * 21)), size = [20, 20]): Uint8Array {
  const chunk = (type: string, data: Uint8Array) => {
    const body = concatBytes([new TextEncoder().encode(type), data]);
    const out = new Uint8Array(8 + body.length);
    new DataView(out.buffer).setUint32(0, data.length);
    out.set(body, 4);
    new DataView(out.buffer).setUint32(4 + body.length, crc32(body));
    return out;
  };
  const header = new Uint8Array(13);
  new DataView(header.buffer).setUint32(0, size[0]);
  new DataView(header.buffer).setUint32(4, size[1]);
  header[8] = 8;
  return concatBytes([
    Uint8Array.from([0x89, 0x50, 0x4e, 0x47, 13, 10, 26, 10]),
    chunk("IHDR", header),
    ...chunks.map(([type, data]) => chunk(type, Uint8Array.from(data))),
    chunk("IDAT", Uint8Array.from(idat)),
    chunk("IEND", new Uint8Array(0)),
  ]);
}
const words = (...values: number[]) => values.flatMap((v) => [v >>> 24, (v >> 16) & 255, (v >> 8) & 255, v & 255]);

it("what a PNG says of its colour counts, in the order of the specification", async () => {
  const gamma = (v: number): [string, number[]] => ["gAMA", words(v)];
  expect((await readColor(png([]))).name).toBe("sRGB");
  expect((await readColor(png([gamma(45455)]))).name).toBe("sRGB");
  expect((await readColor(png([["sRGB", [0]], gamma(100_000)]))).name).toBe("sRGB");
  const linear = await readColor(png([gamma(100_000)]));
  expect(linear.name).toBe("Rec. 709, gamma 1");
  expect(linear.curves[0](0.25)).toBe(0.25);
  // Display P3's primaries as the standard states them (SMPTE RP 431-2, D65)
  const p3 = await readColor(png([gamma(45455), ["cHRM", words(31270, 32900, 68000, 32000, 26500, 69000, 15000, 6000)]]));
  const coded = await readColor(png([["cICP", [12, 13, 0, 1]], gamma(100_000)]));
  expect(coded.name).toBe("Display P3, sRGB curve");
  coded.toWorking.forEach((v, i) => expect(p3.toWorking[i]).toBeCloseTo(v, 4));
  expect(coded.curves[0](encodeSrgb(0.3))).toBeCloseTo(0.3, 5);
});

it("colour that is not understood is said, and light above white stays float", async () => {
  const codecs = await loadCodecs();
  const unknown = await readPicture(png([["cICP", [77, 13, 0, 1]]]), codecs);
  expect(unknown.notes.map(sentence)).toEqual([
    "The picture's colour is coded in a way Marsh does not know (primaries 77, curve 13). The picture is taken as sRGB.",
  ]);
  const profile = await readPicture(png([["iCCP", [65, 0, 0, 1, 2, 3]]]), codecs);
  expect(profile.notes.map(sentence)).toEqual(["The embedded colour profile is damaged. The picture is taken as sRGB."]);
  expect((await readPicture(png([["cICP", [9, 16, 0, 1]]]), codecs)).raster.bits).toBe(32);
});

it("pixels that are not there, too many of them, and turned bits are refused", () => {
  const whole = png([]);
  expect(readPng(whole).raster.width).toBe(20);
  for (let n = 0; n < whole.length; n++) expect(() => readPng(whole.slice(0, n))).toThrow(/^png\./);
  expect(() => readPng(png([], deflateSync(new Uint8Array(20 * 21 - 1))))).toThrow("png.damaged");
  expect(() => readPng(png([], deflateSync(new Uint8Array(40_000_000))))).toThrow("png.damaged");
  expect(() => readPng(png([], deflateSync(new Uint8Array(20 * 21)), [30_000, 4000]))).toThrow("png.damaged");
  for (let bit = 8 * 8; bit < 8 * whole.length; bit += 3) {
    const turned = whole.slice();
    turned[bit >> 3] ^= 1 << (bit & 7);
    expect(() => readPng(turned)).toThrow(/^png\.|^file\.picture/);
  }
});
