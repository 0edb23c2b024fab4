"use client";
import { sentence } from "../../../messages/sentence";
import { valueStep } from "../../../messages/valueStep";
import { message, type Telling } from "../../../messages/message";
import type { Attitude } from "../../../core/panorama/camera";
import { levelByLines, offLevel, straighten, type LevelLine } from "../../../core/panorama/level";
import { levelLinesOf, panoramaCamerasOf } from "../../../document/selectors";
import { removeLevel, showPanorama } from "../../../session/panorama";
import { useSession } from "../../../session/store";
import { Button, Choice, TextButton } from "../../../ui/components/Button";
import { MeasuredControl } from "../../../ui/components/MeasuredControl";
import { Figure, Heading, RowOf, Section, Table } from "../../../ui/components/panels";
import { signed } from "../../../ui/format";

interface Props {
  view: Attitude;
  isDisabled: boolean;
  /** what the next two clicks are taken for */
  kind: LevelLine["kind"] | null;
  onKind: (kind: LevelLine["kind"] | null) => void;
}

const LINE_NAMES: Record<LevelLine["kind"], string> = { level: sentence("register/horizon"), upright: sentence("register/plumbLine") };

/** From here on a line is plainly not what it was said to be, degrees. Common practice, no source. */
const OFF_DEG = 0.05;

/** Which way the middle of the picture looks, how level it is, and what says so. */
export function LevelSection({ view, isDisabled, kind, onKind }: Props) {
  const records = useSession((s) => s.records);
  const attitude = { yawDeg: view.yawDeg, pitchDeg: view.pitchDeg, rollDeg: view.rollDeg };
  const lines = levelLinesOf(records);
  const straight = straighten(panoramaCamerasOf(records));
  const measured =
    levelByLines(
      straight,
      lines.map((l) => l.line),
    ) ?? straight;
  const turn = (change: Partial<Attitude>, label: Telling) => void showPanorama({ attitude: { ...attitude, ...change } }, label);
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
      onChange={(v) => turn({ [key]: v }, valueStep(name, `${signed(v, 2)}°`))}
    />
  );
  return (
    <Section>
      <Heading>{sentence("register/level")}</Heading>
      {control(sentence("register/yaw"), "yawDeg", -180, 180, sentence("register/whereMiddleLooksRight"))}
      {control(sentence("register/pitch"), "pitchDeg", -60, 60, sentence("register/whereMiddleLooksUpwards"))}
      {control(sentence("register/roll"), "rollDeg", -45, 45, sentence("register/howFarPictureTurned"))}
      <RowOf>
        {(["level", "upright"] as const).map((k) => (
          <Choice key={k} isSelected={kind === k} isDisabled={isDisabled} onChange={(on) => onKind(on ? k : null)}>
            {LINE_NAMES[k]}
          </Choice>
        ))}
        <Button
          isDisabled={isDisabled}
          onPress={() => void showPanorama({ attitude: measured }, lines.length ? "step.levelledByLines" : "step.levelledAsMeasured")}
        >
          {lines.length ? sentence("register/byItsLines") : sentence("common/asMeasured")}
        </Button>
      </RowOf>
      {lines.length > 0 && (
        <Table aria-label={sentence("register/lines")}>
          <tbody>
            {lines.map(({ pin, line }, i) => {
              const off = offLevel(attitude, line);
              return (
                <tr key={i}>
                  <td>
                    {i + 1} {LINE_NAMES[line.kind].toLowerCase()}
                  </td>
                  <td>{off < OFF_DEG ? sentence("register/met") : <Figure value={`${off.toFixed(2)}°`} word={sentence("register/off")} />}</td>
                  <td>
                    <TextButton
                      isDisabled={isDisabled}
                      onPress={() => removeLevel(pin)}
                      aria-label={sentence(message("register/forgetLine", { value: i + 1 }))}
                    >
                      {sentence("register/forget")}
                    </TextButton>
                  </td>
                </tr>
              );
            })}
          </tbody>
        </Table>
      )}
    </Section>
  );
}
