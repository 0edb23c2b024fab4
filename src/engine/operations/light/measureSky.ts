import { LUMINANCE } from "../../../core/color/primaries";
import { levelOfSide, sizeAtLevel } from "../../../core/geometry/rectangle";
import { skyFigures, type SkyFigures } from "../../../core/light/skyFigures";
import type { FrameRecord } from "../../../document/records/types";
import type { EngineContext } from "../../EngineContext";
import { framePicture } from "../matte/cutPicture";

/** Longest side that a sky is looked at in, samples. */
const SIDE = 480;

/** What a frame shows of its sky, px of the frame; null where it shows none. */
export async function measureSky(ctx: EngineContext, frame: FrameRecord): Promise<SkyFigures | null> {
  const picture = await framePicture(ctx, frame);
  const level = Math.min(picture.levels - 1, Math.max(0, levelOfSide(picture, SIDE)));
  const size = sizeAtLevel(picture.width, picture.height, level);
  const told = skyFigures(picture.read(level, { x: 0, y: 0, ...size }), size.width, size.height, LUMINANCE);
  if (!told) return null;
  const up = (v: number) => (v + 0.5) * 2 ** level - 0.5;
  return {
    ...told,
    bottom: Math.min(picture.height - 1, up(told.bottom)),
    horizon: Math.min(picture.height - 1, up(told.horizon)),
    sun: told.sun && [up(told.sun[0]), up(told.sun[1])],
  };
}
