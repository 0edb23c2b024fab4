import { message, type Telling } from "../messages/message";
import { IDENTITY, multiply } from "../core/geometry/matrix3";
import { revealedIfUntouched, updateLayer } from "../document/layerEdits";
import type { LayerRecord } from "../document/records/layerTypes";
import type { FrameRecord, Records } from "../document/records/types";
import { frameNumber, layerOf, mergedFramesOf } from "../document/selectors";
import { pictureIdOf } from "../document/sourceIds";
import { isTold, MOST_MARKS, type Cut, type CutMark, type FrameContent } from "../kinds/contents/frame/record";
import type { CutoutFormat } from "../engine/operations/matte/exportCutout";
import { download } from "./download";
import { fileNameOf } from "./jobCopy";
import { edit, openJob } from "./openJob";
import { notify, useSession } from "./store";

export const FRESH_CUT: Cut = { by: "box", box: null, plateId: null, plateMatrix: null, marks: [] };

/** What a frame's own alpha shows of it. */
export const ALPHA_CUT: Cut = { ...FRESH_CUT, by: "alpha" };

const contentOf = (layer: LayerRecord | undefined): FrameContent | null => (layer?.content.type === "frame" ? layer.content : null);

/** A frame layer cuts something out from now on: it blends as light, and a mask that nothing was painted on reveals all of it. */
export function beginCut(layer: LayerRecord): void {
  const content = contentOf(layer);
  if (!content) return;
  const change = { content: { ...content, cut: FRESH_CUT }, blendIn: "light" as const, ...revealedIfUntouched(useSession.getState().records, layer) };
  edit(updateLayer(layer.id, change), { stage: "compose", label: message("step.cutBegun", { name: layer.name }) });
}

/** All of the frame is shown again. */
export function endCut(layer: LayerRecord): void {
  const content = contentOf(layer);
  if (content) edit(updateLayer(layer.id, { content: { ...content, cut: null } }), { stage: "compose", label: message("step.cutEnded", { name: layer.name }) });
}

export function setCut(layer: LayerRecord, change: Partial<Cut>, label: Telling): void {
  const content = contentOf(layer);
  if (content?.cut) edit(updateLayer(layer.id, { content: { ...content, cut: { ...content.cut, ...change } } }), { stage: "compose", label });
}

/** What is cut is told by something else from now on: it is found with progress; where a person stops that, it is not told any more. */
export async function tellCut(layer: LayerRecord, change: Partial<Cut>, label: Telling): Promise<void> {
  setCut(layer, change, label);
  await find(layer.id);
}

async function find(layerId: string): Promise<void> {
  const { records } = useSession.getState();
  const cut = contentOf(layerOf(records, layerId))?.cut;
  if (!cut || !isTold(cut)) return;
  const job = openJob();
  let isFound = false;
  await job.run("compose", "task.subject", async (signal, onProgress) => {
    // that nothing is found is said beside the layer
    await job.ask("readyCut", { records, layerId }, { signal, onProgress }).catch((error: unknown) => {
      if ((error as Error).name !== "Refusal") throw error;
    });
    isFound = true;
  });
  // what another task took the place of, or closing the job ended, nobody stopped
  if (isFound || !job.isOpen || job.isClosing || useSession.getState().busy) return;
  const layer = layerOf(useSession.getState().records, layerId);
  if (layer && contentOf(layer)?.cut === cut) setCut(layer, { by: "box", box: null }, message("step.cutBoxGone", { name: layer.name }));
}

/** Adds strokes to what is known of a cut-out. */
export function addMarks(layer: LayerRecord, marks: CutMark[], label: Telling): void {
  const cut = contentOf(layer)?.cut;
  if (!cut) return;
  if (cut.marks.length + marks.length > MOST_MARKS) notify(message("cutting.mostStrokes", { most: MOST_MARKS }));
  else setCut(layer, { marks: [...cut.marks, ...marks] }, label);
}

/** What a plate's place depends on. */
const placing = (frame: FrameRecord, plate: FrameRecord) => (r: Records) =>
  [frame.id, plate.id].map((id) => {
    const now = r[id];
    return now?.kind === "frame" && [pictureIdOf(now), mergedFramesOf(r).find((m) => m.frame.id === id)?.matrix];
  });

/** Cuts by a frame that shows the same view without the thing: where both are not merged, it is registered first. */
export async function cutByPlate(layer: LayerRecord, plateId: string): Promise<void> {
  const { records } = useSession.getState();
  const frame = records[contentOf(layer)?.frameId ?? ""];
  const plate = records[plateId];
  if (frame?.kind !== "frame" || plate?.kind !== "frame") return;
  const label = message("step.cutByPlate", { name: layer.name, number: frameNumber(records, plateId) });
  const merged = mergedFramesOf(records);
  const [own, other] = [frame.id, plateId].map((id) => merged.find((m) => m.frame.id === id));
  if (own && other) return tellCut(layer, { by: "plate", plateId, plateMatrix: null }, label);
  const job = openJob();
  const request = { referenceId: frame.id, referenceReason: message("reference.byHand", {}), model: "auto" as const };
  const found = await job.run("compose", "task.looking", (signal, onProgress) =>
    job.ask("register", { records, frames: [frame, plate], request }, { signal, onProgress }),
  );
  if (!found) return;
  const placed = found.registration.placements.find((p) => p.frameId === plateId);
  const isSameSize = plate.width === frame.width && plate.height === frame.height;
  // an even plate has nothing to register by; whether it shows the same view is seen when it is held to the picture
  if (!placed?.matrix && !isSameSize) return notify(placed?.reason ?? "matte.otherView");
  const matrix = multiply(own?.matrix ?? IDENTITY, placed?.matrix ?? IDENTITY);
  job.apply(
    records,
    placing(frame, plate),
    (r) => {
      const content = contentOf(layerOf(r, layer.id));
      return content?.cut ? updateLayer(layer.id, { content: { ...content, cut: { ...content.cut, by: "plate", plateId, plateMatrix: [...matrix] } } })(r) : r;
    },
    { stage: "compose", label },
  );
  await find(layer.id);
}

const FILES = { tiff16: { extension: "tif", type: "image/tiff" }, ora: { extension: "ora", type: "image/openraster" } } as const;

/** Saves what a layer cuts out as a picture with alpha, to be used in other jobs. */
export async function saveCutout(layer: LayerRecord, format: CutoutFormat): Promise<void> {
  const { records } = useSession.getState();
  const job = openJob();
  const written = await job.run("compose", "task.writing", (signal, onProgress) =>
    job.ask("saveCutout", { records, layerId: layer.id, format }, { signal, onProgress }),
  );
  if (!written) return;
  const { extension, type } = FILES[format];
  const name = `${fileNameOf(layer.name)}.${extension}`;
  download(new File([written.file], name, { type }), name);
  const { width, height, clippedShare } = written;
  notify(message("cutting.saved", { name, width, height, percent: 100 * clippedShare }));
}
