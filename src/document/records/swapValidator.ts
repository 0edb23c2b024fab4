import { array, object, string } from "yup";
import { JOB_LIMITS } from "../limits";
import { box, finite, id, share } from "./fields";

const look = object({
  frameId: id(),
  sharpness: finite().min(0),
  lightEv: finite(),
  clipped: share(),
  covered: share(),
  found: box().nullable().defined(),
});

export const SWAP = object({
  id: id(),
  index: finite(),
  setId: id(),
  name: string().required().max(200),
  box: box(),
  joint: box().nullable().defined(),
  looks: array(look).required().max(JOB_LIMITS.framesOfSet),
  layerId: string().nullable().defined().max(100),
});
