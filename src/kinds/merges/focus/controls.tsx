"use client";
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
      <Heading>Where it is sharp</Heading>
      {gaps.length === 0 ? (
        <Soft>Every part with structure is sharp in one of the frames.</Soft>
      ) : (
        <Card $open>
          In {percent(gaps.length / leaders.length)} of the picture no frame is sharp; nearest {nearest.length === 1 ? "is frame" : "are frames"}{" "}
          {nearest.join(", ")}. The places are outlined.
        </Card>
      )}
      <Soft>Depth shows how far along the stack each place is sharp: dark the first frame, light the last; hatched where nothing stands out.</Soft>
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

export const focus: MergeControls<"focus"> = { Controls: FocusSection, maps: [{ id: "depth", label: "Depth" }], Overlay: FocusGaps };
