import { message, type Message } from "../../messages/message";
import type { Rectangle } from "../geometry/rectangle";
import { quantile } from "../numeric/statistics";
import { rayOf, type Attitude, type Camera } from "./camera";
import { coverageOf, inscribedCrop, type Coverage } from "./coverage";
import { layOut, viewMap, type PanoramaView } from "./layout";
import type { ProjectionName } from "./projections";

/** What a projection does to a picture. */
export interface ProjectionFigures {
  projection: ProjectionName;
  view: PanoramaView;
  /** largest ratio of the two scales at a place, 1 where shapes are kept; over all but the worst twentieth of the area */
  stretch: number;
  /** largest scale over that of the middle */
  enlargement: number;
  /** how far straight things as long as a frame is wide bow out, share of their length */
  bend: number;
  crop: Rectangle | null;
  /** share of the covered area that the largest crop keeps */
  cropShare: number;
}

/** Compares the projections that can show the frames. */
export function compareProjections(cameras: Camera[], attitude: Attitude, projections: readonly ProjectionName[]): ProjectionFigures[] {
  return projections.flatMap((projection) => {
    const view = layOut(cameras, attitude, projection);
    if (!view) return [];
    const coverage = coverageOf(view, cameras, 300);
    const crop = inscribedCrop(coverage, view, null);
    const area = coverage.covered.reduce((sum, c) => sum + c, 0) * coverage.cell ** 2;
    return [
      {
        projection,
        view,
        ...distortionOf(view, coverage),
        bend: bendOf(view, cameras),
        crop,
        cropShare: crop && area ? Math.min(1, (crop.width * crop.height) / area) : 0,
      },
    ];
  });
}

/** The two scales of the map at places all over the covered area. */
function distortionOf(view: PanoramaView, { cell, columns, rows, covered }: Coverage): { stretch: number; enlargement: number } {
  const { toRay } = viewMap(view);
  const stretches: number[] = [];
  const scales: number[] = [];
  const step = Math.max(1, Math.floor(Math.max(columns, rows) / 40));
  const h = Math.max(1, cell / 4);
  for (let j = 0; j < rows; j += step) {
    for (let i = 0; i < columns; i += step) {
      if (!covered[j * columns + i]) continue;
      const [x, y] = [(i + 0.5) * cell, (j + 0.5) * cell];
      const [r, rx, ry] = [toRay(x, y), toRay(x + h, y), toRay(x, y + h)];
      if (!r || !rx || !ry) continue;
      const [a, b] = [rx.map((v, k) => (v - r[k]) / h), ry.map((v, k) => (v - r[k]) / h)];
      const [e, f, g] = [a.reduce((s, v) => s + v * v, 0), a.reduce((s, v, k) => s + v * b[k], 0), b.reduce((s, v) => s + v * v, 0)];
      const root = Math.sqrt((e - g) ** 2 / 4 + f * f);
      const [large, small] = [Math.sqrt((e + g) / 2 + root), Math.sqrt(Math.max(1e-18, (e + g) / 2 - root))];
      stretches.push(large / small);
      scales.push(1 / (small * view.scalePx));
    }
  }
  return stretches.length ? { stretch: quantile(stretches, 0.95), enlargement: quantile(scales, 0.95) } : { stretch: 1, enlargement: 1 };
}

/** Borders, diagonals and the middle lines of all frames are straight in the world. */
function bendOf(view: PanoramaView, cameras: Camera[]): number {
  const { toPixel } = viewMap(view);
  const lines = [
    [0, 0, 1, 0],
    [0, 1, 1, 1],
    [0, 0, 1, 1],
    [0, 1, 1, 0],
    [0, 0.25, 1, 0.25],
    [0, 0.75, 1, 0.75],
    [0.5, 0, 0.5, 1],
  ];
  let worst = 0;
  for (const c of cameras) {
    // straight in the world is straight in a frame without its lens
    const plain = { ...c, k1: 0, k2: 0 };
    for (const [x0, y0, x1, y1] of lines) {
      const points = Array.from({ length: 17 }, (_, i) =>
        toPixel(rayOf(plain, (x0 + ((x1 - x0) * i) / 16) * (c.width - 1), (y0 + ((y1 - y0) * i) / 16) * (c.height - 1))),
      );
      if (points.some((p) => !p)) continue;
      const [from, to] = [points[0]!, points[16]!];
      const length = Math.hypot(to[0] - from[0], to[1] - from[1]);
      // a line across the cut of a full circle is not one line in the picture
      if (length < 1 || points.some((p, i) => i > 0 && Math.hypot(p![0] - points[i - 1]![0], p![1] - points[i - 1]![1]) > length)) continue;
      for (const p of points)
        worst = Math.max(worst, Math.abs((p![0] - from[0]) * (to[1] - from[1]) - (p![1] - from[1]) * (to[0] - from[0])) / (length * length));
    }
  }
  return worst;
}

/** Stretch that does not show yet, and one that is liked for straight lines' sake. Common practice, no source: rectilinear up to 80 or 90° of width. */
const LITTLE_STRETCH = 1.42;

/** The projection proposed, with its reason. */
export function proposeProjection(figures: ProjectionFigures[], widthDeg: number, heightDeg: number): { projection: ProjectionName; reason: Message } {
  const by = (name: ProjectionName) => figures.find((f) => f.projection === name);
  const field = { across: widthDeg, down: heightDeg };
  const plain = by("rectilinear");
  if (plain && plain.stretch <= LITTLE_STRETCH) {
    return { projection: "rectilinear", reason: message("projecting.rectilinear", { ...field, stretch: plain.stretch }) };
  }
  const adaptive = by("adaptive");
  if (adaptive && heightDeg < 90 && widthDeg < 170) {
    const stretched = { ...field, stretch: adaptive.stretch };
    const reason = plain ? message("projecting.adaptiveInstead", { ...stretched, plain: plain.stretch }) : message("projecting.adaptive", stretched);
    return { projection: "adaptive", reason };
  }
  if (by("cylindrical") && heightDeg < 100) {
    return { projection: "cylindrical", reason: message("projecting.cylindrical", field) };
  }
  return { projection: "equirectangular", reason: message("projecting.equirectangular", field) };
}
