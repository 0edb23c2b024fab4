import { DataUtils, FloatType } from "three";
import { EXRLoader } from "three/examples/jsm/loaders/EXRLoader.js";
import type { SourceRaster } from "../../core/raster/raster";
import { viewOf } from "../bytes";
import { checkPictureSize, FormatError } from "../formatError";

/** What the loader gives: RGBA or luminance samples, rows from the bottom up. */
interface Loaded {
  data: Float32Array | Uint16Array;
  width: number;
  height: number;
}

/** Reads an OpenEXR picture, half or float, the compressions three.js knows. @throws FormatError with one sentence */
export function readExr(bytes: Uint8Array): SourceRaster {
  checkExrSize(bytes);
  return upright(load(() => new EXRLoader().setDataType(FloatType).parse(copyOf(bytes)) as unknown as Loaded, "OpenEXR"));
}

/** Looks at the data window before anything is allocated. @see "OpenEXR file layout", openexr.com: attributes are name, type, size, value */
function checkExrSize(bytes: Uint8Array): void {
  const view = viewOf(bytes);
  let p = 8;
  const text = () => {
    const end = bytes.indexOf(0, p);
    if (end < 0 || end - p > 255) throw damaged("OpenEXR");
    const value = String.fromCharCode(...bytes.subarray(p, end));
    p = end + 1;
    return value;
  };
  while (p < bytes.length && bytes[p] !== 0) {
    const name = text();
    text();
    if (p + 4 > bytes.length) break;
    const size = view.getInt32(p, true);
    if (size < 0 || p + 4 + size > bytes.length) break;
    if (name === "dataWindow" && size === 16) {
      const [x0, y0, x1, y1] = [4, 8, 12, 16].map((o) => view.getInt32(p + o, true));
      return checkPictureSize(x1 - x0 + 1, y1 - y0 + 1);
    }
    p += 4 + size;
  }
  throw damaged("OpenEXR");
}

const damaged = (name: string) => new FormatError("damaged", `The ${name} data is damaged or cut short and cannot be read.`);

const copyOf = (bytes: Uint8Array): ArrayBuffer => bytes.slice().buffer;

function load(parse: () => Loaded, name: string): Loaded {
  let picture: Loaded;
  try {
    picture = parse();
  } catch (reason) {
    const unsupported = /unsupported|not support|multi|deep/i.test((reason as Error).message ?? "");
    throw unsupported ? new FormatError("unsupported", `The ${name} picture is stored in a way Marsh does not read.`) : damaged(name);
  }
  if (!picture?.data || !(picture.width > 0)) throw damaged(name);
  return picture;
}

/** RGB from the top down; what is not a number becomes black, infinite light the largest half float. */
function upright(picture: Loaded): SourceRaster {
  const { width, height } = picture;
  const channels = picture.data.length / (width * height);
  const data = new Float32Array(width * height * 3);
  const read = picture.data instanceof Uint16Array ? (i: number) => DataUtils.fromHalfFloat(picture.data[i]) : (i: number) => picture.data[i];
  for (let y = 0; y < height; y++) {
    const row = (height - 1 - y) * width;
    for (let x = 0; x < width; x++) {
      for (let c = 0; c < 3; c++) {
        const v = read((row + x) * channels + (channels >= 3 ? c : 0));
        data[(y * width + x) * 3 + c] = Number.isNaN(v) ? 0 : Math.min(65504, Math.max(-65504, v));
      }
    }
  }
  return { width, height, bits: 32, data };
}
