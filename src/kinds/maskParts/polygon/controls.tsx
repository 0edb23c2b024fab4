import type { PartControls } from "../controlling";
import type { Polygon } from "./record";

export const polygon: PartControls<Polygon> = {
  begin: ({ width, height }) => ({ kind: "polygon", points: [0.4, 0.4, 0.6, 0.4, 0.6, 0.6, 0.4, 0.6].map((v, i) => v * (i % 2 ? height : width)) }),
  drawn: (part, { along }) => (along.length >= 6 ? { ...part, points: along } : null),
  Outline: ({ part, at }) => {
    const corners = Array.from({ length: part.points.length / 2 }, (_, i) => at(part.points[2 * i], part.points[2 * i + 1]).join(","));
    return <polygon points={corners.join(" ")} />;
  },
};
