"use client";
import { sentence } from "../../../messages/sentence";
import { message } from "../../../messages/message";
import { MeasuredControl } from "../../../ui/components/MeasuredControl";
import type { AdjustmentControls, ControlsProps } from "../controlling";
import { ValueControls } from "../StandardControls";

/** Reflectance of a grey card, against which the pivot is told. ISO 12232 uses 18 %. */
const GREY = 0.18;

function ContrastControls(props: ControlsProps) {
  const { values, isDisabled, set, preview } = props;
  const pivot = (ev: number) => ({ pivot: GREY * 2 ** ev });
  return (
    <>
      <ValueControls adjustment="contrast" {...props} shows={(name) => name !== "pivot"} />
      <MeasuredControl
        name={sentence("adjusting/pivot")}
        unit="EV"
        value={Math.log2(values.pivot / GREY)}
        neutral={0}
        min={-5}
        max={3}
        step={0.1}
        digits={1}
        isDisabled={isDisabled}
        hint={sentence("adjusting/pivotHint")}
        onPreview={(v) => preview(pivot(v))}
        onChange={(v) => set(pivot(v), message("step.pivot", { ev: v }))}
      />
    </>
  );
}

export const contrast: AdjustmentControls = { Controls: ContrastControls };
