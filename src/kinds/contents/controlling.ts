import type { ComponentType } from "react";
import type { NewLayer } from "../../document/layerEdits";
import type { LayerRecord } from "../../document/records/layerTypes";
import type { ComposeTab } from "../../view/composeState";

export interface ControlsProps<C> {
  layer: LayerRecord;
  content: C;
  isDisabled: boolean;
}

/** A layer as it can be laid over what is there. */
export interface Offer {
  id: string;
  name: string;
  /** what it is for, in a sentence */
  does: string;
  layer: () => NewLayer;
  /** what to do next, said with the step */
  next?: string;
  /** what of it is worked on first */
  tab: ComposeTab;
}

export interface ContentControls<C> {
  Controls: ComponentType<ControlsProps<C>>;
  /** layers of this kind that need nothing to be chosen for them */
  offers: Offer[];
}
