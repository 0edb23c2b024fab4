import type { ComponentType } from "react";
import type { MergeMethod, MergeOf } from "./records";

export interface ControlsProps<M extends MergeMethod> {
  record: MergeOf<M>;
}

export interface MergeControls<M extends MergeMethod> {
  /** what to know of a merge in figures, and what can be set of it */
  Controls: ComponentType<ControlsProps<M>>;
  /** maps of the picture that only this method has */
  maps?: { id: "confidence" | "depth"; label: string }[];
  /** what it shows on the picture */
  Overlay?: ComponentType<{ at: (x: number, y: number) => [number, number]; size: { width: number; height: number } }>;
}
