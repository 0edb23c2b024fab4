import type { GreyPyramid } from "../../../core/register/greyPyramid";
import type { FrameRecord } from "../../../document/records/types";
import type { EngineContext } from "../../EngineContext";
import { bytesHeld } from "../../graph/bytesHeld";
import { contentKey } from "../../graph/keys";
import { greyOfFrame } from "./greyOfSource";

const GREY_VERSION = 1;

/** The grey pyramid of a frame, kept while a person works on it. */
export function heldGrey(ctx: EngineContext, frame: FrameRecord): Promise<GreyPyramid> {
  const key = contentKey("grey", GREY_VERSION, [frame.sourceId, frame.development.lens]);
  return ctx.cache.takeLong(key, () => greyOfFrame(ctx, frame), bytesHeld);
}
