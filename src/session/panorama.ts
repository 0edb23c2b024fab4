import type { Attitude } from "../core/panorama/camera";
import { layOut } from "../core/panorama/layout";
import { PROJECTION_NAMES, type ProjectionName } from "../core/panorama/projections";
import { setPanorama, setPanoramaView } from "../document/panoramaEdits";
import type { PanoramaPoint, Records } from "../document/records/types";
import { activeFramesOf, panoramaCamerasOf, panoramaOf } from "../document/selectors";
import { engine } from "./engine";
import { edit, notify, runTask, useSession } from "./session";

const { getState: get } = useSession;

/** Finds directions, lens and light of the set worked on. @param change what is to differ from what was asked for before */
export async function registerPanorama(change: { focalPx?: number | null; points?: PanoramaPoint[] } = {}): Promise<void> {
  const { records } = get();
  const before = panoramaOf(records);
  const frames = activeFramesOf(records);
  if (frames.length < 2) {
    notify("A panorama needs at least two frames that overlap.");
    return;
  }
  const request = { focalPx: before?.lens.toldFocalPx ?? null, points: before?.points ?? [], projection: before?.view.projection ?? null, ...change };
  const found = await runTask("register", "Looking at the frames", (signal, onProgress) =>
    engine.call("preparePanorama", { frames, request }, { signal, onProgress }),
  );
  if (!found) return;
  const left = found.panorama.frames.filter((f) => !f.rotation).length;
  edit(setPanorama(found.registration, found.panorama), {
    stage: "register",
    label: `Panorama of ${frames.length - left} frames laid out${left ? `, ${left} left out` : ""}`,
  });
}

/** Shows the panorama in another projection or turned otherwise, as one step. */
export async function showPanorama(change: { attitude?: Attitude; projection?: ProjectionName }, label: string): Promise<void> {
  const { records } = get();
  const panorama = panoramaOf(records);
  if (!panorama) return;
  const projection = change.projection ?? panorama.view.projection;
  const view = layOut(panoramaCamerasOf(records), change.attitude ?? panorama.view, projection);
  if (!view) {
    notify(`${PROJECTION_NAMES[projection]} cannot show all of these frames.`);
    return;
  }
  const shown = (crop: { x: number; y: number; width: number; height: number }) => (r: Records) => setPanoramaView(view, crop)(r);
  const whole = { x: 0, y: 0, width: view.width, height: view.height };
  const fits = await engine.call("panoramaCrop", { records: shown(whole)(records), ratio: null });
  edit(shown(fits?.crop ?? whole), { stage: "register", label });
}
