"use client";
import { sentence } from "../../messages/sentence";
import { message } from "../../messages/message";
import { useMemo, useState } from "react";
import { invert, project, type Matrix3 } from "../../core/geometry/matrix3";
import { intersect } from "../../core/geometry/rectangle";
import { nearerTo, type GuideLine } from "../../core/geometry/tilt";
import { addPin, setGeometry } from "../../document/edits";
import { extentOf, outputGeometry, outputToReference } from "../../document/outputGeometry";
import type { Records } from "../../document/records/types";
import { documentSize, finishPinsOf, geometryOf } from "../../document/selectors";
import { straightenByLines } from "../../document/straightenEdits";
import { turnedCoverTest, validCrop } from "../../document/validCrop";
import { useLive } from "../../session/live";
import { edit } from "../../session/openJob";
import { notify, useSession } from "../../session/store";
import { comparedPane } from "../../view/comparedPane";
import { PictureView } from "../../view/PictureView";
import type { PictureTool } from "../../view/pictureTool";
import { ReadoutLine } from "../../view/ReadoutLine";
import type { Pane } from "../../view/usePanes";
import { PinMark } from "./PinMark";
import type { PinTool } from "./StepLedger";

/** What of the picture is shown: itself, what it is compared with, or both. */
export type Shown = "finished" | "other" | "split" | "side";

/** The job with what a control that is dragged makes of it, or uncropped where the crop is drawn. Only the picture and its readout follow it: the panels stay as they are while the hand moves. */
function useShown(records: Records, cropping: boolean) {
  const live = useLive((s) => s.edit);
  const size = documentSize(records)!;
  const preview = useMemo(() => live?.(records) ?? records, [live, records]);
  const shown = cropping ? wholeFrame(records, size) : preview;
  const geometry = outputGeometry(shown);
  return { shown, geometry, toReference: outputToReference(geometry, size) };
}

/** Values under the pointer. */
export function FinishedReadout({ records, cropping, hint }: { records: Records; cropping: boolean; hint: string | null }) {
  const { toReference } = useShown(records, cropping);
  return <ReadoutLine records={records} toReference={toReference} extra={hint && <span>{hint}</span>} />;
}

/** The finished picture with its pins, or beside what it is compared with; crops, lines and pins are drawn on it. */
export function FinishedPicture(props: {
  records: Records;
  cropping: boolean;
  readOnly: boolean;
  pinTool: PinTool;
  shown: Shown;
  against: string;
  onDone: () => void;
}) {
  const { records, cropping, readOnly, pinTool, onDone } = props;
  const { shown, geometry, toReference } = useShown(records, cropping);
  const history = useSession((s) => s.history);
  const now: Pane = { view: { kind: "output" }, records: shown, label: sentence("common/now") };
  const other = props.shown === "finished" ? now : comparedPane(props.against, records, history);
  const [drawn, setDrawn] = useState<Drawn | null>(null);
  const inForce = outputGeometry(records);
  const back = invert(toReference);
  const cropTool: PictureTool = {
    cursor: "crosshair",
    down: ({ x, y }) => setDrawn({ x0: x, y0: y, x1: x, y1: y }),
    move: (points) => setDrawn((d) => d && { ...d, x1: points[points.length - 1].x, y1: points[points.length - 1].y }),
    up: () => {
      if (drawn) takeDrawnCrop(records, drawn);
      setDrawn(null);
      onDone();
    },
  };
  const pinning: PictureTool = {
    cursor: "crosshair",
    down: ({ x, y }) => {
      const [u, v] = project(toReference, x, y);
      const purpose = pinTool === "exposure" ? "exposure" : "neutral";
      edit(addPin({ purpose, x: Math.round(u), y: Math.round(v), radius: 4, target: purpose === "exposure" ? 60 : null }), {
        stage: "finish",
        label: purpose === "neutral" ? "step.neutralPin" : "step.exposurePin",
      });
      onDone();
    },
  };
  const lineTool: PictureTool = {
    ...cropTool,
    up: () => {
      if (drawn && Math.hypot(drawn.x1 - drawn.x0, drawn.y1 - drawn.y0) >= SHORTEST_LINE * Math.min(geometry.crop.width, geometry.crop.height))
        takeLine(records, lineOf(toReference, drawn));
      setDrawn(null);
    },
  };
  const tool = cropping ? cropTool : pinTool === "none" || readOnly ? null : pinTool === "line" ? lineTool : pinning;
  return (
    <PictureView
      name={sentence("finish/finishedPicture")}
      panes={props.shown === "finished" ? [{ ...now, label: "" }] : props.shown === "other" ? [other] : [other, now]}
      arrangement={props.shown === "split" || props.shown === "side" ? props.shown : "single"}
      size={geometry.crop}
      tool={tool}
      overlay={({ toScreen }) => (
        <>
          {finishPinsOf(records).map((pin, i) => (
            <PinMark key={pin.id} number={i + 1} at={toScreen(...(project(back, pin.x + 0.5, pin.y + 0.5) as [number, number]))} />
          ))}
          {pinTool === "line" && (
            <Lines
              lines={[...(geometryOf(records)?.lines ?? []), ...(drawn ? [lineOf(toReference, drawn)] : [])]}
              toScreen={(p) => toScreen(...(project(back, p[0] + 0.5, p[1] + 0.5) as [number, number]))}
            />
          )}
          {cropping && (
            <Frame
              corners={[
                toScreen(inForce.crop.x - geometry.crop.x, inForce.crop.y - geometry.crop.y),
                toScreen(inForce.crop.x - geometry.crop.x + inForce.crop.width, inForce.crop.y - geometry.crop.y + inForce.crop.height),
              ]}
            />
          )}
          {cropping && drawn && <Frame corners={[toScreen(drawn.x0, drawn.y0), toScreen(drawn.x1, drawn.y1)]} />}
        </>
      )}
    />
  );
}

interface Drawn {
  x0: number;
  y0: number;
  x1: number;
  y1: number;
}

const wholeFrames = new WeakMap<Records, Records>();
/** The records with the crop taken off, kept while they stay the same. */
function wholeFrame(records: Records, size: { width: number; height: number }): Records {
  const turned = outputGeometry(records);
  const crop = turned.tilt ? extentOf(turned, size) : { x: 0, y: 0, ...size };
  const found = wholeFrames.get(records) ?? setGeometry({ angleDeg: turned.angleDeg, crop, ratio: null })(records);
  wholeFrames.set(records, found);
  return found;
}

/** Makes a drawn rectangle (turned frame px) the crop, as far as every frame covers it. */
function takeDrawnCrop(records: Records, d: Drawn): void {
  const { angleDeg, tilt } = outputGeometry(records);
  // drawn over the whole picture, which begins where its corners reach
  const from = outputGeometry(wholeFrame(records, documentSize(records)!)).crop;
  const x = from.x + Math.round(Math.min(d.x0, d.x1));
  const y = from.y + Math.round(Math.min(d.y0, d.y1));
  const wanted = { x, y, width: from.x + Math.round(Math.max(d.x0, d.x1)) - x + 1, height: from.y + Math.round(Math.max(d.y0, d.y1)) - y + 1 };
  if (wanted.width < 16 || wanted.height < 16) return;
  const covered = turnedCoverTest(records, { angleDeg, tilt });
  const border = Array.from({ length: 33 }, (_, i) => i / 32).flatMap((t) => [
    [x + t * (wanted.width - 1), y],
    [x + t * (wanted.width - 1), y + wanted.height - 1],
    [x, y + t * (wanted.height - 1)],
    [x + wanted.width - 1, y + t * (wanted.height - 1)],
  ]);
  const valid = border.every(([u, v]) => covered(u, v));
  const crop = valid ? wanted : intersect(wanted, validCrop(records, { angleDeg, tilt }, null));
  if (crop.width >= 16 && crop.height >= 16)
    edit(setGeometry({ angleDeg, crop, ratio: null }), { stage: "finish", label: message("step.cropDrawn", { width: crop.width, height: crop.height }) });
}

/** Lines that are shorter than this share of the picture tell nothing. */
const SHORTEST_LINE = 0.04;

/** A drawn line in reference px; what it is said to be follows from how it lies as it is shown. */
function lineOf(toReference: Matrix3, { x0, y0, x1, y1 }: Drawn): GuideLine {
  const at = (x: number, y: number) => project(toReference, x, y).map((v) => Math.round(v * 10) / 10) as [number, number];
  return { is: nearerTo([x0, y0], [x1, y1]), from: at(x0, y0), to: at(x1, y1) };
}

/** Straightens by one more line, and says so where it contradicts the others. */
function takeLine(records: Records, line: GuideLine): void {
  const lines = [...(geometryOf(records)?.lines ?? []), line];
  const label = line.is === "upright" ? "step.lineUpright" : "step.lineLevel";
  if (straightenByLines(lines)(records) === records) notify("finish.linesContradict");
  else edit(straightenByLines(lines), { stage: "finish", label });
}

/** Lines that are upright or level, in our double hairline. */
function Lines({ lines, toScreen }: { lines: readonly GuideLine[]; toScreen: (place: readonly [number, number]) => [number, number] }) {
  return lines.map(({ from, to }, i) => {
    const [[x1, y1], [x2, y2]] = [toScreen(from), toScreen(to)];
    return (
      <g key={i} fill="none">
        <line {...{ x1, y1, x2, y2 }} stroke="#000" strokeWidth="3" />
        <line {...{ x1, y1, x2, y2 }} stroke="#fff" strokeWidth="1" />
      </g>
    );
  });
}

/** Our double hairline between two corners. */
function Frame({ corners: [[x0, y0], [x1, y1]] }: { corners: [[number, number], [number, number]] }) {
  const box = { x: Math.min(x0, x1), y: Math.min(y0, y1), width: Math.abs(x1 - x0), height: Math.abs(y1 - y0) };
  return (
    <g fill="none">
      <rect {...box} stroke="#000" strokeWidth="3" />
      <rect {...box} stroke="#fff" strokeWidth="1" />
    </g>
  );
}
