import type { LadderFrame } from "../core/measure/nameSet";
import type { Records } from "./records/types";
import { exposuresOf, framesOf } from "./selectors";

/** The frames that take part, as the naming of a set wants them. */
export function ladderFrames(records: Records): LadderFrame[] {
  const measured = exposuresOf(records)?.measuredEv ?? {};
  return framesOf(records).flatMap((f, i) =>
    f.excluded
      ? []
      : [
          {
            number: i + 1,
            meteredEv: f.meteredEv,
            measuredEv: measured[f.id] ?? null,
            width: f.width,
            height: f.height,
            edgeWidthPx: f.measures.edgeWidthPx,
            fingerprint: f.sourceId,
          },
        ],
  );
}
