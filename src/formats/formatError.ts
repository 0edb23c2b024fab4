import { message, ToldError, type Telling } from "../messages/message";
/** Why a file could not be read. */
export class FormatError extends ToldError {
  override readonly name = "FormatError";
  constructor(
    readonly reason: "damaged" | "unsupported" | "limit" | "hostile",
    told: Telling,
  ) {
    super(told);
  }
}

/** Stated limits; what is over them is refused by name. */
export const LIMITS = {
  side: 30_000,
  pixels: 120_000_000,
  smallestSide: 16,
  fileBytes: 2_000_000_000,
} as const;

/** @throws FormatError where a picture's size is outside the stated limits */
export function checkPictureSize(width: number, height: number): void {
  if (!(width >= 1 && height >= 1)) throw new FormatError("damaged", "file.emptyPicture");
  if (Math.min(width, height) < LIMITS.smallestSide) {
    throw new FormatError("limit", message("file.pictureTooSmall", { size: `${width}×${height}`, least: LIMITS.smallestSide }));
  }
  if (Math.max(width, height) > LIMITS.side || width * height > LIMITS.pixels) {
    const values = { size: `${width}×${height}`, side: LIMITS.side, mp: LIMITS.pixels / 1e6 };
    throw new FormatError("limit", message("file.pictureTooLarge", values));
  }
}
