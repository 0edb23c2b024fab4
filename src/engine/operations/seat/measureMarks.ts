import { intersect } from "../../../core/geometry/rectangle";
import { GroundCamera } from "../../../core/seat/groundCamera";
import type { ShadowMark } from "../../../core/seat/lightFromShadows";
import { shadowReach, type ShadowFigures } from "../../../core/seat/measureShadow";
import type { Stance } from "../../../core/seat/upright";
import type { FrameRecord } from "../../../document/records/types";
import { pictureIdOf } from "../../../document/sourceIds";
import type { EngineContext } from "../../EngineContext";
import { bytesHeld } from "../../graph/bytesHeld";
import { contentKey } from "../../graph/keys";
import type { Task } from "../../task";
import { colorOf, openFrame, SOURCE_VERSION } from "../frames/sources";
import { cutPicture } from "../matte/cutPicture";

const SHADOW_VERSION = 2;
/** A shadow whose surroundings have more px is not measured. */
const MOST_PX = 20e6;

/** What each marked shadow of a plate tells of its light; null where none is seen. @param p.light towards it */
export async function measureMarks(
  ctx: EngineContext,
  p: { frame: FrameRecord; stance: Stance; heightM: number; marks: readonly ShadowMark[]; light: { azimuthDeg: number; elevationDeg: number } },
  task: Task,
): Promise<(ShadowFigures | null)[]> {
  const { frame, stance, heightM, marks } = p;
  const light = { azimuthDeg: p.light.azimuthDeg, elevationDeg: p.light.elevationDeg };
  const picture = cutPicture(ctx, { file: await openFrame(ctx, frame), color: await colorOf(ctx, frame.sourceId) }, pictureIdOf(frame));
  const size = { width: picture.width, height: picture.height };
  const out: (ShadowFigures | null)[] = [];
  const camera = new GroundCamera(size, stance, heightM);
  for (const [i, mark] of marks.entries()) {
    const progress = () => task.step(i, marks.length, "task.shadows");
    await progress();
    const around = shadowReach(camera, mark);
    const rect = around && intersect(around, { x: 0, y: 0, ...size });
    if (!rect || rect.width < 2 || rect.height < 2 || rect.width * rect.height > MOST_PX) {
      out.push(null);
      continue;
    }
    const measure = () => ctx.pool.run("measureShadow", { size, stance, heightM, mark, light, rect, planes: picture.read(0, rect) }, progress);
    // a bench that is opened again asks again, and so does Proof
    const key = contentKey("shadow", SHADOW_VERSION, [SOURCE_VERSION, pictureIdOf(frame), stance, heightM, mark, light]);
    out.push(await ctx.cache.takeLong(key, measure, bytesHeld));
  }
  return out;
}
