import type { SetCheck } from "../../core/measure/sets/verifySet";

/** What the frames of a set are to each other. */
export interface SetKindRecord {
  /** what is looked for besides what is odd in any set */
  checks: SetCheck[];
  /** whether frames follow each other: they stand in the order they were taken in and are measured from one to the next */
  isSequence?: boolean;
  /** whether all frames show one view, so that what differs in development and geometry can be told from the pixels */
  isComparable?: boolean;
  /** whether exposure and light stay, so that the slope of light against light tells the tone response of a development */
  comparesTone?: boolean;
  /** whether exposures rise by steps */
  hasSteps?: boolean;
  /** whether frames look elsewhere, and are placed by directions */
  looksElsewhere?: boolean;
  /** whether all frames show one moment's light */
  isOfOneMoment?: boolean;
}
