import type { Point } from "../../core/seat/fitStance";
import type { ShadowMark } from "../../core/seat/lightFromShadows";
import type { DrawnLine } from "../../core/seat/stanceByLines";
import type { Stance } from "../../core/seat/upright";

/** By what a horizon is told: lines that were found, lines that were drawn, pulled by hand, or not at all, and then it is a guess. */
export const HORIZON_BY = ["found", "lines", "hand", "guess"] as const;
/** By what a focal length is told: the camera's own note, directions square to each other, the person, or not at all. */
export const FOCAL_BY = ["metadata", "directions", "hand", "guess"] as const;
/** By what the height of the camera is told: a length that is known, the person, or not at all. */
export const HEIGHT_BY = ["length", "hand", "guess"] as const;

/** The plate that things are seated in: how its camera stood, and its light. One a set; places in px of the picture. */
export interface PlateRecord {
  kind: "plate";
  /** plate-<set id> */
  id: string;
  setId: string;
  stance: Stance;
  horizonBy: (typeof HORIZON_BY)[number];
  focalBy: (typeof FOCAL_BY)[number];
  /** standard deviations: of the horizon in the picture, degrees, and of the focal length, a share */
  horizonSigmaDeg: number;
  focalSigma: number;
  /** of the camera over the ground, metres */
  heightM: number;
  heightBy: (typeof HEIGHT_BY)[number];
  /** where found lines meet, and how many lead there */
  vanishing: (Point & { lines: number })[];
  lines: DrawnLine[];
  /** things with their shadows, as marked */
  shadows: ShadowMark[];
  /** towards the light, said by the person in place of what shadows tell; null: what they tell */
  light: { azimuthDeg: number; elevationDeg: number } | null;
  /** no direction: the sky is the light */
  overcast: boolean;
  /** scale and light are by taste: what is not plausible is no finding */
  byTaste?: boolean;
}

/** Something that a layer shows, seated in the plate. */
export interface SeatRecord {
  kind: "seat";
  id: string;
  setId: string;
  layerId: string;
  /** where it stands, px of the picture */
  foot: { x: number; y: number };
  /** its foot and its top, px of what the layer shows */
  own: { footX: number; footY: number; topX: number; topY: number };
  /** how tall it is, metres */
  heightM: number;
  heightBy: "hand" | "guess";
  /** it stands on the ground, and its size follows from where; or it is as large as it is, and lies anywhere */
  on: "ground" | "free";
  /** of what is free: its size as a share of what the layer shows */
  scale: number;
}
