"use client";
import { sentence } from "../../../messages/sentence";
import { mergedFramesOf } from "../../../document/selectors";
import { useSession } from "../../../session/store";
import { Select } from "../../../ui/components/Select";
import { framesToChoose, type ControlsProps, type PartControls } from "../controlling";
import type { Difference } from "./record";

function FramesCompared({ part, isDisabled, change }: ControlsProps<Difference>) {
  const frames = framesToChoose(useSession((s) => s.records));
  const pick = (label: string, of: "aId" | "bId") => (
    <Select label={label} items={frames} chosen={part[of]} isDisabled={isDisabled} onChoose={(id) => change({ [of]: id }, "step.part.otherFrame")} />
  );
  return (
    <>
      {pick(sentence("masking/between"), "aId")}
      {pick("and", "bId")}
    </>
  );
}

export const difference: PartControls<Difference> = {
  begin: (_size, records) => {
    const [a, b] = mergedFramesOf(records).map(({ frame }) => frame.id);
    return b ? { kind: "difference", aId: a, bId: b, fromEv: 0.5, softEv: 0.25 } : null;
  },
  isOffered: (records) => mergedFramesOf(records).length > 1,
  Controls: FramesCompared,
};
