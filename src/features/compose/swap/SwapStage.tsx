"use client";
import { useRef, useState } from "react";
import { sentence } from "../../../messages/sentence";
import { message } from "../../../messages/message";
import type { Rectangle } from "../../../core/geometry/rectangle";
import { documentSize, swapsOf } from "../../../document/selectors";
import { takenFrom } from "../../../document/swapEdits";
import { drawJoint, drawPart } from "../../../session/swapping";
import { usePartsOf } from "../../../session/store";
import { useCompose } from "../../../view/composeState";
import { PictureView } from "../../../view/PictureView";
import type { PicturePointer } from "../../../view/pictureTool";
import { ReadoutLine } from "../../../view/ReadoutLine";
import { StageLayout } from "../../../view/StageLayout";
import { ViewChoices } from "../../../view/ViewChoices";
import { DoubleLine } from "../ShapeOverlay";
import { SwapBench } from "./SwapBench";
import { SwapLedger } from "./SwapLedger";

type Shown = "result" | "base" | "frame";

/** Parts of the picture that come from other frames: a box for each, and the frame it is taken from. */
export function SwapStage() {
  const { records, readOnly, isBusy } = usePartsOf("records", "readOnly", "isBusy");
  const { swapId, drawing } = useCompose();
  const [shown, setShown] = useState<Shown>("result");
  const [box, setBox] = useState<Rectangle | null>(null);
  const start = useRef<PicturePointer | null>(null);
  const swaps = swapsOf(records);
  const swap = swaps.find((s) => s.id === swapId) ?? null;
  const size = documentSize(records);
  if (!size) return null;
  const frameId = swap && takenFrom(records, swap);

  const finish = async () => {
    start.current = null;
    setBox(null);
    if (!box) return;
    if (drawing === "joint" && swap) {
      useCompose.setState({ drawing: "part" });
      await drawJoint(swap, box);
    } else {
      const id = await drawPart(box, sentence(message("swapping/part", { number: 1 + swaps.reduce((top, s) => Math.max(top, s.index), 0) })));
      if (id) useCompose.setState({ swapId: id });
    }
  };
  const tool =
    readOnly || isBusy
      ? null
      : {
          cursor: "crosshair",
          down: (p: PicturePointer) => {
            start.current = p;
          },
          move: (list: PicturePointer[]) => {
            const [from, to] = [start.current, list.at(-1)];
            if (from && to) setBox({ x: Math.min(from.x, to.x), y: Math.min(from.y, to.y), width: Math.abs(to.x - from.x), height: Math.abs(to.y - from.y) });
          },
          up: () => void finish(),
        };
  return (
    <StageLayout
      ledger={<SwapLedger swaps={swaps} chosen={swap} />}
      bench={<SwapBench swap={swap} />}
      bar={
        <ViewChoices<Shown>
          views={[
            { id: "result", label: sentence("compose/result") },
            { id: "base", label: sentence("swapping/withoutSwaps") },
            { id: "frame", label: sentence("compose/frameTaken"), isDisabled: !frameId },
          ]}
          chosen={shown}
          onChoose={setShown}
        />
      }
      readout={<ReadoutLine records={records} extra={<span>{sentence(drawing === "joint" ? "swapping/dragDrawsJoint" : "swapping/dragDrawsPart")}</span>} />}
    >
      <PictureView
        name={sentence("swapping/parts")}
        panes={[
          {
            view: shown === "frame" && frameId ? { kind: "frame", frameId } : shown === "base" ? { kind: "merge", method: null } : { kind: "compose" },
            records,
            label: "",
          },
        ]}
        arrangement="single"
        size={size}
        tool={tool}
        overlay={({ toScreen }) => (
          <DoubleLine>
            {swaps.map((s) => (
              <Outline key={s.id} box={s.box} toScreen={toScreen} faint={s.id !== swap?.id} />
            ))}
            {swap?.joint && <Outline box={swap.joint} toScreen={toScreen} dashes="2 3" />}
            {box && <Outline box={box} toScreen={toScreen} dashes={drawing === "joint" ? "2 3" : "6 3"} />}
          </DoubleLine>
        )}
      />
    </StageLayout>
  );
}

interface OutlineProps {
  box: Rectangle;
  toScreen: (x: number, y: number) => [number, number];
  faint?: boolean;
  dashes?: string;
}

function Outline({ box: { x, y, width, height }, toScreen, faint, dashes }: OutlineProps) {
  const corners = [
    [x, y],
    [x + width, y],
    [x + width, y + height],
    [x, y + height],
  ];
  return <polygon points={corners.map(([u, v]) => toScreen(u, v).join(",")).join(" ")} opacity={faint ? 0.45 : 1} strokeDasharray={dashes} />;
}
