import type { Point } from "../../core/seat/fitStance";
import type { ShadowMark } from "../../core/seat/lightFromShadows";
import type { DrawnLine } from "../../core/seat/stanceByLines";
import type { Lamp } from "../../core/light/lamp";
import type { Air } from "../../core/air/fitHaze";
import type { Surface } from "../../core/seat/scenery";
import type { Whereabouts } from "../../core/seat/sunByDate";
import type { Stance } from "../../core/seat/upright";

/** By what a horizon is told: lines that were found, lines that were drawn, pulled by hand, or not at all, and then it is a guess. */
export const HORIZON_BY = ["found", "lines", "hand", "guess"] as const;
/** By what a focal length is told: the camera's own note, directions square to each other, the person, or not at all. */
export const FOCAL_BY = ["metadata", "directions", "hand", "guess"] as const;
/** By what the height of the camera is told: a length that is known, the person, or not at all. */
export const HEIGHT_BY = ["length", "hand", "guess"] as const;

/** By what else a light is told: the sun is seen in the picture, date, place and heading, or the shading of something round. */
export const LIGHT_BY = ["sun", "date", "ball"] as const;

/** What a seat's thing stands on: the ground or what is level on it; nothing; the sky, where it is as wide as it is seen; or it lies flat on whatever surface is there. */
export const SEAT_ON = ["ground", "flat", "sky", "free"] as const;

/** A lamp of a plate: whether what it lights is to be laid on, or shows in the plate already. */
export interface PlateLamp extends Lamp {
  isAdded: boolean;
}

/** A place of a plate whose distance is known, px and metres. */
export interface HazeMark {
  x: number;
  y: number;
  distanceM: number;
}

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
  /** towards the light, said in place of what shadows tell: by the person where nothing else is said; null: what they tell */
  light: { azimuthDeg: number; elevationDeg: number; by?: (typeof LIGHT_BY)[number]; sigmaDeg?: number } | null;
  /** when and where it was taken, as far as that was said */
  whereabouts?: Whereabouts;
  /** what of it is not its ground */
  surfaces?: Surface[];
  /** what shines in it or beside it */
  lamps?: PlateLamp[];
  /** light of all else on a white surface there, EV over white */
  ambientEv?: number;
  /** what its air hides with distance, as measured, and places whose distance was said for that */
  air?: Air;
  hazeMarks?: HazeMark[];
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
  /** where it stands, px of the picture; what is in the sky has its middle there */
  foot: { x: number; y: number };
  /** its foot and its top, px of what the layer shows */
  own: { footX: number; footY: number; topX: number; topY: number };
  /** how tall it is, metres */
  heightM: number;
  heightBy: "hand" | "guess";
  on: (typeof SEAT_ON)[number];
  /** how the camera stood that took what the layer shows, as its own lines tell */
  seenFrom?: Stance;
  /** of what is free: its size as a share of what the layer shows */
  scale: number;
  /** of what is in the sky: from its foot to its top, degrees, and how many times as wide it is shown, on purpose */
  wideDeg?: number;
  times?: number;
  /** of what is in the sky or lies flat: turned clockwise as it is seen */
  turnDeg?: number;
}
