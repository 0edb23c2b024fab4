import { project } from "../../core/geometry/matrix3";
import type { LayerRecord } from "../../document/records/layerTypes";
import type { Records } from "../../document/records/types";
import { isTold } from "../../kinds/contents/frame/record";
import { cutGeometry, useCutDrawing } from "./useCutTool";
import { DoubleLine } from "./ShapeOverlay";

interface Props {
  layer: LayerRecord;
  records: Records;
  toScreen: (x: number, y: number) => [number, number];
  scale: number;
}

/** The box of a cut-out while it is drawn, and a stroke while it is painted. */
export function CutOverlay({ layer, records, toScreen, scale }: Props) {
  const { box, mark } = useCutDrawing();
  const geometry = cutGeometry(layer, records);
  const cut = layer.content.type === "frame" ? layer.content.cut : null;
  if (!geometry || !cut) return null;
  const at = (x: number, y: number) => {
    const [u, v] = project(geometry.toPicture, x, y);
    return toScreen(u + 0.5, v + 0.5);
  };
  if (mark) {
    const [a, b] = [project(geometry.toPicture, 0, 0), project(geometry.toPicture, 1, 0)];
    const width = mark.diameterPx * scale * Math.hypot(b[0] - a[0], b[1] - a[1]);
    const points: string[] = [];
    for (let i = 0; i < mark.points.length; i += 2) points.push(at(mark.points[i], mark.points[i + 1]).join(","));
    const line = { points: [...points, points[points.length - 1]].join(" "), fill: "none", strokeLinecap: "round", strokeLinejoin: "round" } as const;
    return <polyline {...line} stroke={mark.what === "leave" ? "#000" : "#fff"} strokeWidth={width} opacity={mark.what === "open" ? 0.35 : 0.6} />;
  }
  if (!box || isTold(cut)) return null;
  const corners = [at(box.x, box.y), at(box.x + box.width, box.y), at(box.x + box.width, box.y + box.height), at(box.x, box.y + box.height)];
  return (
    <DoubleLine>
      <polygon points={corners.map((p) => p.join(",")).join(" ")} strokeDasharray="4 3" />
    </DoubleLine>
  );
}
