"use client";
import { useState } from "react";
import { sentence } from "../../../messages/sentence";
import { lampsOf } from "../../../document/lampEdits";
import { documentSize, seatsOf } from "../../../document/selectors";
import { plateNow } from "../../../document/seatEdits";
import { usePartsOf } from "../../../session/store";
import { useCompose } from "../../../view/composeState";
import { PictureView } from "../../../view/PictureView";
import { ReadoutLine } from "../../../view/ReadoutLine";
import { StageLayout } from "../../../view/StageLayout";
import { ViewChoices } from "../../../view/ViewChoices";
import { LampBench } from "./LampBench";
import { BackToLayers, PlateBench } from "./PlateBench";
import { SeatBench } from "./SeatBench";
import { SeatLedger } from "./SeatLedger";
import { SeatOverlay } from "./SeatOverlay";
import { useSeatTool } from "./useSeatTool";

type Shown = "result" | "base";

/** Things seated in the plate: its horizon, lens and light, and where each thing stands. */
export function SeatStage() {
  const { records, readOnly, isBusy } = usePartsOf("records", "readOnly", "isBusy");
  const { seatId, lampId, plateTool } = useCompose();
  const [shown, setShown] = useState<Shown>("result");
  const isDisabled = readOnly || isBusy;
  const size = documentSize(records);
  const plate = plateNow(records);
  const seats = seatsOf(records);
  const seat = seats.find((s) => s.id === seatId) ?? null;
  const lamp = lampsOf(plate).find((l) => l.id === lampId) ?? null;
  const { tool, drawn } = useSeatTool(records, seat, lamp, isDisabled);
  if (!size || !plate) return null;
  const does =
    plateTool !== "none" ? (`seating/does.${plateTool}` as const) : seat ? "seating/does.seat" : lamp ? "seating/does.lampMoved" : "seating/does.none";
  return (
    <StageLayout
      ledger={<SeatLedger plate={plate} seats={seats} chosen={seat} lamp={lamp} />}
      bench={
        <>
          {seat ? (
            <SeatBench key={seat.id} seat={seat} isDisabled={isDisabled} />
          ) : lamp ? (
            <LampBench key={lamp.id} lamp={lamp} plate={plate} isDisabled={isDisabled} />
          ) : (
            <PlateBench plate={plate} isDisabled={isDisabled} />
          )}
          <BackToLayers />
        </>
      }
      bar={
        <ViewChoices<Shown>
          views={[
            { id: "result", label: sentence("compose/result") },
            { id: "base", label: sentence("seating/plate") },
          ]}
          chosen={shown}
          onChoose={setShown}
        />
      }
      readout={<ReadoutLine records={records} extra={<span>{sentence(does)}</span>} />}
    >
      <PictureView
        name={sentence("seating/seat")}
        live
        panes={[{ view: shown === "base" ? { kind: "merge", method: null } : { kind: "compose" }, records, label: "" }]}
        arrangement="single"
        size={size}
        tool={tool}
        overlay={({ toScreen, records: now }) => (
          <SeatOverlay records={now} size={size} seatId={seat?.id ?? null} lampId={lamp?.id ?? null} drawn={drawn} toScreen={toScreen} />
        )}
      />
    </StageLayout>
  );
}
