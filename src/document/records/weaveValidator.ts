import { array, boolean, object, string } from "yup";
import { AIMS } from "../../core/weave/judgeRegions";
import { cellPx, cellRuns, finite, id, share } from "./fields";

const MOST_REGIONS = 200;
const MOST_FRAMES = 200;

const cell = object({
  clipped: share(),
  noise: finite().min(0),
  detailEv: finite().min(0),
  rippleEv: finite().min(0),
  chroma: finite().min(0),
  colourRange: finite().min(0),
  lightEv: finite(),
  shadeEv: finite().min(0),
  steady: finite(),
  alone: share(),
  lightFromDeg: finite(),
  lightFromEv: finite().min(0),
});

export const WEAVE = object({
  id: id(),
  setId: id(),
  cellPx: cellPx(),
  columns: finite().integer().min(1).max(100_000),
  rows: finite().integer().min(1).max(100_000),
  frameIds: array(id()).required().max(MOST_FRAMES),
  regions: array(
    object({
      id: id(),
      name: string().required().max(200),
      aim: string()
        .oneOf([...AIMS])
        .required(),
      runs: cellRuns(),
      cells: array(cell).required().max(MOST_FRAMES),
      choice: string().nullable().defined().max(100),
      byHand: boolean().required(),
    }),
  )
    .required()
    .max(MOST_REGIONS),
}).test("cells", "${path} has not one cell for each frame", (w) =>
  ((w?.regions ?? []) as { cells?: unknown[] }[]).every((r) => r.cells?.length === w?.frameIds?.length),
);
