import type { Telling } from "../../messages/message";
import type { ComponentType } from "react";
import type { BlendMode } from "../../core/blend/blendModes";
import type { Proposal } from "../../ui/components/MeasuredControl";
import type { Records } from "../../document/records/types";

export interface ControlsProps {
  /** in use, neutral where none was given */
  values: Record<string, number>;
  isDisabled: boolean;
  /** a step of the logbook */
  set: (given: Record<string, number>, label: Telling) => void;
  /** shown while the hand moves */
  preview: (given: Record<string, number>) => void;
  /** what measurements propose, by value */
  proposals?: Record<string, Proposal | undefined>;
}

export interface AdjustmentControls {
  Controls: ComponentType<ControlsProps>;
  /** whether it can be laid now; it can where nothing is said */
  isOffered?: (records: Records) => boolean;
  /** how it blends when it is laid; normally where nothing is said */
  mode?: BlendMode;
  /** the values it begins with in a picture; neutral ones where nothing is said */
  begin?: (records: Records) => Promise<Record<string, number>>;
}
