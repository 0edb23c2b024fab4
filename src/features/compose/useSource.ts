import { useEffect, useRef, useState } from "react";
import type { Rectangle } from "../../core/geometry/rectangle";
import type { LayerRecord } from "../../document/records/layerTypes";
import type { Records } from "../../document/records/types";
import { ask } from "../../session/openJob";
import { report } from "../../session/store";
import type { PicturePointer } from "../../view/PictureView";
import { isCancelled } from "../../workers/client/EngineClient";
import { setRetouch } from "../../kinds/contents/retouch/controls";
import type { RetouchContent } from "../../kinds/contents/retouch/record";

/** Sets on the picture where a retouch takes its area from: the middle of the source goes where the pointer is. @param wanted while it is being chosen */
export function useSource(layer: LayerRecord | null, records: Records, wanted: boolean) {
  const [area, setArea] = useState<{ layerId: string; area: Rectangle } | null>(null);
  const [live, setLive] = useState<{ dx: number; dy: number } | null>(null);
  const start = useRef(false);
  const content: RetouchContent | null = layer?.content.type === "retouch" ? layer.content : null;
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
  const down = (p: PicturePointer) => {
    start.current = true;
    setLive(to(p));
  };
  const move = (list: PicturePointer[]) => {
    const last = list.at(-1);
    if (start.current && last) setLive(to(last));
  };
  const up = () => {
    start.current = false;
    if (live) setRetouch(layer, content, live, "step.sourceChosen");
    setLive(null);
  };
  const now = { ...content, ...live };
  const corners = (dx: number, dy: number): [number, number][] => [
    [x + dx, y + dy],
    [x + width + dx, y + dy],
    [x + width + dx, y + height + dy],
    [x + dx, y + height + dy],
  ];
  return { content: live ? now : content, area: corners(0, 0), source: corners(now.dx, now.dy), handlers: { down, move, up } };
}
