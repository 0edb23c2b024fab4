import { array } from "yup";
import { place, type PartRecord } from "../fields";

const MOST_POINTS = 20_000;

/** Corners x, y one after the other, reference px. */
export interface Polygon {
  kind: "polygon";
  points: number[];
}

export const polygon: PartRecord<Polygon> = {
  fields: {
    points: array(place())
      .required()
      .min(6)
      .max(MOST_POINTS)
      .test("pairs", "${path} is not made of pairs", (v) => Array.isArray(v) && v.length % 2 === 0),
  },
  moved: (part, { move }) => {
    const corners = Array.from({ length: part.points.length / 2 }, (_, i) => move(part.points[2 * i], part.points[2 * i + 1])).filter((p) => p !== null);
    return corners.length >= 3 ? { ...part, points: corners.flat() } : part;
  },
};
