"use client";
import { setFinish, type FinishStep } from "../../document/finishEdits";
import { finishValues } from "../../document/selectors";
import { ADJUSTMENT_CONTROLS } from "../../kinds/adjustments/controls";
import { showLive } from "../../session/live";
import { edit } from "../../session/openJob";
import { usePartsOf } from "../../session/store";
import type { Proposal } from "../../ui/components/MeasuredControl";

/** The controls of a step of the finish: shown while they move, a step of the logbook when they are let go. */
export function StepControls({ step, proposals }: { step: FinishStep; proposals?: Record<string, Proposal | undefined> }) {
  const { records, readOnly } = usePartsOf("records", "readOnly");
  const { Controls } = ADJUSTMENT_CONTROLS[step];
  return (
    <Controls
      values={finishValues(records, step)}
      isDisabled={readOnly}
      proposals={proposals}
      set={(values, label) => edit(setFinish(step, values), { stage: "finish", label })}
      preview={(values) => showLive(setFinish(step, values))}
    />
  );
}
