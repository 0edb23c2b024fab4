"use client";
import type { Attitude, Vector3 } from "../../../core/panorama/camera";
import { levelByPair, straighten } from "../../../core/panorama/level";
import { panoramaCamerasOf } from "../../../document/selectors";
import { showPanorama } from "../../../session/panorama";
import { notify, useSession } from "../../../session/session";
import { Button, Choice } from "../../../ui/components/Button";
import { MeasuredControl } from "../../../ui/components/MeasuredControl";
import { Heading, RowOf, Section } from "../../../ui/components/panels";
import { signed } from "../../../ui/format";

/** Two clicks along something level or upright. */
export interface LevelTool {
  kind: "level" | "upright";
  take: (a: Vector3 | null, b: Vector3 | null) => void;
}

interface Props {
  view: Attitude;
  isDisabled: boolean;
  tool: LevelTool | null;
  onTool: (tool: LevelTool | null) => void;
}

/** Which way the middle of the picture looks, and how level it is. */
export function LevelSection({ view, isDisabled, tool, onTool }: Props) {
  const records = useSession((s) => s.records);
  const attitude = { yawDeg: view.yawDeg, pitchDeg: view.pitchDeg, rollDeg: view.rollDeg };
  const measured = straighten(panoramaCamerasOf(records));
  const turn = (change: Partial<Attitude>, label: string) => void showPanorama({ attitude: { ...attitude, ...change } }, label);
  const byPair = (kind: LevelTool["kind"]): LevelTool => ({
    kind,
    take: (a, b) => {
      const next = a && b && levelByPair(attitude, kind, a, b);
      if (next) void showPanorama({ attitude: next }, kind === "level" ? "Levelled by two places" : "Made upright by two places");
      else notify("These two places are too near to each other to tell what is level.");
    },
  });
  const control = (name: string, key: keyof Attitude, min: number, max: number, hint: string) => (
    <MeasuredControl
      name={name}
      unit="°"
      value={attitude[key]}
      neutral={measured[key]}
      min={min}
      max={max}
      step={0.05}
      digits={2}
      hint={hint}
      isDisabled={isDisabled}
      onChange={(v) => turn({ [key]: v }, `${name} ${signed(v, 2)}°`)}
    />
  );
  return (
    <Section>
      <Heading>Level</Heading>
      {control("Yaw", "yawDeg", -180, 180, "Where the middle looks, to the right.")}
      {control("Pitch", "pitchDeg", -60, 60, "Where the middle looks, upwards.")}
      {control("Roll", "rollDeg", -45, 45, "How far the picture is turned, clockwise.")}
      <RowOf>
        {(["level", "upright"] as const).map((kind) => (
          <Choice key={kind} isSelected={tool?.kind === kind} isDisabled={isDisabled} onChange={(on) => onTool(on ? byPair(kind) : null)}>
            {kind === "level" ? "Horizon" : "Upright"}
          </Choice>
        ))}
        <Button isDisabled={isDisabled} onPress={() => void showPanorama({ attitude: measured }, "Levelled as measured")}>
          As measured
        </Button>
      </RowOf>
    </Section>
  );
}
