import { Printer } from "../../../formats/icc/printer";
import type { ColorLibrary } from "../../../formats/icc/tableProfile";
import type { EngineContext } from "../../EngineContext";

/** What a profile calls itself and what it drives: RGB, CMYK, GRAY. @throws FormatError where it is none or cannot print */
export async function readTarget(ctx: EngineContext, profile: Uint8Array): Promise<{ name: string; device: string }> {
  const { name, device } = Printer.open(profile, { intent: "relative", blackPoint: true }, await ctx.codecs.start<ColorLibrary>("profiles"));
  return { name, device };
}
