import { combineShadows, type LightFigures } from "../../../core/seat/measureShadow";
import type { PlateRecord } from "../../../document/records/plateTypes";
import { plateFrame } from "../../../document/seatEdits";
import { pictureIdOf } from "../../../document/sourceIds";
import { ask } from "../../../session/openJob";
import { useSession } from "../../../session/store";
import { useAsked } from "../../../view/useAsked";

/** What the marked shadows tell of the light's strength and width; null where they tell nothing, undefined until that is measured. */
export function useShadowFigures(plate: PlateRecord, direction: { azimuthDeg: number; elevationDeg: number } | null): LightFigures | null | undefined {
  const records = useSession((s) => s.records);
  const frame = plateFrame(records);
  const { stance, heightM, shadows: marks } = plate;
  const isMarked = direction !== null && frame !== undefined && marks.some((s) => s.foot);
  return useAsked(isMarked ? JSON.stringify([pictureIdOf(frame), stance, heightM, marks, direction]) : null, async (signal) => {
    const light = { azimuthDeg: direction!.azimuthDeg, elevationDeg: direction!.elevationDeg };
    return combineShadows(await ask("measureShadows", { frame: frame!, stance, heightM, marks, light }, { signal }));
  });
}
