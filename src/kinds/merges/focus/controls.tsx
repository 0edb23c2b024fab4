"use client";
import { sentence } from "../../../messages/sentence";
import { message } from "../../../messages/message";
import { GRID } from "../../../core/measure/frameGrid";
import { focusLeaders } from "../../../core/measure/sets/verifySet";
import { mergedFramesOf } from "../../../document/selectors";
import { gatheredFrame } from "../../../document/sets";
import { useSession } from "../../../session/store";
import { Card, Heading, Section, Soft } from "../../../ui/components/panels";
import { percent } from "../../../ui/format";
import type { MergeControls } from "../controlling";

function FocusSection() {
  const records = useSession((s) => s.records);
  const frames = mergedFramesOf(records).map(({ frame }) => gatheredFrame(records, frame));
  const leaders = focusLeaders(frames);
  const gaps = leaders.filter((l) => !l.sharp && l.number !== null);
  const nearest = [...new Set(gaps.map((l) => l.number))];
  return (
    <Section>
      <Heading>{sentence("merge/whereSharp")}</Heading>
      {gaps.length === 0 ? (
        <Soft>{sentence("merge/everyPartStructureSharp")}</Soft>
      ) : (
        <Card $open>
          {sentence(message("merge/pictureNoFrameSharp", { share: percent(gaps.length / leaders.length), count: nearest.length, value: nearest.join(", ") }))}
        </Card>
      )}
      <Soft>{sentence("merge/depthShowsHowFar")}</Soft>
    </Section>
  );
}

/** Cells that no frame of a focus stack shows sharp. */
function FocusGaps({ at, size }: { at: (x: number, y: number) => [number, number]; size: { width: number; height: number } }) {
  const records = useSession((s) => s.records);
  const leaders = focusLeaders(mergedFramesOf(records).map(({ frame }) => gatheredFrame(records, frame)));
  return leaders.map((l, i) => {
    if (l.sharp || l.number === null) return null;
    const [c, r] = [i % GRID.columns, Math.floor(i / GRID.columns)];
    const [x0, y0] = at((c * size.width) / GRID.columns, (r * size.height) / GRID.rows);
    const [x1, y1] = at(((c + 1) * size.width) / GRID.columns, ((r + 1) * size.height) / GRID.rows);
    return (
      <g key={i} fill="none">
        <rect x={x0 + 2} y={y0 + 2} width={Math.max(0, x1 - x0 - 4)} height={Math.max(0, y1 - y0 - 4)} stroke="#000" strokeWidth="3" />
        <rect x={x0 + 2} y={y0 + 2} width={Math.max(0, x1 - x0 - 4)} height={Math.max(0, y1 - y0 - 4)} stroke="#fff" strokeWidth="1" />
      </g>
    );
  });
}

export const focus: MergeControls<"focus"> = { Controls: FocusSection, maps: [{ id: "depth", label: sentence("merge/depth") }], Overlay: FocusGaps };
