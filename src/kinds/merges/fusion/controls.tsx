"use client";
import { sentence } from "../../../messages/sentence";
import { merge } from "../../../session/actions";
import { usePartsOf } from "../../../session/store";
import { MeasuredControl } from "../../../ui/components/MeasuredControl";
import { Heading, Section } from "../../../ui/components/panels";
import type { ControlsProps, MergeControls } from "../controlling";
import type { MergeOf } from "../records";
import { ResponseSection } from "../ResponseSection";
import { fusion as kind } from "./record";

function FusionControls({ record }: ControlsProps<"fusion">) {
  return (
    <>
      <FusionSection record={record} />
      <ResponseSection record={record} />
    </>
  );
}

function FusionSection({ record }: { record: MergeOf<"fusion"> }) {
  const { isBusy, readOnly } = usePartsOf("isBusy", "readOnly");
  const neutral = kind.fresh();
  const control = (key: "contrast" | "saturation" | "exposedness", name: string) => (
    <MeasuredControl
      key={key}
      name={name}
      unit={sentence("merge/power")}
      value={record[key]}
      neutral={neutral[key]}
      min={0}
      max={2}
      step={0.05}
      digits={2}
      isDisabled={isBusy || readOnly}
      onChange={(v) => void merge("fusion", { [key]: v })}
    />
  );
  return (
    <Section>
      <Heading>{sentence("merge/whatCountsWellExposed")}</Heading>
      {control("contrast", sentence("merge/localContrast"))}
      {control("saturation", sentence("merge/colourStrength"))}
      {control("exposedness", sentence("merge/nearnessMidTone"))}
    </Section>
  );
}

export const fusion: MergeControls<"fusion"> = { Controls: FusionControls };
