"use client";
import { ungroup, updateLayer } from "../../document/layerEdits";
import type { LayerContent, LayerRecord } from "../../document/records/layerTypes";
import { childrenOf, mergeOf, relativeEvOf } from "../../document/selectors";
import { ADJUSTMENT_CONTROLS } from "../../kinds/adjustments/controls";
import { valuesOf } from "../../kinds/adjustments/records";
import { ADJUSTMENT_WORDS } from "../../kinds/adjustments/words";
import { edit } from "../../session/openJob";
import { useSession } from "../../session/store";
import { Button } from "../../ui/components/Button";
import { MeasuredControl } from "../../ui/components/MeasuredControl";
import { RowOf, Section, Soft } from "../../ui/components/panels";
import { counted, signed, withUnit } from "../../ui/format";
import { FillContent } from "./FillContent";
import { RetouchContent } from "./RetouchContent";
import { MoveControls } from "./MoveControls";
import { showLive } from "../../session/live";

type Of<T extends LayerContent["type"]> = LayerContent & { type: T };
interface Props<T extends LayerContent["type"]> {
  layer: LayerRecord;
  content: Of<T>;
  isDisabled: boolean;
}

const change = (layer: LayerRecord, content: LayerContent, label: string) => edit(updateLayer(layer.id, { content }), { stage: "compose", label });

/** What the layer shows or does, with its values. */
export function ContentTab({ layer }: { layer: LayerRecord }) {
  const { readOnly, records } = useSession();
  const isDisabled = readOnly || layer.locked;
  const { content } = layer;
  switch (content.type) {
    case "frame":
      return <FrameContent layer={layer} content={content} isDisabled={isDisabled} />;
    case "adjustment":
      return <AdjustmentContent layer={layer} content={content} isDisabled={isDisabled} />;
    case "fill":
      return <FillContent layer={layer} content={content} isDisabled={isDisabled} />;
    case "retouch":
      return <RetouchContent layer={layer} content={content} isDisabled={isDisabled} />;
    case "group":
      return (
        <Section>
          <Soft>
            {counted(childrenOf(records, layer.id).length, "layer")}, blended among themselves first and then laid over what is below. Drag a row onto the group
            to put it in.
          </Soft>
          <RowOf>
            <Button
              isDisabled={isDisabled}
              onPress={() => edit(ungroup(layer.id), { stage: "compose", label: `Group "${layer.name}" taken away, its layers kept` })}
            >
              Take the group away
            </Button>
          </RowOf>
        </Section>
      );
    case "below":
      return (
        <Section>
          <Soft>What lies below, flattened. It follows every change there: choose a blend mode under Layer to use it.</Soft>
        </Section>
      );
    case "merge":
      return (
        <Section>
          <Soft>The merge, as it is now.</Soft>
        </Section>
      );
  }
}

function FrameContent({ layer, content, isDisabled }: Props<"frame">) {
  const { records } = useSession();
  const meets = -relativeEvOf(records, content.frameId);
  return (
    <>
      <Section>
        <MeasuredControl
          name="Exposure"
          unit="EV"
          value={content.exposureEv}
          neutral={0}
          min={-8}
          max={8}
          step={0.05}
          digits={2}
          isDisabled={isDisabled}
          proposal={
            mergeOf(records)?.method === "radiance" && Math.abs(meets) > 0.02
              ? { value: Math.round(meets * 100) / 100, reason: `Meets the merge at ${withUnit(signed(meets, 2), "EV")}.` }
              : null
          }
          hint="As shot at 0."
          onPreview={(v) => showLive(updateLayer(layer.id, { content: { ...content, exposureEv: v } }))}
          onChange={(v) => change(layer, { ...content, exposureEv: v }, `Layer exposure ${signed(v, 2)} EV`)}
        />
      </Section>
      <MoveControls layer={layer} content={content} isDisabled={isDisabled} />
    </>
  );
}

function AdjustmentContent({ layer, content, isDisabled }: Props<"adjustment">) {
  const { adjustment } = content;
  const { Controls } = ADJUSTMENT_CONTROLS[adjustment];
  const given = (values: Record<string, number>) => ({ ...content, values: { ...content.values, ...values } });
  return (
    <Section>
      <Soft>{ADJUSTMENT_WORDS[adjustment].does}</Soft>
      <Controls
        values={valuesOf(adjustment, content.values)}
        isDisabled={isDisabled}
        set={(values, label) => change(layer, given(values), label)}
        preview={(values) => showLive(updateLayer(layer.id, { content: given(values) }))}
      />
    </Section>
  );
}
