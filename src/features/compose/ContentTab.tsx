"use client";
import type { LayerRecord } from "../../document/records/layerTypes";
import { controlsOf } from "../../kinds/contents/controls";
import { useSession } from "../../session/store";

/** What the layer shows or does, with its values. */
export function ContentTab({ layer }: { layer: LayerRecord }) {
  const readOnly = useSession((s) => s.readOnly);
  const { Controls } = controlsOf(layer.content);
  return <Controls layer={layer} content={layer.content} isDisabled={readOnly || layer.locked} />;
}
