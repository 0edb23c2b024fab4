import { useId } from "react";
import { GroundCamera } from "../../../core/seat/groundCamera";
import type { Vector3 } from "../../../core/panorama/camera";
import { directionOf } from "../../../core/seat/lightFromShadows";
import { horizonEnds } from "../../../core/seat/upright";
import type { Records } from "../../../document/records/types";
import { lampRadiusPx } from "../../../core/light/lamp";
import { lampsOf } from "../../../document/lampEdits";
import { documentSize, layerOf, seatsOf } from "../../../document/selectors";
import type { PlateLamp, SeatRecord } from "../../../document/records/plateTypes";
import { cameraOf, lightOf, sceneryOf, seatFigures, standsAt } from "../../../document/seatGeometry";
import { sentence } from "../../../messages/sentence";
import { plateNow } from "../../../document/seatEdits";
import { plain, withUnit } from "../../../ui/format";
import { DoubleLine } from "../ShapeOverlay";
import type { Drawn } from "./useSeatTool";

interface Props {
  records: Records;
  size: { width: number; height: number };
  seatId: string | null;
  lampId: string | null;
  drawn: Drawn;
  toScreen: (x: number, y: number) => [number, number];
}

/** The plate's horizon and ground, lines and shadows, and the feet of what is seated, on the picture. */
export function SeatOverlay({ records, size, seatId, lampId, drawn, toScreen }: Props) {
  const within = useId();
  const plate = plateNow(records);
  if (!plate) return null;
  const at = ([x, y]: readonly [number, number]) => toScreen(x + 0.5, y + 0.5);
  const camera = cameraOf(plate, size);
  const ends = horizonEnds(plate.stance, size).map(at);
  const isGuess = plate.horizonBy === "guess";
  const chosen = seatsOf(records).find((s) => s.id === seatId);
  // what tells the plate is out of the way while a thing is moved
  const lines = [...(chosen ? [] : plate.lines), ...(drawn.line ? [drawn.line] : [])];
  const corners = [toScreen(0, 0), toScreen(size.width, size.height)];
  const marks = chosen
    ? []
    : [...plate.shadows.map(({ foot, top, tip }) => [...(foot ? [foot] : []), top, tip]), ...(drawn.places.length ? [drawn.places] : [])];
  const surfaces = sceneryOf(plate, size).stood;
  const distances = chosen ? [] : (plate.hazeMarks ?? []);
  return (
    <g clipPath={`url(#${within})`}>
      <clipPath id={within}>
        <rect x={corners[0][0]} y={corners[0][1]} width={corners[1][0] - corners[0][0]} height={corners[1][1] - corners[0][1]} />
      </clipPath>
      {!isGuess && <Ground camera={camera} size={size} at={at} />}
      <DoubleLine>
        <line x1={ends[0][0]} y1={ends[0][1]} x2={ends[1][0]} y2={ends[1][1]} strokeDasharray={isGuess ? "6 5" : undefined} />
        {chosen && <CastLine records={records} seat={chosen} at={at} />}
        {lines.map((l, i) => {
          const [[x1, y1], [x2, y2]] = [at([l.x0, l.y0]), at([l.x1, l.y1])];
          return <line key={i} x1={x1} y1={y1} x2={x2} y2={y2} strokeDasharray={l.is === "length" || l.is === "height" ? "3 3" : undefined} />;
        })}
        {surfaces.map(({ surface, outline }) => (
          <polygon key={surface.id} points={outline.map((p) => at(p).join(",")).join(" ")} strokeDasharray="7 3" opacity={chosen ? 0.4 : 0.8} />
        ))}
        {distances.map(({ x, y }, i) => {
          const [u, v] = at([x, y]);
          return <path key={i} d={`M${u - 7},${v} h14 M${u - 7},${v - 4} v8 M${u + 7},${v - 4} v8`} />;
        })}
        {!chosen && plate.shadows.map(({ foot, top, tip }, i) => foot === null && <Through key={i} from={tip} to={top} at={at} />)}
        {lampsOf(plate).map((l) => (
          <LampMark key={l.id} at={at} lamp={l} radiusPx={lampRadiusPx(camera, l)} isChosen={l.id === lampId} isQuiet={chosen !== undefined} />
        ))}
        {(drawn.by === "ball" || drawn.by === "lamp") && drawn.places.length === 2 && <Ball at={at} places={drawn.places} />}
        {marks.map((places, i) => (
          <g key={i}>
            <polyline points={places.map((p) => at(p).join(",")).join(" ")} strokeDasharray="2 3" />
            {places.map((p, k) => {
              const [x, y] = at(p);
              return <circle key={k} cx={x} cy={y} r={4} />;
            })}
          </g>
        ))}
        {seatsOf(records).map((s) => {
          const [x, y] = at([s.foot.x, s.foot.y]);
          return <path key={s.id} d={`M${x - 9},${y} h18 M${x},${y - 5} v10`} opacity={s.id === seatId ? 1 : 0.6} />;
        })}
      </DoubleLine>
      {lines.map((l, i) => (l.metres > 0 ? <Label key={i} at={at([(l.x0 + l.x1) / 2, (l.y0 + l.y1) / 2])} text={withUnit(plain(l.metres, 2), "m")} /> : null))}
      {distances.map(({ x, y, distanceM }, i) => (
        <Label key={i} at={at([x, y])} text={`${i + 1}: ${withUnit(plain(distanceM, 1), "m")}`} />
      ))}
      {!chosen &&
        surfaces.map(({ surface, outline }) => (
          <Label
            key={surface.id}
            at={at(outline[0])}
            text={surface.is === "water" ? sentence("seating/surface.water") : withUnit(plain(surface.heightM, 2), "m")}
          />
        ))}
      {chosen && layerOf(records, chosen.layerId) && <Label at={at([chosen.foot.x, chosen.foot.y])} text={distanceOf(records, chosen)} />}
    </g>
  );
}

/** How far a line through a tip and its top is drawn beyond that, of what lies between them. */
const BEYOND = 40;

/** The line on which the light is seen, or straight opposite to it: through the tip of a shadow and what threw it. Two of them cross there. */
function Through({ from, to, at }: { from: readonly [number, number]; to: readonly [number, number]; at: (p: readonly [number, number]) => [number, number] }) {
  const beyond = (by: number): [number, number] => [to[0] + by * (to[0] - from[0]), to[1] + by * (to[1] - from[1])];
  const [[x1, y1], [x2, y2]] = [at(beyond(-BEYOND)), at(beyond(BEYOND))];
  return <line x1={x1} y1={y1} x2={x2} y2={y2} strokeDasharray="1 5" />;
}

/** A circle from its middle to its rim. */
function Ball({ places: [middle, rim], at }: { places: [number, number][]; at: (p: readonly [number, number]) => [number, number] }) {
  const [[x, y], [u, v]] = [at(middle), at(rim)];
  return <circle cx={x} cy={y} r={Math.hypot(u - x, v - y)} />;
}

/** Rays around a lamp, as many as a compass has. */
const RAYS = 8;

/** A lamp: its rim, and short rays outside of it. */
function LampMark(props: { lamp: PlateLamp; radiusPx: number; isChosen: boolean; isQuiet: boolean; at: (p: readonly [number, number]) => [number, number] }) {
  const { lamp, radiusPx, isChosen, isQuiet, at } = props;
  const [x, y] = at([lamp.x, lamp.y]);
  const r = Math.max(3, at([lamp.x + radiusPx, lamp.y])[0] - x);
  const rays = Array.from({ length: RAYS }, (_, k) => {
    const [c, s] = [Math.cos((2 * Math.PI * k) / RAYS), Math.sin((2 * Math.PI * k) / RAYS)];
    return `M${x + (r + 4) * c},${y + (r + 4) * s} l${6 * c},${6 * s}`;
  });
  return (
    <g opacity={isChosen ? 1 : isQuiet ? 0.35 : 0.7}>
      <circle cx={x} cy={y} r={r} />
      <path d={rays.join(" ")} />
    </g>
  );
}

/** Where the shadow of a thing falls on level ground: from its foot to the tip. */
function CastLine({ records, seat, at }: { records: Records; seat: SeatRecord; at: (p: readonly [number, number]) => [number, number] }) {
  const [plate, size] = [plateNow(records), documentSize(records)];
  const light = plate && size && lightOf(plate, size);
  if (!light || typeof light === "string") return null;
  const camera = cameraOf(plate, size);
  const foot = standsAt(plate, size, seat);
  if (!foot) return null;
  const d = directionOf(light.azimuthDeg, light.elevationDeg);
  const tip = camera.pixelOf([foot[0] - (d[0] / d[1]) * seat.heightM, foot[1], foot[2] - (d[2] / d[1]) * seat.heightM]);
  if (!tip) return null;
  const [[x1, y1], [x2, y2]] = [at([seat.foot.x, seat.foot.y]), at(tip)];
  return (
    <>
      <line x1={x1} y1={y1} x2={x2} y2={y2} strokeDasharray="2 3" />
      <circle cx={x2} cy={y2} r={3} />
    </>
  );
}

function distanceOf(records: Records, seat: SeatRecord): string {
  const metres = seatFigures(records, seat)?.distanceM ?? null;
  return metres === null ? "" : withUnit(plain(metres, 1), "m");
}

/** A figure beside a place, light with a dark rim. */
function Label({ at: [x, y], text }: { at: [number, number]; text: string }) {
  if (!text) return null;
  return (
    <text x={x + 12} y={y + 4} fontSize={12} stroke="#000" strokeWidth={3} fill="#fff" style={{ paintOrder: "stroke" }}>
      {text}
    </text>
  );
}

/** Distances between lines of the ground, metres, and the most of them that are drawn. */
const STEPS = [0.5, 1, 2, 5, 10, 20, 50];
const MOST_LINES = 12;
/** A line ends where the ground between two of them gets narrower than this share of the picture's height. */
const NARROWEST = 0.018;

/** Lines of the ground, one every so many metres, as far as they can be told apart. */
function Ground({
  camera,
  size,
  at,
}: {
  camera: GroundCamera;
  size: { width: number; height: number };
  at: (p: readonly [number, number]) => [number, number];
}) {
  const near = nearest(camera, size);
  if (near === null) return null;
  const step = STEPS.find((s) => s * 4 > near) ?? 50;
  const far = near + step * MOST_LINES;
  const first = Math.ceil(near / step) * step;
  const sides = Array.from({ length: 2 * MOST_LINES + 1 }, (_, i) => (i - MOST_LINES) * step);
  const depths: number[] = [];
  for (let z = first; z <= far; z += step) {
    const [a, b] = [camera.pixelOf([0, 0, z]), camera.pixelOf([0, 0, z + step])];
    if (!a || !b || Math.hypot(a[0] - b[0], a[1] - b[1]) < NARROWEST * size.height) break;
    depths.push(z);
  }
  const last = (depths.at(-1) ?? first) + step;
  const line = (from: Vector3, to: Vector3, key: string) => {
    const [p, q] = [camera.pixelOf(from), camera.pixelOf(to)];
    if (!p || !q) return null;
    const [[x1, y1], [x2, y2]] = [at(p), at(q)];
    return <line key={key} x1={x1} y1={y1} x2={x2} y2={y2} />;
  };
  return (
    <g opacity={0.35}>
      <DoubleLine>
        {depths.map((z) => line([sides[0], 0, z], [sides[sides.length - 1], 0, z], `z${z}`))}
        {sides.map((x) => line([x, 0, Math.max(0.2, near * 0.6)], [x, 0, last], `x${x}`))}
      </DoubleLine>
    </g>
  );
}

/** How near the ground is shown in the middle of the lower edge, metres; null where none is. */
function nearest(camera: GroundCamera, { width, height }: { width: number; height: number }): number | null {
  const place = camera.placeAt((width - 1) / 2, height - 1);
  return place && place[2] > 0 ? place[2] : null;
}
