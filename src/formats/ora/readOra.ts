import { bytesInMemory, readZip } from "../archive/readZip";
import { FormatError } from "../formatError";

const damaged = () => new FormatError("damaged", "ora.damaged");
const TYPE = "image/openraster";
/** Where the type stands in a zip whose first entry is it, stored. */
const [NAME_AT, TYPE_AT] = [30, 38];

/** Whether a file says that it is one. @see OpenRaster 0.0.6, file layout: "mimetype" comes first, stored; recalled from memory */
export function isOra(bytes: Uint8Array): boolean {
  const text = (at: number, length: number) => String.fromCharCode(...bytes.subarray(at, at + length));
  return text(0, 4) === "PK\x03\x04" && text(NAME_AT, 8) === "mimetype" && text(TYPE_AT, TYPE.length) === TYPE;
}

/** The PNG of all its layers as whoever wrote it saw them together. @throws FormatError with one sentence */
export async function mergedImage(bytes: Uint8Array): Promise<Uint8Array> {
  const entry = (await readZip(bytesInMemory(bytes))).find((e) => e.name === "mergedimage.png");
  if (!entry) throw damaged();
  return entry.read();
}
