/** Why a file could not be read. `message` is one sentence for people. */
export class FormatError extends Error {
  override readonly name = "FormatError";
  constructor(
    readonly reason: "damaged" | "unsupported" | "limit" | "hostile",
    message: string,
  ) {
    super(message);
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
  if (!(width >= 1 && height >= 1)) throw new FormatError("damaged", "The file states an empty picture.");
  if (Math.min(width, height) < LIMITS.smallestSide) {
    throw new FormatError("limit", `The picture is ${width}×${height} px; the smallest side Marsh works with is ${LIMITS.smallestSide} px.`);
  }
  if (Math.max(width, height) > LIMITS.side || width * height > LIMITS.pixels) {
    throw new FormatError("limit", `The picture is ${width}×${height} px; the limits are ${LIMITS.side} px a side and ${LIMITS.pixels / 1e6} MP.`);
  }
}
