import { AVIF } from "./avif/reader";
import { EXR } from "./exr/reader";
import { HDR } from "./hdr/reader";
import { JPEG } from "./jpeg/reader";
import type { PictureReader } from "./pictureReader";
import { ORA } from "./ora/reader";
import { PNG } from "./png/reader";
import { RAW } from "./raw/reader";
import { TIFF } from "./tiff/reader";
import { WEBP } from "./webp/reader";

/** All formats of pictures that are read. */
export const PICTURE_READERS: PictureReader[] = [JPEG, PNG, EXR, HDR, WEBP, AVIF, ORA, TIFF];

/** The reader of a file, by its content. Sensor data comes in many containers; its decoder says whether it knows this one. */
export const readerOf = (bytes: Uint8Array): PictureReader => PICTURE_READERS.find((reader) => reader.is(bytes)) ?? RAW;
