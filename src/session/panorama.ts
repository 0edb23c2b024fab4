import { message, type Telling } from "../messages/message";
import type { Attitude, Vector3 } from "../core/panorama/camera";
import { bentView } from "../core/panorama/fillRectangle";
import { layOut } from "../core/panorama/layout";
import { levelByLines, tellsLevel, type LevelLine } from "../core/panorama/level";
import type { ProjectionName } from "../core/panorama/projections";
import { levelPinOf, setLevels, setPanorama, setPanoramaView } from "../document/panoramaEdits";
import type { LevelPin, PanoramaPoint } from "../document/records/panoramaTypes";
import type { Records } from "../document/records/types";
import { activeFramesOf, levelLinesOf, panoramaCamerasOf, panoramaOf, workingSetIdOf } from "../document/selectors";
import { edit, openJob } from "./openJob";
import { notify, useSession } from "./store";
import { pictureIdOf } from "../document/sourceIds";

const { getState: get } = useSession;

/** What the layout of a panorama depends on. */
const taking = (r: Records) => [workingSetIdOf(r), activeFramesOf(r).map((f) => [f.id, pictureIdOf(f), f.development])];

/** Finds directions, lens and light of the set worked on. @param change what is to differ from what was asked for before */
export async function registerPanorama(change: { focalPx?: number | null; points?: PanoramaPoint[] } = {}): Promise<void> {
  const job = openJob();
  const { records } = get();
  const before = panoramaOf(records);
  const frames = activeFramesOf(records);
  if (frames.length < 2) {
    notify("panorama.twoFrames");
    return;
  }
  const request = {
    focalPx: before?.lens.toldFocalPx ?? null,
    points: before?.points ?? [],
    levels: before?.levels ?? [],
    bent: before?.view.bend?.amount ?? 0,
    projection: before?.view.projection ?? null,
    ...change,
  };
  const found = await job.run("register", "task.looking", (signal, onProgress) => job.ask("preparePanorama", { frames, request }, { signal, onProgress }));
  if (!found) return;
  const left = found.panorama.frames.filter((f) => !f.rotation).length;
  job.apply(records, taking, setPanorama(found.registration, found.panorama), {
    stage: "register",
    label: left > 0 ? message("step.laidOutSome", { count: frames.length - left, left }) : message("step.laidOut", { count: frames.length }),
  });
}

/** How the panorama is to be shown otherwise. @property levels lines said to be level or upright, which go with the step */
interface Shown {
  attitude?: Attitude;
  projection?: ProjectionName;
  bent?: number;
  levels?: LevelPin[];
}

/** Shows the panorama in another projection, turned or bent otherwise, as one step. */
export async function showPanorama(change: Shown, label: Telling): Promise<void> {
  const job = openJob();
  const { records } = get();
  const panorama = panoramaOf(records);
  if (!panorama) return;
  const projection = change.projection ?? panorama.view.projection;
  const cameras = panoramaCamerasOf(records);
  const flat = layOut(cameras, change.attitude ?? panorama.view, projection);
  if (!flat) {
    notify(message("registering.cannotShow", { projection: message(`projection.${projection}`, {}) }));
    return;
  }
  const view = bentView(flat, cameras, change.bent ?? panorama.view.bend?.amount ?? 0);
  const shown = (crop: { x: number; y: number; width: number; height: number }) => (r: Records) =>
    setLevels(change.levels ?? panorama.levels)(setPanoramaView(view, crop)(r));
  const whole = { x: 0, y: 0, width: view.width, height: view.height };
  const fits = await job.ask("panoramaCrop", { records: shown(whole)(records), ratio: null });
  job.apply(records, (r) => panoramaOf(r), shown(fits?.crop ?? whole), { stage: "register", label });
}

/** Takes a line as level or upright, and levels the picture by all such lines. @param a @param b its ends; null where the picture shows no direction */
export async function addLevel(kind: LevelLine["kind"], a: Vector3 | null, b: Vector3 | null): Promise<void> {
  const { records } = get();
  const panorama = panoramaOf(records);
  if (!panorama) return;
  const line = a && b && { kind, a, b };
  if (line && !tellsLevel(line)) {
    notify("registering.tooNear");
    return;
  }
  const pin = line && levelPinOf(records, line);
  if (!pin) {
    notify("registering.noFrame");
    return;
  }
  const levels = [...panorama.levels, pin];
  const attitude = levelByLines(panorama.view, [...levelLinesOf(records).map((l) => l.line), line]);
  await showPanorama({ attitude: attitude ?? undefined, levels }, kind === "level" ? "step.levelled" : "step.madeUpright");
}

/** Forgets a line; the picture stays as it lies. */
export const removeLevel = (pin: LevelPin) =>
  edit(setLevels((panoramaOf(get().records)?.levels ?? []).filter((l) => l !== pin)), { stage: "register", label: "step.lineRemoved" });
