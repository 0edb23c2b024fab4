import { boolean, string } from "yup";
import { finite } from "../../../document/records/fields";
import { place } from "../../maskParts/fields";
import type { ContentRecord } from "../fields";

export const RETOUCH_METHODS = ["heal", "clone", "fill", "smooth"] as const;
/** Healing takes detail from a source and tones from around; cloning takes both; filling looks for what goes on there; smoothing has no detail. */
export type RetouchMethod = (typeof RETOUCH_METHODS)[number];

/** What lies below, mended where the mask reveals: taken from a place dx, dy away, turned, scaled and mirrored about the middle of the area. */
export interface RetouchContent {
  type: "retouch";
  method: RetouchMethod;
  dx: number;
  dy: number;
  angleDeg: number;
  scale: number;
  mirrored: boolean;
}

export const retouch: ContentRecord<RetouchContent> = {
  fields: {
    method: string()
      .oneOf([...RETOUCH_METHODS])
      .required(),
    dx: place(),
    dy: place(),
    angleDeg: finite().min(-180).max(180),
    scale: finite().min(0.1).max(10),
    mirrored: boolean().required(),
  },
  reads: () => ({ below: true }),
  finestPx: () => 1,
};
