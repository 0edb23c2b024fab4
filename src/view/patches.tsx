"use client";
import { useEffect, useRef } from "react";
import styled from "styled-components";
import type { Rectangle } from "../core/geometry/rectangle";
import type { Records } from "../document/records/types";
import { documentSize, finishStepsOf } from "../document/selectors";
import type { ViewSpec } from "../engine/operations/view/ViewSpec";
import { report, useSession } from "../session/store";
import { Choice } from "../ui/components/Button";
import { tokens } from "../ui/tokens/tokens";
import { isCancelled } from "../workers/client/EngineClient";
import { ask } from "../session/openJob";

const SIDE = 76;

/** Patches of the same place side by side. */
export const Patches = styled.div`
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(${SIDE + 12}px, 1fr));
  gap: 6px;
`;
export const Patch = styled(Choice)`
  display: flex;
  flex-direction: column;
  align-items: center;
  padding: 3px;
  font-size: ${tokens.size.small};
  canvas {
    width: 100%;
    max-width: ${SIDE}px;
    aspect-ratio: 1;
    background: ${tokens.line};
  }
`;

interface PatchProps {
  view: ViewSpec;
  rectangle: Rectangle;
  /** of what is shown, px; that of the job's picture where none is said */
  of?: { width: number; height: number };
  /** the job to show; the one that is open where none is said */
  records?: Records;
  /** what else it depends on: it is drawn anew when that changes */
  state?: string;
}

/** A square of the picture around a rectangle. */
export function PatchPicture({ view, rectangle, of, records: given, state }: PatchProps) {
  const open = useSession((s) => s.records);
  const records = given ?? open;
  const canvas = useRef<HTMLCanvasElement>(null);
  const size = of ?? documentSize(records);
  const key = JSON.stringify([state, view, rectangle, size?.width, size?.height, given && finishStepsOf(given).map((l) => l.content)]);
  useEffect(() => {
    if (!size) return;
    const controller = new AbortController();
    const side = Math.min(size.width, size.height, Math.max(rectangle.width, rectangle.height) * 1.25 + 16);
    const x = Math.min(Math.max(0, rectangle.x + rectangle.width / 2 - side / 2), size.width - side);
    const y = Math.min(Math.max(0, rectangle.y + rectangle.height / 2 - side / 2), size.height - side);
    const level = Math.max(0, Math.floor(Math.log2(side / (SIDE * 2))));
    const s = 2 ** level;
    const rect = { x: Math.floor(x / s), y: Math.floor(y / s), width: Math.ceil(side / s), height: Math.ceil(side / s) };
    ask("renderRect", { records, view, level, rect, space: "srgb" }, { signal: controller.signal }).then(
      ({ rgba, rect: drawn }) => {
        if (controller.signal.aborted || !canvas.current || drawn.width === 0) return;
        Object.assign(canvas.current, { width: drawn.width, height: drawn.height });
        canvas.current.getContext("2d")!.putImageData(new ImageData(rgba, drawn.width, drawn.height), 0, 0);
      },
      (error) => !isCancelled(error) && report(error),
    );
    return () => controller.abort();
    // what is drawn follows from the frames and the place, not from who is taken there
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [key]);
  return <canvas ref={canvas} aria-hidden="true" />;
}
