import type { AlphaKind } from "../../core/raster/raster";
import type { Message } from "../../messages/message";
import type { Lens } from "../../core/geometry/lens";
import type { Matrix3 } from "../../core/geometry/matrix3";
import type { GuideLine, Tilt } from "../../core/geometry/tilt";
import type { Rectangle } from "../../core/geometry/rectangle";
import type { FrameParity } from "../../core/measure/sets/parity";
import type { Link } from "../../core/measure/sets/proposeSets";
import type { SetKind } from "../../kinds/sets/records";
import type { MergeRecord } from "../../kinds/merges/records";
import type { ModelChoice, MotionModel } from "../../core/register/models";
import type { RegionShape } from "../../core/register/regions";
import type { QuarterTurns } from "../../core/raster/orientation";
import type { LayerRecord } from "./layerTypes";
import type { PanoramaRecord } from "./panoramaTypes";
import type { TargetRecord } from "./targetTypes";
import type { PlateRecord, SeatRecord } from "./plateTypes";
import type { SwapRecord } from "./swapTypes";
import type { WeaveRecord } from "./weaveTypes";

/** The job itself. One a document. */
export interface JobRecord {
  kind: "job";
  id: "job";
  name: string;
  createdAt: string;
  /** the set that is registered, merged and worked on */
  workingSetId: string;
}

/** Frames that belong together. A frame is in one set. */
export interface SetRecord {
  kind: "set";
  id: string;
  index: number;
  setKind: SetKind;
  /** why these frames are taken for this kind */
  reasons: Message[];
  /** 0..1; 1 where the person decided */
  confidence: number;
  by: "proposed" | "hand";
  /** how each frame's content follows from the one before it; empty where it was not looked at */
  links: Link[];
  /** what the frames were compared by, or null where that was not done for these frames */
  parity: FrameParity[] | null;
}

/** How a source is developed before anything else. Given to a frame, or the same to all frames of a set. */
export interface Development {
  /** EV added to the frame as shot */
  exposureEv: number;
  /** white balance as in adjustments: mired towards warm, Duv towards magenta */
  mired: number;
  duv: number;
  /** exponent on linear light that makes the tone response equal, 1 as shot; white stays white */
  tone: number;
  /** distortion of the lens that took it; null where it is not known or already corrected */
  lens: Lens | null;
}

/** What Gather measured of one frame. Shares 0..1, noise and edge width as named. */
export interface FrameMeasures {
  /** per channel R, G, B: share of samples at the top and the bottom of the range */
  clippedHigh: [number, number, number];
  clippedLow: [number, number, number];
  /** standard deviation in the flattest area, encoded 0..255 */
  noiseSigma: number;
  /** linear mean of that area, 0..1 */
  noiseAt: number;
  /** 10 to 90 % width of the strongest edges, px; smaller is sharper */
  edgeWidthPx: number;
  /** mean linear luminance 0..1 */
  brightness: number;
  /** slope of fine over coarse structure, 12×8 cells by rows; null where a cell has no structure */
  sharpness: (number | null)[];
  /** points of light on a dark ground */
  stars: number;
  /** share of the border that is one tone */
  plainBorder: number;
}

/** One source picture. Its bytes are kept apart, under `sourceId`. */
export interface FrameRecord {
  kind: "frame";
  id: string;
  index: number;
  setId: string;
  development: Development;
  sourceId: string;
  /** by how many quarters it is turned clockwise against what its file says; width, height and measures are those of the turned picture */
  quarterTurns: QuarterTurns;
  fileName: string;
  /** as people call it */
  format: string;
  /** how its file had its colours beside alpha; null: it came without */
  alpha: AlphaKind | null;
  width: number;
  height: number;
  bits: 8 | 16 | 32;
  colorName: string;
  exposureTimeS: number | null;
  aperture: number | null;
  iso: number | null;
  focalLengthMm: number | null;
  /** as it would be on a frame of 24×36 mm of the same diagonal */
  focalLength35Mm: number | null;
  takenAt: string | null;
  /** where its camera stood and looked, where that was noted */
  shotFrom?: { latitudeDeg: number; longitudeDeg: number; headingDeg: number | null; overUtcH: number | null };
  make: string | null;
  model: string | null;
  copyright: string | null;
  software: string | null;
  /** absolute, from metadata; see exposureEvOf */
  meteredEv: number | null;
  measures: FrameMeasures;
  notes: Message[];
  /** the person leaves it out */
  excluded: boolean;
}

/** EV of each frame against the reference, from the pixels. */
export interface ExposuresRecord {
  kind: "exposures";
  id: "exposures";
  /** frame id → EV against the brightest-to-darkest ladder's middle; only differences matter */
  measuredEv: Record<string, number>;
}

export interface FramePlacement {
  frameId: string;
  registered: boolean;
  /** undistorted moving → reference, or null */
  matrix: Matrix3 | null;
  /** distortion against the reference where the model has one, or as developed */
  lens: Lens | null;
  model: MotionModel;
  /** measured by Marsh, moved by hand, or from control points */
  by: "measured" | "hand" | "points";
  /** control points: x, y in the reference, x, y in the frame as shot */
  points: number[][];
  /** RMS that each model leaves, px */
  models: { model: MotionModel; rmsPx: number }[];
  /** where something had to line up: what is left elsewhere */
  drift: { rmsPx: number; agreeing: number } | null;
  residualPx: number;
  residualBeforePx: number;
  agreeing: number;
  confidence: number;
  /** how far off other places lie where the frame fits as well, px, the nearest first: what repeats itself does not tell */
  otherPx: number[];
  reason: Message | null;
  /** places measured: x, y, dx, dy, correlation, in the reference frame's px */
  shifts: number[][];
}

export interface RegistrationRecord {
  kind: "registration";
  /** registration-<set id> */
  id: string;
  setId: string;
  operationVersion: number;
  model: ModelChoice;
  referenceId: string;
  referenceReason: Message;
  placements: FramePlacement[];
  /** largest rectangle without an empty pixel, reference px */
  proposedCrop: Rectangle;
}

/** Where frames differ because something moved, and the one frame that is taken there. */
export interface GhostRecord {
  kind: "ghost";
  id: string;
  setId: string;
  /** as it is called on the screen */
  number: number;
  /** side of a cell, reference px */
  cellPx: number;
  /** cells covered, by rows: row, first column, one past the last column, one after the other */
  runs: number[];
  /** most that frames differ, multiples of the noise; 0 where painted */
  strength: number;
  /** null: the merge as it is */
  donorId: string | null;
  proposedId: string | null;
  /** whether the person said which */
  chosen: boolean;
  /** why that frame */
  reason: Message;
  by: "found" | "hand";
}

/** One stroke of a painted part, in reference px. */
export interface StrokeRecord {
  kind: "stroke";
  id: string;
  index: number;
  layerId: string;
  partId: string;
  reveal: boolean;
  diameterPx: number;
  /** 0 hard, 1 soft to the centre */
  softness: number;
  flow: number;
  opacity: number;
  /** most that what it covers may differ in colour from where it began, ΔE (Oklab, in hundredths); 0 without limit */
  edgeTolerance: number;
  /** distance between dabs as a share of the diameter */
  spacing: number;
  /** x, y, pressure (0..1) one after the other */
  points: number[];
}

export interface GeometryRecord {
  kind: "geometry";
  /** geometry-<set id> */
  id: string;
  setId: string;
  /** turn of the picture about the reference centre, degrees, positive clockwise */
  angleDeg: number;
  /** the camera turned after the fact, before the picture is turned; absent: as shot */
  tilt?: Tilt;
  /** what was said to be upright or level, reference px */
  lines?: GuideLine[];
  /** in the turned reference frame, px */
  crop: Rectangle;
  /** width / height as chosen, or null for free */
  ratio: number | null;
}

/** Something that has to line up, or that must not count, in the reference of a set. */
export interface RegionRecord {
  kind: "region";
  id: string;
  index: number;
  setId: string;
  purpose: "lineUp" | "ignore";
  shape: RegionShape;
}

/** A difference between the frames of a set that the person lets stand. */
export interface ParityRecord {
  kind: "parity";
  id: string;
  setId: string;
  /** what differs; see core/measure/sets/parity */
  aspect: string;
  reason: Message;
}

/** neutral, exposure: judged in Finish; pair: ought to look as a place of another picture does; stay: kept inside the crop; card: a grey card in one frame as shot. */
export type PinPurpose = "neutral" | "exposure" | "pair" | "stay" | "card";

export interface PinRecord {
  kind: "pin";
  id: string;
  index: number;
  setId: string;
  /** for a card: the frame whose px the place is in; for a pair: the frame that its like is in; else null. Places of all but cards are in the reference */
  frameId: string | null;
  purpose: PinPurpose;
  x: number;
  y: number;
  /** radius of the patch, px */
  radius: number;
  /** for an exposure pin: L* it should have */
  target: number | null;
  /** for a neutral pin: how far from neutral it may be, ΔE; unsaid: hardly */
  mayBe?: number;
  /** for a pair: its like, px of that frame */
  like?: { x: number; y: number };
}

/** A finding accepted by the person. */
export interface AcceptanceRecord {
  kind: "acceptance";
  id: string;
  /** finding id, or "kind:<finding kind>" for all of a kind */
  findingId: string;
  reason: string;
}

export type AnyRecord =
  | JobRecord
  | SetRecord
  | RegionRecord
  | ParityRecord
  | FrameRecord
  | ExposuresRecord
  | RegistrationRecord
  | PanoramaRecord
  | MergeRecord
  | GhostRecord
  | WeaveRecord
  | SwapRecord
  | PlateRecord
  | SeatRecord
  | LayerRecord
  | StrokeRecord
  | GeometryRecord
  | PinRecord
  | AcceptanceRecord
  | TargetRecord;

export type RecordKind = AnyRecord["kind"];

/** All records of a job by id. Never changed in place. */
export type Records = Readonly<Record<string, AnyRecord>>;
