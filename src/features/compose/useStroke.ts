import { message } from "../../messages/message";
import { useRef } from "react";
import { addRecord, newId } from "../../document/edits";
import type { LayerRecord } from "../../document/records/layerTypes";
import { isPainted, type MaskPart } from "../../kinds/maskParts/records";
import type { Records, StrokeRecord } from "../../document/records/types";
import { strokesOf } from "../../document/selectors";
import { showLive } from "../../session/live";
import { edit } from "../../session/openJob";
import { useBrush, type Brush } from "../../view/brush";
import type { PicturePointer } from "../../view/pictureTool";

/**
 * Paints a stroke: it is shown at once, by the picture alone, for everything else would only slow the pen down, and becomes one step when the pen is lifted.
 * @param direct straight from where the last one ended
 */
export function useStroke(layer: LayerRecord | null, part: MaskPart | null, records: Records, direct: boolean, onDone: (stroke: StrokeRecord) => void) {
  const partId = part && isPainted(part) ? part.id : null;
  const softens = part?.kind === "soften";
  const current = useRef<StrokeRecord | null>(null);
  /** where the last stroke ended, for straight ones between two clicks */
  const end = useRef<number[] | null>(null);
  const brush = useBrush();

  const show = (stroke: StrokeRecord) => {
    current.current = stroke;
    showLive(addRecord(stroke));
  };
  const down = (p: PicturePointer) => {
    if (!layer || !partId) return;
    const index = strokesOf(records, layer.id).reduce((top, s) => Math.max(top, s.index + 1), 0);
    const { diameterPx, softness, flow, opacity, edgeTolerance, spacing } = brush;
    const points = [...(direct && end.current ? end.current : []), p.x, p.y, felt(p, brush)];
    // the other end of a pen does the opposite
    const reveal = brush.reveal !== p.eraser;
    const common = { kind: "stroke" as const, id: newId("stroke"), index, layerId: layer.id, partId };
    const stroke: StrokeRecord = { ...common, reveal, diameterPx, softness, flow, opacity, edgeTolerance, spacing, points };
    show(stroke);
  };
  const move = (list: PicturePointer[]) => {
    const stroke = current.current;
    if (!stroke) return;
    const added = steadied(list, stroke.points.slice(-3), brush).map((v) => Math.round(v * 100) / 100);
    const next = { ...stroke, points: [...stroke.points, ...added] };
    show(next);
  };
  const up = () => {
    const stroke = current.current;
    current.current = null;
    if (!stroke) return;
    end.current = stroke.points.slice(-3);
    const does = softens ? (stroke.reveal ? "step.softened" : "step.softeningBack") : stroke.reveal ? "step.revealed" : "step.concealed";
    edit(addRecord(stroke), { stage: "compose", label: message(does, { px: Math.round(stroke.diameterPx) }) });
    onDone(stroke);
  };
  return { down, move, up };
}

/** Pressure as the brush takes it. */
const felt = ({ pressure }: PicturePointer, { pressureCurve }: Brush): number => pressure ** pressureCurve;

/** Places that follow the pointer by a share of the way, so that a trembling hand draws an even line. */
function steadied(list: PicturePointer[], last: number[], brush: Brush): number[] {
  let [x, y] = last;
  const share = 1 - 0.95 * brush.steadiness;
  return list.flatMap((p) => {
    x += (p.x - x) * share;
    y += (p.y - y) * share;
    return [x, y, felt(p, brush)];
  });
}
