import { message } from "../../messages/message";
import { sentence } from "../../messages/sentence";
import type { Telling } from "../../messages/message";
import type { ComponentType } from "react";
import type { LayerRecord } from "../../document/records/layerTypes";
import type { Records } from "../../document/records/types";
import { frameNumber, mergedFramesOf } from "../../document/selectors";
import type { PartBase } from "./fields";

type Size = { width: number; height: number };
type Point = [number, number];

export interface ControlsProps<P> {
  part: P & PartBase;
  isDisabled: boolean;
  /** a step of the logbook; what is said follows the name of the part */
  change: (next: Partial<P>, label: Telling) => void;
}

/** A pointer on its way over the picture, reference px. */
export interface Drawing {
  from: Point;
  to: Point;
  /** corners on the way, x, y one after the other */
  along: number[];
  /** whether both sides are to be alike */
  even: boolean;
}

export interface OutlineProps<P> {
  part: P;
  at: (x: number, y: number) => Point;
  /** px of the screen a px of the picture */
  scale: number;
  turnDeg: number;
}

export interface PartControls<P> {
  /** a new one where it can be seen in a picture of a size; null where it is not added as the others are */
  begin: ((size: Size, records: Records, layer: LayerRecord) => P | null) | null;
  /** whether it can be added now */
  isOffered?: (records: Records) => boolean;
  /** what is set besides values; null where that is all */
  Controls?: ComponentType<ControlsProps<P>>;
  /** whether its values have a meaning as it is; they have where nothing is said */
  shows?: (part: P) => boolean;
  /** most that values can be, where the job says it */
  most?: (records: Records) => Record<string, number>;
  /** the part as it is drawn by dragging on the picture; null while there is too little of it */
  drawn?: (part: P & PartBase, drawing: Drawing) => (P & PartBase) | null;
  /** whether it is drawn as it is; it is where nothing is said */
  isDrawn?: (part: P) => boolean;
  /** whether a press is enough */
  atOnce?: (part: P) => boolean;
  Outline?: ComponentType<OutlineProps<P>>;
}

/** The frame that a layer shows, which its mask is measured in first. */
export const frameOf = (layer: LayerRecord): string | null => (layer.content.type === "frame" ? layer.content.frameId : null);

export const framesToChoose = (records: Records): { id: string; label: string }[] =>
  mergedFramesOf(records).map(({ frame }) => ({ id: frame.id, label: sentence(message("common/frameNumber", { number: frameNumber(records, frame.id) })) }));
