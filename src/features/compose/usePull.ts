import { useRef } from "react";
import { invert, project } from "../../core/geometry/matrix3";
import { movedMatrix, pulledCorners, shownSize } from "../../document/outputGeometry";
import type { LayerRecord } from "../../document/records/layerTypes";
import { UNMOVED, type FrameContent, type Moved } from "../../kinds/contents/frame/record";
import type { Records } from "../../document/records/types";
import { documentSize, layerOf } from "../../document/selectors";
import type { PicturePointer } from "../../view/pictureTool";
import { moveFrame } from "../../kinds/contents/frame/MoveControls";
import { showContent } from "../../kinds/contents/setContent";

interface Size {
  width: number;
  height: number;
}

/** A corner is taken hold of within this share of the picture's longer side. */
const HOLD = 0.03;

/** Where the corners of a moved frame lie, px of the picture. */
function cornersOf(moved: Moved, size: Size, own: Size): [number, number][] {
  const even = movedMatrix({ ...moved, corners: UNMOVED.corners }, size, own);
  return pulledCorners(moved.corners, own).map(([x, y]) => project(even, x, y));
}

const contentOf = (layer: LayerRecord | null | undefined): FrameContent | null => (layer?.content.type === "frame" ? layer.content : null);

/** Moves a layer's frame on the picture, or pulls the corner that is taken hold of; one step when the pen is lifted. */
export function usePull(layer: LayerRecord | null, records: Records) {
  const start = useRef<{ x: number; y: number; moved: Moved; corner: number } | null>(null);
  const live = useRef<Moved | null>(null);
  const size = documentSize(records);
  const content = contentOf(layer);
  if (!layer || !content || !size) return null;
  const own = shownSize(records, content.frameId) ?? size;
  const placed = content.moved ?? UNMOVED;

  const show = (moved: Moved) => {
    live.current = moved;
    showContent(layer, { ...content, moved });
  };
  const down = ({ x, y }: PicturePointer) => {
    const near = HOLD * Math.max(size.width, size.height);
    const corner = cornersOf(placed, size, own).findIndex((c) => Math.hypot(c[0] - x, c[1] - y) < near);
    start.current = { x, y, moved: placed, corner };
  };
  const move = (list: PicturePointer[]) => {
    const [from, to] = [start.current, list.at(-1)];
    if (!from || !to) return;
    const [dx, dy] = [to.x - from.x, to.y - from.y];
    if (from.corner < 0) {
      show({ ...from.moved, dx: rounded(from.moved.dx + dx), dy: rounded(from.moved.dy + dy) });
      return;
    }
    // a pull on the screen, as it is before the turn and the scale
    const back = invert(movedMatrix({ ...from.moved, dx: 0, dy: 0, corners: UNMOVED.corners }, size, own));
    const [[u, v], [u0, v0]] = [project(back, dx, dy), project(back, 0, 0)];
    const corners = from.moved.corners.map((c, i) => (i >> 1 === from.corner ? rounded(c + (i % 2 ? v - v0 : u - u0)) : c));
    show({ ...from.moved, corners });
  };
  const up = () => {
    const pulled = (start.current?.corner ?? -1) >= 0;
    const moved = live.current;
    start.current = live.current = null;
    if (moved) moveFrame(layer, content, moved, pulled ? "step.cornerPulled" : "step.layerMoved");
  };
  /** The corners in a state of the job, as it is while they are pulled. */
  const cornersIn = (shown: Records) => cornersOf(contentOf(layerOf(shown, layer.id))?.moved ?? UNMOVED, size, own);
  return { cornersIn, handlers: { down, move, up } };
}

const rounded = (v: number) => Math.round(v * 10) / 10;
