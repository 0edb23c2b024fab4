import { ZipWriter } from "../archive/ZipWriter";
import { asciiBytes } from "../bytes";

/** One picture with alpha as the only layer of a file. */
export interface OraPicture {
  width: number;
  height: number;
  /** as the layer is called */
  name: string;
  /** PNG files: the layer, and one of at most 256 px */
  picture: Uint8Array;
  thumbnail: Uint8Array;
}

/** @see OpenRaster 0.0.6, file layout and layer stack; recalled from memory @returns the file in parts, in order */
export function writeOra({ width, height, name, picture, thumbnail }: OraPicture): Uint8Array[] {
  const parts: Uint8Array[] = [];
  const zip = new ZipWriter((bytes) => parts.push(bytes));
  const layer = element("layer", { name, src: "data/layer.png", x: "0", y: "0", opacity: "1", visibility: "visible", "composite-op": "svg:src-over" });
  const stack = element("image", { version: "0.0.3", w: String(width), h: String(height) }, element("stack", {}, layer));
  zip.add("mimetype", asciiBytes("image/openraster"));
  zip.add("stack.xml", new TextEncoder().encode(stack));
  zip.add("data/layer.png", picture);
  zip.add("mergedimage.png", picture);
  zip.add("Thumbnails/thumbnail.png", thumbnail);
  zip.finish();
  return parts;
}

const element = (name: string, attributes: Record<string, string>, content = ""): string =>
  `<${name}${Object.entries(attributes)
    .map(([key, value]) => ` ${key}="${escaped(value)}"`)
    .join("")}>${content}</${name}>`;

/** What XML does not allow at all is left out. */
const escaped = (text: string) =>
  [...text]
    .filter((c) => c >= " ")
    .map((c) => ({ "&": "&amp;", "<": "&lt;", ">": "&gt;", '"': "&quot;" })[c] ?? c)
    .join("");
