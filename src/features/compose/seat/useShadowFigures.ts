import { useEffect, useState } from "react";
import { combineShadows, type LightFigures } from "../../../core/seat/measureShadow";
import type { PlateRecord } from "../../../document/records/plateTypes";
import { plateFrame } from "../../../document/seatEdits";
import { pictureIdOf } from "../../../document/sourceIds";
import { ask } from "../../../session/openJob";
import { report, useSession } from "../../../session/store";
import { isCancelled } from "../../../workers/client/EngineClient";

/** What the marked shadows tell of the light's strength and width; null where they tell nothing, undefined until that is measured. */
export function useShadowFigures(plate: PlateRecord, direction: { azimuthDeg: number; elevationDeg: number } | null): LightFigures | null | undefined {
  const records = useSession((s) => s.records);
  const [figures, setFigures] = useState<{ of: string; told: LightFigures | null } | null>(null);
  const frame = plateFrame(records);
  const of =
    direction && plate.shadows.some((s) => s.foot)
      ? JSON.stringify([frame && pictureIdOf(frame), plate.stance, plate.heightM, plate.shadows, direction])
      : null;
  useEffect(() => {
    if (!of || !direction || !frame) return;
    const controller = new AbortController();
    const timer = setTimeout(() => {
      const { stance, heightM, shadows: marks } = plate;
      const light = { azimuthDeg: direction.azimuthDeg, elevationDeg: direction.elevationDeg };
      ask("measureShadows", { frame, stance, heightM, marks, light }, { signal: controller.signal })
        .then((shadows) => setFigures({ of, told: combineShadows(shadows) }))
        .catch((error: unknown) => {
          if (isCancelled(error)) return;
          setFigures({ of, told: null });
          report(error);
        });
    }, 400);
    return () => {
      clearTimeout(timer);
      controller.abort();
    };
    // what it is measured of is all in the text
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [of]);
  if (of === null) return null;
  return figures?.of === of ? figures.told : undefined;
}
