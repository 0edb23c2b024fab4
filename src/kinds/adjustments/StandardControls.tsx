"use client";
import { valueStep } from "../../messages/valueStep";
import { MeasuredControl, type Proposal } from "../../ui/components/MeasuredControl";
import { Select } from "../../ui/components/Select";
import { plain } from "../../ui/format";
import { lowerFirst } from "../../words/lowerFirst";
import type { AdjustmentControls, ControlsProps } from "./controlling";
import { valuesOfKind, type Adjustment } from "./records";
import type { MeasuredValue } from "../values";
import { ADJUSTMENT_WORDS } from "./words";

interface Props extends ControlsProps {
  adjustment: Adjustment;
  /** another name for a value than the one it has anywhere */
  nameOf?: (name: string, value: MeasuredValue) => string | null;
  proposalOf?: (name: string) => Proposal | null;
  /** whether a value has a control; all have where nothing is said */
  shows?: (name: string) => boolean;
}

/** A control for each value: a choice, or a measured control; as many of a row as are in use. */
export function ValueControls({ adjustment, values, isDisabled, set, preview, proposals, nameOf, proposalOf, shows }: Props) {
  const words = ADJUSTMENT_WORDS[adjustment];
  const shown = Object.entries(valuesOfKind(adjustment)).filter(
    ([name, { counted }]) => (!counted || counted.place < values[counted.by]) && (shows?.(name) ?? true),
  );
  return shown.map(([name, value]) => {
    const said = words.values[name];
    const { name: own, hint = undefined, choices = undefined } = typeof said === "string" ? { name: said } : said;
    const label = nameOf?.(name, value) ?? own;
    // an adjustment of one value need not be named twice
    const told = label === words.name ? label : `${words.name}: ${lowerFirst(label)}`;
    if (value.choice && choices) {
      return (
        <Select
          key={name}
          label={label}
          items={choices.map((text, i) => ({ id: String(i), label: text }))}
          chosen={String(values[name])}
          isDisabled={isDisabled}
          onChoose={(i) => set({ [name]: Number(i) }, valueStep(told, choices[Number(i)].toLowerCase()))}
        />
      );
    }
    return (
      <MeasuredControl
        key={name}
        {...value}
        name={label}
        hint={hint}
        value={values[name]}
        isDisabled={isDisabled}
        proposal={proposals?.[name] ?? proposalOf?.(name)}
        onPreview={(v) => preview({ [name]: v })}
        onChange={(v) => set({ [name]: v }, valueStep(told, plain(v * (value.scale ?? 1), value.digits), value.unit))}
      />
    );
  });
}

/** Controls for an adjustment that needs none of its own. */
export const standard = (adjustment: Adjustment): AdjustmentControls => ({
  Controls: function Standard(props: ControlsProps) {
    return <ValueControls adjustment={adjustment} {...props} />;
  },
});
