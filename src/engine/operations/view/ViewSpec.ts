import type { MergeMethod } from "../../../kinds/merges/records";
import type { PanoramaView } from "../../../core/panorama/layout";
import type { CompareMode } from "./compareViews";
import type { Placing } from "../register/placements";

/** Spaces that a screen shows. */
export type ScreenSpace = "srgb" | "display-p3";

/** What the screen can ask to see. Source views have the frame's own pixels, output views the delivered ones, others the reference's. */
export type ViewSpec =
  | { kind: "source"; frameId: string }
  /** a placed frame; levelled: at the reference's exposure */
  | { kind: "frame"; frameId: string; levelled?: boolean }
  | { kind: "placing"; frameId: string; referenceId: string; placing: Placing; mode: CompareMode }
  /** method null: the one in force. bare: without the places taken from one frame. liftEv: brightened, so that remnants show */
  | { kind: "merge"; method: MergeMethod | null; bare?: boolean; liftEv?: number }
  /** a first look at a merge that is being made */
  | { kind: "coarse"; method: MergeMethod }
  /** a panorama laid out but not joined; view null: as it is shown */
  | { kind: "panorama"; view: PanoramaView | null }
  | { kind: "provenance" }
  | { kind: "depth" }
  /** of a radiance merge: light against its noise */
  | { kind: "confidence" }
  /** liftEv: brightened, as for a merge */
  | { kind: "compose"; liftEv?: number }
  /** what a removal has left: grey where the picture is as it ought to be, lighter and darker where it is not, strongly lifted */
  | { kind: "residual"; layerId: string }
  /** a mask: hatched over what it conceals, alone, or its border on the picture */
  | { kind: "mask"; layerId: string; as: "pattern" | "alone" | "edge" }
  | { kind: "output" }
  /** the finished picture as its target prints it; marks: what it cannot show, or what prints as its black */
  | { kind: "printed"; marks: "none" | "outside" | "blocked" };
