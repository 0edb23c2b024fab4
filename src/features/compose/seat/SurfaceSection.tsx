"use client";
import { sentence } from "../../../messages/sentence";
import { valueStep } from "../../../messages/valueStep";
import { SURFACE_KINDS, type Surface, type SurfaceKind } from "../../../core/seat/scenery";
import type { PlateRecord } from "../../../document/records/plateTypes";
import { layStillWater, removeSurface, stillWaterOf } from "../../../document/airEdits";
import { tellPlate } from "../../../document/seatEdits";
import { showLive } from "../../../session/live";
import { edit } from "../../../session/openJob";
import { useSession } from "../../../session/store";
import { Button, Choice, TextButton } from "../../../ui/components/Button";
import { MeasuredControl } from "../../../ui/components/MeasuredControl";
import { Heading, RowOf, Section, Soft } from "../../../ui/components/panels";
import { signed } from "../../../ui/format";
import { toLayer, useCompose } from "../../../view/composeState";

/** From how low to how high things of a kind may be, metres. */
const HEIGHTS: Record<SurfaceKind, [number, number]> = { raised: [-5, 20], wall: [0.05, 50], water: [-20, 5] };

/** What of the plate is not its ground: things stand on what is raised, shadows fall on it and on walls, water mirrors. */
export function SurfaceSection({ plate, isDisabled }: { plate: PlateRecord; isDisabled: boolean }) {
  const records = useSession((s) => s.records);
  const plateTool = useCompose((s) => s.plateTool);
  const surfaces = plate.surfaces ?? [];
  const changed = (id: string, heightM: number): Surface[] => surfaces.map((s) => (s.id === id ? { ...s, heightM } : s));
  return (
    <Section>
      <Heading>{sentence("seating/surfaces")}</Heading>
      {surfaces.length === 0 && <Soft>{sentence("seating/surfacesMean")}</Soft>}
      <RowOf>
        {SURFACE_KINDS.map((kind) => (
          <Choice key={kind} isSelected={plateTool === kind} isDisabled={isDisabled} onChange={(on) => useCompose.setState({ plateTool: on ? kind : "none" })}>
            {sentence(`seating/tool.${kind}`)}
          </Choice>
        ))}
      </RowOf>
      {surfaces.map((surface, i) => {
        const name = `${i + 1}. ${sentence(`seating/surface.${surface.is}`)}`;
        const [min, max] = HEIGHTS[surface.is];
        const still = stillWaterOf(records, surface.id);
        return (
          <div key={surface.id}>
            <MeasuredControl
              name={name}
              unit="m"
              value={surface.heightM}
              neutral={surface.heightM}
              min={min}
              max={max}
              step={0.01}
              digits={2}
              hint={sentence(`seating/surfaceHeight.${surface.is}`)}
              isDisabled={isDisabled}
              onPreview={(v) => showLive(tellPlate({ surfaces: changed(surface.id, v) }))}
              onChange={(v) => edit(tellPlate({ surfaces: changed(surface.id, v) }), { stage: "compose", label: valueStep(name, signed(v, 2), "m") })}
            />
            <RowOf style={{ marginTop: 0 }}>
              {surface.is === "water" &&
                (still ? (
                  <Button onPress={() => toLayer(still.id, "content")}>{sentence("seating/toStill")}</Button>
                ) : (
                  <Button
                    isDisabled={isDisabled}
                    onPress={() => edit(layStillWater(surface.id, sentence("seating/stillName")), { stage: "compose", label: "step.waterStilled" })}
                  >
                    {sentence("seating/layStill")}
                  </Button>
                ))}
              <TextButton
                aria-label={`${sentence("common/remove")}: ${name}`}
                isDisabled={isDisabled}
                onPress={() => edit(removeSurface(surface.id), { stage: "compose", label: "step.surfaceRemoved" })}
              >
                {sentence("common/remove")}
              </TextButton>
            </RowOf>
          </div>
        );
      })}
    </Section>
  );
}
