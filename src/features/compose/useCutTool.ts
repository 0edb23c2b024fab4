import { useRef } from "react";
import { create } from "zustand";
import { message } from "../../messages/message";
import { invert, project, type Matrix3 } from "../../core/geometry/matrix3";
import type { Rectangle } from "../../core/geometry/rectangle";
import { movedMatrix, shownSize } from "../../document/outputGeometry";
import type { LayerRecord } from "../../document/records/layerTypes";
import type { Records } from "../../document/records/types";
import { documentSize } from "../../document/selectors";
import { isTold, UNMOVED, type CutMark } from "../../kinds/contents/frame/record";
import { addMarks, tellCut } from "../../session/cutting";
import { useBrush } from "../../view/brush";
import { useCompose } from "../../view/composeState";
import type { PicturePointer } from "../../view/pictureTool";

/** A box or a stroke while it is drawn, px of what the layer shows. */
export const useCutDrawing = create<{ box: Rectangle | null; mark: CutMark | null }>(() => ({ box: null, mark: null }));

/** A box is at least so large, px. */
const LEAST_BOX = 8;
/** Points of a stroke nearer than this share of its diameter are left out. */
const LEAST_STEP = 0.12;
const STEPS = { keep: "step.cutKept", leave: "step.cutLeft", open: "step.cutOpened" } as const;

/** From px of what a layer shows to px of the picture, and how large what it shows is; null where it cuts nothing out. */
export function cutGeometry(layer: LayerRecord | null, records: Records): { toPicture: Matrix3; own: { width: number; height: number } } | null {
  const size = documentSize(records);
  if (layer?.content.type !== "frame" || !layer.content.cut || !size) return null;
  const { frameId, moved } = layer.content;
  const own = shownSize(records, frameId);
  return own && { toPicture: movedMatrix(moved ?? UNMOVED, size, own), own };
}

/** Draws the box of a cut-out, and then strokes that say what is kept, left, or looked at closely; each becomes one step when the pen is lifted. */
export function useCutTool(layer: LayerRecord | null, records: Records) {
  const start = useRef<[number, number] | null>(null);
  const brush = useBrush();
  const marking = useCompose((s) => s.marking);
  const geometry = cutGeometry(layer, records);
  const cut = layer?.content.type === "frame" ? layer.content.cut : null;
  if (!geometry || !layer || !cut) return null;
  const toOwn = invert(geometry.toPicture);
  const at = (p: PicturePointer) => project(toOwn, p.x, p.y).map((v) => Math.round(v * 10) / 10) as [number, number];
  const scale = Math.hypot(project(toOwn, 1, 0)[0] - project(toOwn, 0, 0)[0], project(toOwn, 1, 0)[1] - project(toOwn, 0, 0)[1]);

  if (cut.by === "box" && !isTold(cut)) {
    const { width, height } = geometry.own;
    const move = (list: PicturePointer[]) => {
      const last = list.at(-1);
      if (!start.current || !last) return;
      const [[ax, ay], [bx, by]] = [start.current, at(last)];
      const [x, y] = [Math.max(0, Math.round(Math.min(ax, bx))), Math.max(0, Math.round(Math.min(ay, by)))];
      const box = { x, y, width: Math.min(width, Math.round(Math.max(ax, bx))) - x, height: Math.min(height, Math.round(Math.max(ay, by))) - y };
      useCutDrawing.setState({ box: box.width >= LEAST_BOX && box.height >= LEAST_BOX ? box : null });
    };
    return {
      cursor: "crosshair",
      down: (p: PicturePointer) => {
        start.current = at(p);
      },
      move,
      up: () => {
        const { box } = useCutDrawing.getState();
        start.current = null;
        useCutDrawing.setState({ box: null });
        if (box) void tellCut(layer, { box }, message("step.cutBoxed", { name: layer.name }));
      },
    };
  }
  if (!isTold(cut) || cut.by === "alpha") return null;
  return {
    cursor: "none",
    ring: brush.diameterPx,
    down: (p: PicturePointer) => {
      // the other end of a pen does the opposite
      const what = p.eraser ? (marking === "keep" ? "leave" : "keep") : marking;
      useCutDrawing.setState({ mark: { what, diameterPx: Math.max(1, Math.round(brush.diameterPx * scale)), points: at(p) } });
    },
    move: (list: PicturePointer[]) => {
      const { mark } = useCutDrawing.getState();
      if (!mark) return;
      const points = [...mark.points];
      for (const p of list) {
        const [x, y] = at(p);
        if (Math.hypot(x - points[points.length - 2], y - points[points.length - 1]) >= LEAST_STEP * mark.diameterPx) points.push(x, y);
      }
      useCutDrawing.setState({ mark: { ...mark, points } });
    },
    up: () => {
      const { mark } = useCutDrawing.getState();
      useCutDrawing.setState({ mark: null });
      if (mark) addMarks(layer, [mark], message(STEPS[mark.what], { name: layer.name, px: mark.diameterPx }));
    },
  };
}
