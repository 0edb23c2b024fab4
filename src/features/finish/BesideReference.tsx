"use client";
import { useState, type ComponentProps } from "react";
import { invert, project } from "../../core/geometry/matrix3";
import { addPin } from "../../document/edits";
import { outputGeometry, outputToReference } from "../../document/outputGeometry";
import type { FrameRecord, Records } from "../../document/records/types";
import { documentSize, finishPinsOf, pairsOf } from "../../document/selectors";
import { sentence } from "../../messages/sentence";
import { edit } from "../../session/openJob";
import { PictureView } from "../../view/PictureView";
import type { PictureTool } from "../../view/pictureTool";
import type { Pane } from "../../view/usePanes";
import { PinMark } from "./PinMark";

/** The picture whose look is wanted, by itself or beside ours, px for px. @param marks a tool that works on both, and what is drawn over them */
export function BesideReference(props: {
  records: Records;
  reference: FrameRecord;
  isSide: boolean;
  marks?: Pick<ComponentProps<typeof PictureView>, "tool" | "overlay">;
}) {
  const { records, reference, isSide, marks } = props;
  const { crop } = outputGeometry(records);
  const other: Pane = { view: { kind: "source", frameId: reference.id }, records, label: sentence("finish/viewReference") };
  const ours: Pane = { view: { kind: "output" }, records, label: sentence("common/finished") };
  const size = isSide ? { width: Math.max(crop.width, reference.width), height: Math.max(crop.height, reference.height) } : reference;
  return (
    <PictureView
      {...marks}
      name={sentence("finish/viewReference")}
      panes={isSide ? [ours, other] : [other]}
      arrangement={isSide ? "side" : "single"}
      size={size}
      live
    />
  );
}

/** Radius of a place that is compared, px. */
const PLACE_PX = 4;

/** Both pictures side by side, on which places are marked that ought to look alike: one on ours, one on the other, in either order. */
export function MarkedPairs({ records, reference, readOnly }: { records: Records; reference: FrameRecord; readOnly: boolean }) {
  const [first, setFirst] = useState<{ pane: 0 | 1; x: number; y: number } | null>(null);
  const toReference = outputToReference(outputGeometry(records), documentSize(records)!);
  const back = invert(toReference);
  const numbers = finishPinsOf(records);
  const isIn = (pane: 0 | 1, x: number, y: number) => {
    const { width, height } = pane === 1 ? reference : outputGeometry(records).crop;
    return x >= 0 && y >= 0 && x <= width - 1 && y <= height - 1;
  };
  const tool: PictureTool = {
    cursor: "crosshair",
    beside: true,
    down: ({ x, y, pane }) => {
      if (readOnly || !isIn(pane, x, y)) return;
      if (!first || first.pane === pane) {
        setFirst({ pane, x, y });
        return;
      }
      const [ours, theirs] = pane === 1 ? [first, { x, y }] : [{ x, y }, first];
      const [u, v] = project(toReference, ours.x, ours.y);
      const like = { x: Math.round(theirs.x), y: Math.round(theirs.y) };
      const pin = { purpose: "pair" as const, x: Math.round(u), y: Math.round(v), radius: PLACE_PX, target: null, frameId: reference.id, like };
      edit(addPin(pin), { stage: "finish", label: "step.pairMarked" });
      setFirst(null);
    },
  };
  return (
    <BesideReference
      records={records}
      reference={reference}
      isSide
      marks={{
        tool,
        overlay: ({ toScreen, pane }) => (
          <>
            {pairsOf(records, reference.id).map((pin) => {
              const [x, y] = pane === 1 ? [pin.like!.x + 0.5, pin.like!.y + 0.5] : (project(back, pin.x + 0.5, pin.y + 0.5) as [number, number]);
              return <PinMark key={pin.id} number={numbers.indexOf(pin) + 1} at={toScreen(x, y)} />;
            })}
            {first?.pane === pane && <PinMark number={numbers.length + 1} at={toScreen(first.x + 0.5, first.y + 0.5)} />}
          </>
        ),
      }}
    />
  );
}
