import { array, boolean, number, object, string } from "yup";
import { LAMP_KINDS } from "../../core/light/lamp";
import { SURFACE_KINDS } from "../../core/seat/scenery";
import { LINE_KINDS } from "../../core/seat/stanceByLines";
import { finite, id } from "./fields";
import { FOCAL_BY, HEIGHT_BY, HORIZON_BY, LIGHT_BY, SEAT_ON } from "./plateTypes";

const MOST_LINES = 100;
const MOST_SHADOWS = 50;
const [MOST_SURFACES, MOST_CORNERS] = [40, 12];
const MOST_LAMPS = 40;
const MOST_MARKS = 40;
const FARTHEST = 1e6;
/** Beyond that the horizon leaves no picture through its sides, degrees. */
const MOST_ROLL = 60;

const coordinate = () => finite().min(-FARTHEST).max(FARTHEST);
const place = () => array(coordinate()).required().length(2);
const metres = () => finite().min(0.001).max(10_000);
const oneOf = (values: readonly string[]) =>
  string()
    .oneOf([...values])
    .required();
const azimuth = () => finite().min(-360).max(360);

const stance = () => object({ pitchDeg: finite().min(-89).max(89), rollDeg: finite().min(-MOST_ROLL).max(MOST_ROLL), focalPx: finite().min(1).max(FARTHEST) });

export const PLATE = object({
  id: id(),
  setId: id(),
  stance: stance().required(),
  horizonBy: oneOf(HORIZON_BY),
  focalBy: oneOf(FOCAL_BY),
  horizonSigmaDeg: finite().min(0),
  focalSigma: finite().min(0),
  heightM: metres(),
  heightBy: oneOf(HEIGHT_BY),
  vanishing: array(object({ of: oneOf(["level", "upright"]), azimuthDeg: azimuth(), lines: finite().integer().min(0) }))
    .required()
    .max(8),
  lines: array(object({ is: oneOf(LINE_KINDS), x0: coordinate(), y0: coordinate(), x1: coordinate(), y1: coordinate(), metres: finite().min(0).max(10_000) }))
    .required()
    .max(MOST_LINES),
  shadows: array(object({ foot: array(coordinate()).length(2).nullable().defined(), top: place(), tip: place() }))
    .required()
    .max(MOST_SHADOWS),
  light: object({ azimuthDeg: azimuth(), elevationDeg: finite().min(0).max(90), by: string().oneOf([...LIGHT_BY]), sigmaDeg: number().min(0).max(180) })
    .nullable()
    .defined(),
  whereabouts: object({
    clock: string()
      .required()
      .matches(/^\d{4}-\d\d-\d\dT\d\d:\d\d(:\d\d)?$/),
    overUtcH: finite().min(-14).max(14),
    latitudeDeg: finite().min(-90).max(90),
    longitudeDeg: finite().min(-180).max(180),
    headingDeg: finite().min(0).max(360),
  }).default(undefined),
  surfaces: array(
    object({ id: id(), is: oneOf(SURFACE_KINDS), places: array(place()).required().min(2).max(MOST_CORNERS), heightM: finite().min(-100).max(100) }),
  ).max(MOST_SURFACES),
  lamps: array(
    object({
      id: id(),
      is: oneOf(LAMP_KINDS),
      x: coordinate(),
      y: coordinate(),
      distanceM: number().min(0.05).max(10_000).nullable().defined(),
      wide: finite().min(0.001).max(180),
      ev: finite().min(-20).max(20),
      color: array(finite().min(0).max(10)).required().length(3),
      isAdded: boolean().required(),
    }),
  ).max(MOST_LAMPS),
  ambientEv: number().min(-20).max(20),
  air: object({ color: array(finite().min(0).max(1000)).required().length(3), perM: array(finite().min(0).max(100)).required().length(3) }).default(undefined),
  hazeMarks: array(object({ x: coordinate(), y: coordinate(), distanceM: metres() })).max(MOST_MARKS),
  overcast: boolean().required(),
  byTaste: boolean(),
});

export const SEAT = object({
  id: id(),
  setId: id(),
  layerId: id(),
  foot: object({ x: coordinate(), y: coordinate() }).required(),
  own: object({ footX: coordinate(), footY: coordinate(), topX: coordinate(), topY: coordinate() }).required(),
  heightM: metres(),
  heightBy: oneOf(["hand", "guess"]),
  on: oneOf(SEAT_ON),
  seenFrom: stance().default(undefined),
  scale: finite().min(0.001).max(100),
  wideDeg: number().min(0.01).max(60),
  times: number().min(0.1).max(100),
  turnDeg: number().min(-180).max(180),
});
