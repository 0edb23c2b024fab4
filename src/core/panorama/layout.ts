import type { Rectangle } from "../geometry/rectangle";
import { transform } from "../geometry/matrix3";
import { quantile } from "../numeric/statistics";
import { inside, pixelOf, rayOf, rotationOf, transpose, type Attitude, type Camera, type Vector3 } from "./camera";
import { adaptionFor, projectionOf, type ProjectionName } from "./projections";

/** How the sphere of directions is shown: the direction of the middle, the projection, and the px it is drawn on. */
export interface PanoramaView extends Attitude {
  projection: ProjectionName;
  /** of the adaptive projection */
  adaption: number;
  /** px a radian in the middle */
  scalePx: number;
  /** plane × scalePx − origin = px of the picture */
  originX: number;
  originY: number;
  width: number;
  height: number;
}

/** Maps between px of the picture and directions of the world. */
export interface ViewMap {
  toRay(x: number, y: number): Vector3 | null;
  toPixel(ray: readonly number[]): [number, number] | null;
}

export function viewMap(view: PanoramaView): ViewMap {
  const turn = rotationOf(view);
  const back = transpose(turn);
  const plane = projectionOf(view.projection, view.adaption);
  return {
    toRay: (x, y) => {
      const ray = plane.toRay((x + view.originX) / view.scalePx, (y + view.originY) / view.scalePx);
      return ray && transform(turn, ray);
    },
    toPixel: (ray) => {
      const p = plane.toPlane(transform(back, ray));
      return p && [p[0] * view.scalePx - view.originX, p[1] * view.scalePx - view.originY];
    },
  };
}

const RAD = Math.PI / 180;

/** Directions along the borders of all frames. */
export function outlines(cameras: Camera[], samples: number): Vector3[] {
  return cameras.flatMap((c) =>
    Array.from({ length: samples * 4 }, (_, i) => {
      const [side, t] = [i % 4, Math.floor(i / 4) / samples];
      const [x, y] = [
        [t, 0],
        [1, t],
        [1 - t, 1],
        [0, 1 - t],
      ][side];
      return rayOf(c, x * (c.width - 1), y * (c.height - 1));
    }),
  );
}

/** Largest side and number of px of a panorama. */
export const MOST_SIDE = 60_000;
export const MOST_PIXELS = 250_000_000;

/** Projections that show a full circle from end to end. */
const ROUND: ProjectionName[] = ["cylindrical", "equirectangular", "mercator"];

/** Lays out the picture that shows all frames; null where the projection cannot show them. */
export function layOut(cameras: Camera[], attitude: Attitude, projection: ProjectionName): PanoramaView | null {
  const back = transpose(rotationOf(attitude));
  const rays = [...outlines(cameras, 40), ...cameras.flatMap((c) => inner(c))].map((ray) => transform(back, ray));
  const halfWidth = Math.max(...rays.map((r) => Math.abs(Math.atan2(r[0], r[2]))));
  const adaption = projection === "adaptive" ? adaptionFor(halfWidth) : 1;
  const plane = projectionOf(projection, adaption);
  const shown = rays.flatMap((r) => {
    const p = plane.toPlane(r);
    return p ? [p] : [];
  });
  // what little a projection cannot show is left out; a picture of what is left would be another picture
  if (shown.length < 0.97 * rays.length) return null;
  const scale = cameras.reduce((sum, c) => sum + c.focalPx, 0) / cameras.length;
  let [x0, x1] = [Math.min(...shown.map((p) => p[0])), Math.max(...shown.map((p) => p[0]))];
  // a full circle is seen in steps; its ends meet
  if (ROUND.includes(projection) && halfWidth > 175 * RAD) [x0, x1] = [-Math.PI, Math.PI - 1e-9];
  const [y0, y1] = [Math.min(...shown.map((p) => p[1])), Math.max(...shown.map((p) => p[1]))];
  const fits = Math.min(1, MOST_SIDE / (scale * Math.max(x1 - x0, y1 - y0)), Math.sqrt(MOST_PIXELS / (scale * scale * (x1 - x0) * (y1 - y0))));
  const scalePx = scale * fits;
  const originX = Math.floor(x0 * scalePx);
  const originY = Math.floor(y0 * scalePx);
  const width = Math.ceil(x1 * scalePx) - originX + 1;
  const height = Math.ceil(y1 * scalePx) - originY + 1;
  return { ...attitude, projection, adaption, scalePx, originX, originY, width, height };
}

function inner(c: Camera): Vector3[] {
  return Array.from({ length: 25 }, (_, i) => rayOf(c, ((i % 5) / 4) * (c.width - 1), (Math.floor(i / 5) / 4) * (c.height - 1)));
}

/** Which cells of a grid over the picture are covered by some frame, wholly. */
export interface Coverage {
  cell: number;
  columns: number;
  rows: number;
  covered: Uint8Array;
}

/** @param most cells across the longer side @param toView px of a turned picture → px of the view */
export function coverageOf(view: PanoramaView, cameras: Camera[], most = 700, toView?: (x: number, y: number) => [number, number]): Coverage {
  const cell = Math.max(1, Math.ceil(Math.max(view.width, view.height) / most));
  const [columns, rows] = [Math.ceil(view.width / cell), Math.ceil(view.height / cell)];
  const { toRay } = viewMap(view);
  const corners = new Uint8Array((columns + 1) * (rows + 1));
  for (let j = 0; j <= rows; j++) {
    for (let i = 0; i <= columns; i++) {
      const [x, y] = [Math.min(view.width - 1, i * cell), Math.min(view.height - 1, j * cell)];
      const ray = toView ? toRay(...toView(x, y)) : toRay(x, y);
      if (!ray) continue;
      const seen = cameras.some((c) => {
        const p = pixelOf(c, ray);
        return p !== null && inside(c, p);
      });
      corners[j * (columns + 1) + i] = seen ? 1 : 0;
    }
  }
  const covered = new Uint8Array(columns * rows);
  for (let j = 0; j < rows; j++) {
    for (let i = 0; i < columns; i++) {
      const at = j * (columns + 1) + i;
      covered[j * columns + i] = corners[at] & corners[at + 1] & corners[at + columns + 1] & corners[at + columns + 2];
    }
  }
  return { cell, columns, rows, covered };
}

/** A place that must lie inside a crop. */
export interface Stay {
  x: number;
  y: number;
}

/** A crop nearly as large is taken where it lies better: what must stay has more room, or the middle is nearer. Common practice, no source. */
const NEARLY = 0.97;

interface Cells {
  i: number;
  j: number;
  w: number;
  h: number;
}
interface Needed {
  left: number;
  right: number;
  top: number;
  bottom: number;
}

/** The largest part of some cells at a ratio: about what must stay, else in their middle. */
function shaped({ i, j, w, h }: Cells, ratio: number, need: Needed | null): Cells | null {
  const [fw, fh] = w > h * ratio ? [Math.floor(h * ratio), h] : [w, Math.floor(w / ratio)];
  if (fw < 1 || fh < 1) return null;
  const place = (from: number, long: number, short: number, low: number, high: number) =>
    Math.min(Math.max(Math.round((low + high + 1 - short) / 2), from), from + long - short);
  return {
    i: place(i, w, fw, need?.left ?? i, need?.right ?? i + w - 1),
    j: place(j, h, fh, need?.top ?? j, need?.bottom ?? j + h - 1),
    w: fw,
    h: fh,
  };
}

function bestPlaced(candidates: Cells[], need: Needed | null, columns: number, rows: number): Cells | null {
  const room = (c: Cells) =>
    need
      ? Math.min(need.left - c.i, c.i + c.w - 1 - need.right, need.top - c.j, c.j + c.h - 1 - need.bottom)
      : -Math.hypot(c.i + c.w / 2 - columns / 2, c.j + c.h / 2 - rows / 2);
  return candidates.reduce<Cells | null>((best, c) => (!best || room(c) > room(best) ? c : best), null);
}

/**
 * The largest rectangle of covered cells, free or of a ratio (width / height), that holds the places to be kept; null where there is none.
 * Any shape of the covered area.
 */
export function inscribedCrop(
  { cell, columns, rows, covered }: Coverage,
  view: { width: number; height: number },
  ratio: number | null,
  stay: Stay[] = [],
): Rectangle | null {
  const kept = stay.map((p) => ({ i: Math.floor(p.x / cell), j: Math.floor(p.y / cell) }));
  const need = kept.length
    ? {
        left: Math.min(...kept.map((k) => k.i)),
        right: Math.max(...kept.map((k) => k.i)),
        top: Math.min(...kept.map((k) => k.j)),
        bottom: Math.max(...kept.map((k) => k.j)),
      }
    : null;
  // per cell, how many covered cells lie above it and with it
  const tall = new Int32Array(columns);
  const candidates: { i: number; j: number; w: number; h: number }[] = [];
  let largest = 0;
  const consider = (i0: number, i1: number, bottom: number, h: number) => {
    // columns i0..i1 are covered for h rows up to `bottom`
    const open = { i: i0, j: bottom - h + 1, w: i1 - i0 + 1, h };
    if (ratio === null && open.w * open.h < NEARLY * largest) return;
    const fitted = ratio === null ? open : shaped(open, ratio, need);
    if (!fitted || (need && (need.left < fitted.i || need.right >= fitted.i + fitted.w || need.top < fitted.j || need.bottom >= fitted.j + fitted.h))) return;
    if (fitted.w * fitted.h < NEARLY * largest) return;
    largest = Math.max(largest, fitted.w * fitted.h);
    candidates.push(fitted);
  };
  for (let j = 0; j < rows; j++) {
    for (let i = 0; i < columns; i++) tall[i] = covered[j * columns + i] ? tall[i] + 1 : 0;
    // columns whose height still rises, with where a rectangle of that height begins
    const stack: { from: number; h: number }[] = [];
    for (let i = 0; i <= columns; i++) {
      const h = i < columns ? tall[i] : 0;
      let from = i;
      while (stack.length && stack[stack.length - 1].h > h) {
        const top = stack.pop()!;
        consider(top.from, i - 1, j, top.h);
        from = top.from;
      }
      if (h > 0 && (!stack.length || stack[stack.length - 1].h < h)) stack.push({ from, h });
    }
  }
  const found = bestPlaced(
    candidates.filter((c) => c.w * c.h >= (ratio === null && !need ? largest : NEARLY * largest)),
    need,
    columns,
    rows,
  );
  if (!found) return null;
  const x = found.i * cell;
  const y = found.j * cell;
  let width = Math.min(view.width - x, found.w * cell);
  let height = Math.min(view.height - y, found.h * cell);
  if (ratio !== null) {
    if (width > height * ratio) width = Math.round(height * ratio);
    else height = Math.round(width / ratio);
  }
  return { x, y, width, height };
}

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
  kept: number;
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
        kept: crop && area ? Math.min(1, (crop.width * crop.height) / area) : 0,
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

/** The projection proposed, with its reason in a sentence. */
export function proposeProjection(figures: ProjectionFigures[], widthDeg: number, heightDeg: number): { projection: ProjectionName; reason: string } {
  const by = (name: ProjectionName) => figures.find((f) => f.projection === name);
  const wide = `${widthDeg.toFixed(0)}° wide and ${heightDeg.toFixed(0)}° high`;
  const plain = by("rectilinear");
  if (plain && plain.stretch <= LITTLE_STRETCH) {
    return {
      projection: "rectilinear",
      reason: `${wide}: rectilinear keeps every straight line straight and stretches by ${plain.stretch.toFixed(2)} at most.`,
    };
  }
  const adaptive = by("adaptive");
  if (adaptive && heightDeg < 90 && widthDeg < 170) {
    const beside = plain ? `, where rectilinear would stretch by ${plain.stretch.toFixed(1)}` : "";
    return { projection: "adaptive", reason: `${wide}: adaptive keeps verticals straight and stretches by ${adaptive.stretch.toFixed(2)}${beside}.` };
  }
  if (by("cylindrical") && heightDeg < 100) {
    return { projection: "cylindrical", reason: `${wide}: cylindrical keeps verticals and the horizon straight at any width.` };
  }
  return { projection: "equirectangular", reason: `${wide}: only equirectangular shows all of it without endless stretch.` };
}

/** Width and height of what the frames show, degrees. */
export function fieldOf(cameras: Camera[], attitude: Attitude): { widthDeg: number; heightDeg: number } {
  const back = transpose(rotationOf(attitude));
  const angles = [...outlines(cameras, 20), ...cameras.flatMap(inner)].map((ray) => {
    const [x, y, z] = transform(back, ray);
    return [Math.atan2(x, z) / RAD, Math.asin(Math.max(-1, Math.min(1, y))) / RAD];
  });
  const span = (k: number) => Math.max(...angles.map((a) => a[k])) - Math.min(...angles.map((a) => a[k]));
  return { widthDeg: span(0), heightDeg: span(1) };
}
