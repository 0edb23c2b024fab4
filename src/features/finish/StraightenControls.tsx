"use client";
import { MOST_TILT, MOST_TURN, type Straightened } from "../../core/geometry/tilt";
import { setGeometry } from "../../document/edits";
import { MOST_GUIDES } from "../../document/limits";
import { outputGeometry } from "../../document/outputGeometry";
import { costOfTurn, linesLeft, straightenByLines, tiltOf, turnByPlate, turnNow, turnTo } from "../../document/straightenEdits";
import type { Records } from "../../document/records/types";
import { geometryOf } from "../../document/selectors";
import { message } from "../../messages/message";
import { sentence } from "../../messages/sentence";
import { edit } from "../../session/openJob";
import { Choice, TextButton } from "../../ui/components/Button";
import { MeasuredControl } from "../../ui/components/MeasuredControl";
import { RowOf, Soft, Table } from "../../ui/components/panels";
import { percent, signed } from "../../ui/format";

const TURNS = [
  { of: "angleDeg", name: "common/rotation", most: MOST_TURN, step: "step.cropTurned" },
  { of: "pitchDeg", name: "finish/lookedUp", most: MOST_TILT, step: "step.lookedUp" },
  { of: "yawDeg", name: "finish/lookedAside", most: MOST_TILT, step: "step.lookedAside" },
] as const;

/** How the picture and its camera are turned, by values or by lines that are upright or level, and what that costs. */
export function StraightenControls(props: {
  records: Records;
  readOnly: boolean;
  isDrawing: boolean;
  onDraw: (on: boolean) => void;
  onPreview: (change: (r: Records) => Records) => void;
}) {
  const { records, readOnly, isDrawing, onDraw, onPreview } = props;
  const turn = turnNow(records);
  const { crop } = outputGeometry(records);
  const geometry = geometryOf(records);
  const ratio = geometry?.ratio ?? null;
  const lines = geometry?.lines ?? [];
  const left = linesLeft(records);
  const byPlate = turnByPlate(records);
  const shown = ({ angleDeg, pitchDeg, yawDeg }: Straightened) => setGeometry({ angleDeg, tilt: tiltOf(records, pitchDeg, yawDeg), crop, ratio });
  const isTurned = turn.angleDeg !== 0 || turn.pitchDeg !== 0 || turn.yawDeg !== 0;
  const cost = isTurned ? costOfTurn(records) : null;
  return (
    <>
      {TURNS.map(({ of, name, most, step }) => (
        <MeasuredControl
          key={of}
          name={sentence(name)}
          unit="°"
          value={turn[of]}
          neutral={0}
          min={-most}
          max={most}
          step={0.01}
          digits={2}
          isDisabled={readOnly}
          proposal={byPlate && of !== "yawDeg" ? { value: Math.round(byPlate[of] * 100) / 100, reason: sentence("finish/byHorizon") } : undefined}
          onPreview={(v) => onPreview(shown({ ...turn, [of]: v }))}
          onChange={(v) => edit(turnTo({ ...turn, [of]: v }, ratio), { stage: "finish", label: message(step, { degrees: v }) })}
        />
      ))}
      <RowOf>
        <Choice isSelected={isDrawing} isDisabled={readOnly || lines.length >= MOST_GUIDES} onChange={onDraw}>
          {sentence("finish/drawLine")}
        </Choice>
      </RowOf>
      {lines.length > 0 && (
        <Table aria-label={sentence("finish/lines")}>
          <tbody>
            {lines.map((line, i) => (
              <tr key={i}>
                <td>{sentence(message(line.is === "upright" ? "finish/uprightLine" : "finish/levelLine", { number: i + 1 }))}</td>
                <td>{signed(left[i], 2)}°</td>
                <td>
                  <TextButton
                    isDisabled={readOnly}
                    aria-label={sentence(message("finish/removeLine", { number: i + 1 }))}
                    onPress={() =>
                      edit(straightenByLines(lines.filter((_, k) => k !== i)), { stage: "finish", label: message("step.guideRemoved", { number: i + 1 }) })
                    }
                  >
                    {sentence("common/remove")}
                  </TextButton>
                </td>
              </tr>
            ))}
          </tbody>
        </Table>
      )}
      {cost && <Soft style={{ marginTop: 6 }}>{sentence(message("finish/turnCosts", { kept: percent(cost.kept), apart: cost.apart }))}</Soft>}
    </>
  );
}
