import { useRef, useState } from "react";
import { invert, project } from "../../core/geometry/matrix3";
import { movedMatrix, pulledCorners } from "../../document/outputGeometry";
import type { LayerRecord } from "../../document/records/layerTypes";
import { UNMOVED, type Moved } from "../../kinds/contents/frame/record";
import type { LayerContent } from "../../kinds/contents/records";
import type { Records } from "../../document/records/types";
import { documentSize, mergedFramesOf } from "../../document/selectors";
import type { PicturePointer } from "../../view/PictureView";
import { moveFrame } from "../../kinds/contents/frame/MoveControls";

interface Size {
  width: number;
  height: number;
}

/** A corner is taken hold of within this share of the picture's longer side. */
const HOLD = 0.03;

/** Size of what a layer shows: a merged frame lies on the picture and has its size, any other its own. */
function ownSize(records: Records, frameId: string, size: Size): Size {
  if (mergedFramesOf(records).some(({ frame }) => frame.id === frameId)) return size;
  const frame = records[frameId];
  return frame?.kind === "frame" ? frame : size;
}

/** Where the corners of a moved frame lie, px of the picture. */
function cornersOf(moved: Moved, size: Size, own: Size): [number, number][] {
  const even = movedMatrix({ ...moved, corners: UNMOVED.corners }, size, own);
  return pulledCorners(moved.corners, own).map(([x, y]) => project(even, x, y));
}

/** Moves a layer's frame on the picture, or pulls the corner that is taken hold of; one step when the pen is lifted. */
export function usePull(layer: LayerRecord | null, records: Records) {
  const [live, setLive] = useState<Moved | null>(null);
  const start = useRef<{ x: number; y: number; moved: Moved; corner: number } | null>(null);
  const size = documentSize(records);
  const content: (LayerContent & { type: "frame" }) | null = layer?.content.type === "frame" ? layer.content : null;
  if (!layer || !content || !size) return null;
  const own = ownSize(records, content.frameId, size);
  const now = live ?? content.moved ?? UNMOVED;

  const down = ({ x, y }: PicturePointer) => {
    const near = HOLD * Math.max(size.width, size.height);
    const corner = cornersOf(now, size, own).findIndex((c) => Math.hypot(c[0] - x, c[1] - y) < near);
    start.current = { x, y, moved: now, corner };
  };
  const move = (list: PicturePointer[]) => {
    const [from, to] = [start.current, list.at(-1)];
    if (!from || !to) return;
    const [dx, dy] = [to.x - from.x, to.y - from.y];
    if (from.corner < 0) {
      setLive({ ...from.moved, dx: rounded(from.moved.dx + dx), dy: rounded(from.moved.dy + dy) });
      return;
    }
    // a pull on the screen, as it is before the turn and the scale
    const back = invert(movedMatrix({ ...from.moved, dx: 0, dy: 0, corners: UNMOVED.corners }, size, own));
    const [[u, v], [u0, v0]] = [project(back, dx, dy), project(back, 0, 0)];
    const corners = from.moved.corners.map((c, i) => (i >> 1 === from.corner ? rounded(c + (i % 2 ? v - v0 : u - u0)) : c));
    setLive({ ...from.moved, corners });
  };
  const up = () => {
    const pulled = (start.current?.corner ?? -1) >= 0;
    start.current = null;
    if (live) moveFrame(layer, content, live, pulled ? "step.cornerPulled" : "step.layerMoved");
    setLive(null);
  };
  return { content: live ? { ...content, moved: live } : content, corners: cornersOf(now, size, own), handlers: { down, move, up } };
}

const rounded = (v: number) => Math.round(v * 10) / 10;
