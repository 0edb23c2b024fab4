import { useEffect, useState } from "react";
import { combineShadows, type ShadowFigures } from "../../../core/seat/measureShadow";
import type { PlateRecord } from "../../../document/records/plateTypes";
import { plateFrame } from "../../../document/seatEdits";
import { ask } from "../../../session/openJob";
import { report, useSession } from "../../../session/store";
import { isCancelled } from "../../../workers/client/EngineClient";

/** What the marked shadows tell of the light's strength and width, once it is measured. */
export function useShadowFigures(plate: PlateRecord, direction: { azimuthDeg: number; elevationDeg: number } | null): ShadowFigures | null {
  const records = useSession((s) => s.records);
  const [figures, setFigures] = useState<{ of: string; told: ShadowFigures | null } | null>(null);
  const frame = plateFrame(records);
  const of = direction && plate.shadows.some((s) => s.foot) ? JSON.stringify([plate.stance, plate.heightM, plate.shadows, direction]) : null;
  useEffect(() => {
    if (!of || !direction || !frame) return;
    const controller = new AbortController();
    const timer = setTimeout(() => {
      const { stance, heightM, shadows: marks } = plate;
      const light = { azimuthDeg: direction.azimuthDeg, elevationDeg: direction.elevationDeg };
      ask("measureShadows", { frame, stance, heightM, marks, light }, { signal: controller.signal })
        .then((shadows) => setFigures({ of, told: combineShadows(shadows) }))
        .catch((error: unknown) => isCancelled(error) || report(error));
    }, 400);
    return () => {
      clearTimeout(timer);
      controller.abort();
    };
    // what it is measured of is all in the text
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [of]);
  return figures?.of === of ? figures.told : null;
}
