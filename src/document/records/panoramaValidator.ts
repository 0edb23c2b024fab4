import { array, number, object, string } from "yup";
import { CONTROLS } from "../../core/panorama/bend";
import { MOST_PIXELS, MOST_SIDE } from "../../core/panorama/layout";
import { PROJECTIONS } from "../../core/panorama/projections";
import { finite, id, matrix, share, triple, told } from "./fields";

const shotPlace = () => object({ frameId: id(), x: finite(), y: finite() }).required();
const side = () => array(finite().min(0).max(MOST_SIDE)).length(CONTROLS).required();

export const PANORAMA = object({
  id: id(),
  setId: id(),
  operationVersion: finite(),
  lens: object({
    focalPx: finite().min(1).max(1e6),
    focalSd: finite(),
    toldFocalPx: number().nullable().defined(),
    k1: finite().min(-2).max(2),
    k2: finite().min(-2).max(2),
    shiftX: finite(),
    shiftY: finite(),
  }).required(),
  frames: array(object({ frameId: id(), rotation: matrix(), sdDeg: finite(), gainEv: triple() }))
    .required()
    .max(200),
  pairs: array(
    object({
      aId: id(),
      bId: id(),
      agreeing: finite().min(0),
      measured: finite().min(0),
      residualPx: finite().min(0),
      parallaxPx: finite().min(0),
      overlap: share(),
      places: array(array(finite()).length(4).required()).required().max(2000),
    }),
  )
    .required()
    .max(2000),
  points: array(object({ aId: id(), bId: id(), x: finite(), y: finite(), u: finite(), v: finite() }))
    .required()
    .max(1000),
  levels: array(object({ kind: string().oneOf(["level", "upright"]).required(), a: shotPlace(), b: shotPlace() }))
    .required()
    .max(100),
  falloff: triple(),
  view: object({
    projection: string()
      .oneOf([...PROJECTIONS])
      .required(),
    adaption: finite().min(0.01).max(1),
    yawDeg: finite().min(-360).max(360),
    pitchDeg: finite().min(-90).max(90),
    rollDeg: finite().min(-180).max(180),
    scalePx: finite().min(1e-3).max(1e6),
    originX: finite(),
    originY: finite(),
    width: finite().integer().min(1).max(MOST_SIDE),
    height: finite().integer().min(1).max(MOST_SIDE),
    bend: object({ amount: share(), top: side(), right: side(), bottom: side(), left: side() }).nullable().defined(),
  })
    .required()
    // sides are rounded up when a view is laid out
    .test("pixels", "${path} has more px than a panorama may have", (v) => v.width * v.height <= 1.01 * MOST_PIXELS),
  proposal: object({
    projection: string()
      .oneOf([...PROJECTIONS])
      .required(),
    reason: told().required(),
  }).required(),
});
