"use client";
import { setAdjustment } from "../../document/edits";
import type { AdjustmentType, Records } from "../../document/records/types";
import { adjustmentValues, NEUTRAL } from "../../document/selectors";
import { edit } from "../../session/openJob";
import { useSession } from "../../session/store";
import { MeasuredControl } from "../../ui/components/MeasuredControl";
import { plain } from "../../ui/format";

interface Props {
  type: AdjustmentType;
  /** the value of the adjustment that it sets */
  of: string;
  name: string;
  unit: string;
  min: number;
  max: number;
  step: number;
  digits: number;
  scale?: number;
  proposal?: { value: number; reason: string } | null;
  hint?: string;
  onPreview: (change: (r: Records) => Records) => void;
}

/** One value of an adjustment: shown while it moves, a step of the logbook when it is let go. */
export function AdjustmentControl({ type, of, onPreview, ...range }: Props) {
  const { records, readOnly } = useSession();
  const { name, unit, digits, scale = 1 } = range;
  return (
    <MeasuredControl
      {...range}
      value={adjustmentValues(records, type)[of]}
      neutral={NEUTRAL[type][of]}
      isDisabled={readOnly}
      onPreview={(v) => onPreview(setAdjustment(type, { [of]: v }))}
      onChange={(v) => edit(setAdjustment(type, { [of]: v }), { stage: "finish", label: `${name} ${plain(v * scale, digits)} ${unit}` })}
    />
  );
}
