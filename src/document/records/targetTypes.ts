import type { Intent } from "../../core/print/printed";

/** What the picture is printed on or shown by: a profile, and how the picture is brought to it. One a job. */
export interface TargetRecord {
  kind: "target";
  id: "target";
  /** of the profile's file */
  sourceId: string;
  fileName: string;
  /** as the profile calls itself */
  name: string;
  intent: Intent;
  /** whether the picture's black is brought to that of the target */
  blackPoint: boolean;
  /** whether paper and ink are shown as they are, or the paper as white */
  paper: boolean;
  /** width of the print, mm */
  widthMm: number;
}
