"use client";
import { sentence } from "../../messages/sentence";
import { message } from "../../messages/message";
import { describeMatrix } from "../../core/geometry/describeMatrix";
import type { FrameRecord, RegionRecord } from "../../document/records/types";
import type { PlacementFigures, Placing } from "../../engine/operations/register/placements";
import { keepPlacing, keepPoints, refineFrom } from "../../session/placing";
import { Button, PrimaryButton, TextButton } from "../../ui/components/Button";
import { MeasuredControl } from "../../ui/components/MeasuredControl";
import { Choices } from "../../ui/components/Choices";
import { Facts, Heading, RowOf, Section, Soft } from "../../ui/components/panels";
import { percent, plain, withUnit } from "../../ui/format";
import { shifted, turned } from "./handMoves";

export type HandTool = "move" | "turn" | "corners" | "points";
const TOOLS: { id: HandTool; label: string; hint: string }[] = [
  { id: "move", label: sentence("common/move"), hint: sentence("register/dragFrameUseArrow") },
  { id: "turn", label: sentence("register/turnAndScale"), hint: sentence("register/dragAroundMiddleTurn") },
  { id: "corners", label: sentence("register/corners"), hint: sentence("register/dragCornerOtherThree") },
  { id: "points", label: sentence("register/points"), hint: sentence("register/clickThingOnLeft") },
];

/** A frame being placed by hand; nothing of it is in the job until it is kept. */
export interface HandWork {
  frameId: string;
  tool: HandTool;
  placing: Placing;
  /** x, y in the reference, u, v in the frame as shot */
  points: number[][];
}

interface Props {
  work: HandWork;
  number: number;
  frame: FrameRecord;
  reference: FrameRecord;
  figures: PlacementFigures | null;
  regions: RegionRecord[];
  busy: boolean;
  onWork: (work: HandWork | null) => void;
}

/** The bench while a frame is placed by hand: tools, exact values, and what is left, live. */
export function HandSection({ work, number, frame, reference, figures, regions, busy, onWork }: Props) {
  const { placing } = work;
  const now = describeMatrix(placing.matrix, frame.width, frame.height);
  const [cx, cy] = [(reference.width - 1) / 2, (reference.height - 1) / 2];
  const place = (matrix: Placing["matrix"]) => onWork({ ...work, placing: { ...placing, matrix } });
  const byPoints = work.tool === "points";
  const finish = async (placed: Promise<unknown>) => {
    if (await placed) onWork(null);
  };
  return (
    <>
      <Section>
        <Heading>{sentence(message("register/frameByHand", { number }))}</Heading>
        <Choices label={sentence("register/tool")} items={TOOLS} chosen={work.tool} onChoose={(tool) => onWork({ ...work, tool })} />
        <Soft style={{ marginTop: 6 }}>{TOOLS.find((t) => t.id === work.tool)!.hint}</Soft>
      </Section>
      <Section>
        <Heading>{sentence("register/leftOverNow")}</Heading>
        <Facts style={{ marginTop: 4 }}>
          <dt>{sentence("register/wholeFrame")}</dt>
          <dd data-testid="live-residual">
            {figures && figures.places > 0 ? withUnit(plain(figures.residualPx, 2), "px") : sentence("register/notMeasurable")}
          </dd>
          {regions.map((r, i) => {
            const f = figures?.regions.find((x) => x.id === r.id);
            if (r.purpose === "ignore") return null;
            return (
              <div key={r.id} style={{ display: "contents" }}>
                <dt>{sentence(message("register/region", { value: i + 1 }))}</dt>
                <dd>{f && f.places > 0 ? withUnit(plain(f.residualPx, 2), "px") : sentence("register/notMeasurable")}</dd>
              </div>
            );
          })}
          <dt>{sentence("register/placesThatAgree")}</dt>
          <dd>{figures ? sentence(message("common/partOf", { part: percent(figures.agreeing), whole: figures.places })) : sentence("register/measuring")}</dd>
        </Facts>
      </Section>
      {byPoints ? (
        <PointList work={work} onWork={onWork} />
      ) : (
        <Section>
          <Value
            name={sentence("register/shiftAcross")}
            unit="px"
            value={now.dx}
            reach={Math.max(60, frame.width / 4)}
            step={0.1}
            digits={1}
            onChange={(v) => place(shifted(placing.matrix, v - now.dx, 0))}
          />
          <Value
            name={sentence("register/shiftDown")}
            unit="px"
            value={now.dy}
            reach={Math.max(60, frame.height / 4)}
            step={0.1}
            digits={1}
            onChange={(v) => place(shifted(placing.matrix, 0, v - now.dy))}
          />
          <Value
            name={sentence("common/rotation")}
            unit="°"
            value={now.rotationDeg}
            reach={Math.max(10, Math.abs(now.rotationDeg) * 1.5)}
            step={0.01}
            digits={2}
            onChange={(v) => place(turned(placing.matrix, v - now.rotationDeg, 1, cx, cy))}
          />
          <Value
            name={sentence("common/scale")}
            unit="%"
            value={now.scale * 100}
            neutral={100}
            reach={50}
            step={0.01}
            digits={2}
            onChange={(v) => place(turned(placing.matrix, 0, v / 100 / now.scale, cx, cy))}
          />
        </Section>
      )}
      <Section>
        <RowOf style={{ marginTop: 0 }}>
          <PrimaryButton
            isDisabled={busy || (byPoints && work.points.length === 0)}
            onPress={() => void finish(byPoints ? keepPoints(work.frameId, work.points, placing.lens) : keepPlacing(work.frameId, placing))}
          >
            {sentence("register/keepIt")}
          </PrimaryButton>
          <Button isDisabled={busy} onPress={() => void finish(refineFrom(work.frameId, placing))}>
            {sentence("register/refineFromHere")}
          </Button>
          <Button onPress={() => onWork(null)}>{sentence("common/putBack")}</Button>
        </RowOf>
      </Section>
    </>
  );
}

function PointList({ work, onWork }: { work: HandWork; onWork: (w: HandWork) => void }) {
  return (
    <Section>
      <Heading>{sentence(message("register/controlPointsCount", { count: work.points.length }))}</Heading>
      <Soft>{sentence("register/oneGivesShiftTwo")}</Soft>
      <Facts style={{ marginTop: 6 }}>
        {work.points.map(([x, y], i) => (
          <div key={`${x} ${y}`} style={{ display: "contents" }}>
            <dt>
              {i + 1}: {plain(x, 0)}, {plain(y, 0)}
            </dt>
            <dd>
              <TextButton
                aria-label={sentence(message("register/removePoint", { value: i + 1 }))}
                onPress={() => onWork({ ...work, points: work.points.filter((_, k) => k !== i) })}
              >
                {sentence("common/remove")}
              </TextButton>
            </dd>
          </div>
        ))}
      </Facts>
    </Section>
  );
}

function Value(p: { name: string; unit: string; value: number; neutral?: number; reach: number; step: number; digits: number; onChange: (v: number) => void }) {
  const neutral = p.neutral ?? 0;
  return <MeasuredControl {...p} neutral={neutral} min={neutral - p.reach} max={neutral + p.reach} onPreview={p.onChange} />;
}
