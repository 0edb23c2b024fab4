import { message } from "../messages/message";
import type { FrameRecord, Records } from "../document/records/types";
import { layOtherSky, proposedSky, skyPlate } from "../document/skyEdits";
import { updateLayer } from "../document/layerEdits";
import type { LayerRecord } from "../document/records/layerTypes";
import { layerOf, mergeOf, plateOf } from "../document/selectors";
import { pictureIdOf } from "../document/sourceIds";
import { plateNow, tellPlate } from "../document/seatEdits";
import { openJob } from "./openJob";
import { notify, useSession } from "./store";

/** Lays another frame's sky in place of the plate's; where one of them shows no sky, that is said and nothing changes. */
export async function exchangeSky(frame: FrameRecord, layerName: string): Promise<void> {
  const { records } = useSession.getState();
  const [plate, on] = [plateNow(records), skyPlate(records)];
  if (!plate || !on) return;
  const job = openJob();
  let isDone = false;
  const told = await job.run("compose", "task.looking", async (signal, onProgress) => {
    const old = await job.ask("measureSky", { frame: on.land }, { signal, onProgress });
    const own = await job.ask("measureSky", { frame }, { signal, onProgress });
    isDone = true;
    return old && own && { old, own };
  });
  if (!isDone) return;
  if (!told) {
    notify("plate.noSky");
    return;
  }
  const from = (r: Records) => [plateOf(r), mergeOf(r), ...[on.land.id, frame.id].map((id) => r[id]?.kind === "frame" && pictureIdOf(r[id]))];
  const content = proposedSky(plate, on.size, on.land, frame, told.old, told.own);
  // the plate is told as it was taken to be
  const change = (r: Records) => layOtherSky(content, layerName)(tellPlate({})(r));
  job.apply(records, from, change, { stage: "compose", label: message("step.skyLaid", { name: frame.fileName }) });
}

/** Gives the air of a mist the light that the plate shows just above its horizon; where it shows no sky, that is said and nothing changes. */
export async function airAtHorizon(layer: LayerRecord): Promise<void> {
  const on = skyPlate(useSession.getState().records);
  if (!on) return;
  const job = openJob();
  const { records } = useSession.getState();
  let isDone = false;
  const told = await job.run("compose", "task.looking", async (signal, onProgress) => {
    const sky = await job.ask("measureSky", { frame: on.land }, { signal, onProgress });
    isDone = true;
    return sky;
  });
  if (!told) {
    if (isDone) notify("plate.noSky");
    return;
  }
  const now = (r: Records) => layerOf(r, layer.id)?.content;
  const change = (r: Records) => {
    const content = now(r);
    return content?.type === "mist" ? updateLayer(layer.id, { content: { ...content, color: told.horizonColor } })(r) : r;
  };
  job.apply(records, (r) => [now(r)?.type], change, { stage: "compose", label: "step.airAsHorizon" });
}
