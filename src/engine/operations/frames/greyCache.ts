import type { GreyPyramid } from "../../../core/register/greyPyramid";
import type { FrameRecord } from "../../../document/records/types";
import { pictureIdOf } from "../../../document/sourceIds";
import type { EngineContext } from "../../EngineContext";
import { bytesHeld } from "../../graph/bytesHeld";
import { contentKey } from "../../graph/keys";
import { greyOfFrame } from "./greyOfSource";
import { SOURCE_VERSION } from "./sources";

const GREY_VERSION = 1;
const keyOf = (pictureId: string, lens: FrameRecord["development"]["lens"]) => contentKey("grey", GREY_VERSION, [SOURCE_VERSION, pictureId, lens]);

/** The grey pyramid of a frame, kept while there is room. */
export function heldGrey(ctx: EngineContext, frame: Pick<FrameRecord, "sourceId" | "quarterTurns" | "width" | "height" | "development">): Promise<GreyPyramid> {
  return ctx.cache.takeLong(keyOf(pictureIdOf(frame), frame.development.lens), () => greyOfFrame(ctx, frame), bytesHeld);
}

/** The pyramid of a frame as shot is at hand already. */
export function keepGrey(ctx: EngineContext, pictureId: string, grey: GreyPyramid): void {
  ctx.cache.set(keyOf(pictureId, null), grey, bytesHeld(grey));
}
