import { useEffect, useRef, useState } from "react";
import type { Rectangle } from "../../core/geometry/rectangle";
import type { LayerRecord } from "../../document/records/layerTypes";
import type { Records } from "../../document/records/types";
import { layerOf } from "../../document/selectors";
import { ask } from "../../session/openJob";
import { report } from "../../session/store";
import type { PicturePointer } from "../../view/pictureTool";
import { isCancelled } from "../../workers/client/EngineClient";
import { showContent } from "../../kinds/contents/setContent";
import { setRetouch } from "../../kinds/contents/retouch/controls";
import type { RetouchContent } from "../../kinds/contents/retouch/record";

const contentOf = (layer: LayerRecord | null | undefined): RetouchContent | null => (layer?.content.type === "retouch" ? layer.content : null);

/** Sets on the picture where a retouch takes its area from: the middle of the source goes where the pointer is. @param wanted while it is being chosen */
export function useSource(layer: LayerRecord | null, records: Records, wanted: boolean) {
  const [area, setArea] = useState<{ layerId: string; area: Rectangle } | null>(null);
  const live = useRef<{ dx: number; dy: number } | null>(null);
  const start = useRef(false);
  const content = contentOf(layer);
  const id = content && wanted ? layer!.id : null;
  useEffect(() => {
    if (!id) return;
    const controller = new AbortController();
    ask("retouchPlace", { records, layerId: id }, { signal: controller.signal })
      .then((place) => setArea(place && { layerId: id, area: place.area }))
      .catch((error: unknown) => isCancelled(error) || report(error));
    return () => controller.abort();
  }, [id, records]);
  if (!layer || !content || !area || area.layerId !== layer.id) return null;
  const { x, y, width, height } = area.area;
  const to = (p: PicturePointer) => ({ dx: Math.round(p.x - x - width / 2), dy: Math.round(p.y - y - height / 2) });
  const show = (p: PicturePointer) => {
    live.current = to(p);
    showContent(layer, { ...content, ...live.current });
  };
  const down = (p: PicturePointer) => {
    start.current = true;
    show(p);
  };
  const move = (list: PicturePointer[]) => {
    const last = list.at(-1);
    if (start.current && last) show(last);
  };
  const up = () => {
    const chosen = live.current;
    start.current = false;
    live.current = null;
    if (chosen) setRetouch(layer, content, chosen, "step.sourceChosen");
  };
  const corners = (dx: number, dy: number): [number, number][] => [
    [x + dx, y + dy],
    [x + width + dx, y + dy],
    [x + width + dx, y + height + dy],
    [x + dx, y + height + dy],
  ];
  /** Where it is taken from in a state of the job, as it is while that is chosen. */
  const sourceIn = (shown: Records) => {
    const { dx, dy } = contentOf(layerOf(shown, layer.id)) ?? content;
    return corners(dx, dy);
  };
  return { area: corners(0, 0), sourceIn, handlers: { down, move, up } };
}
