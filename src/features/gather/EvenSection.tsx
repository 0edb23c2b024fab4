"use client";
import { useState } from "react";
import { JOB_LIMITS } from "../../document/limits";
import { framesOf, framesOfSet } from "../../document/selectors";
import type { FrameRecord } from "../../document/records/types";
import { sentence } from "../../messages/sentence";
import { message } from "../../messages/message";
import { developSeries, isEvened, lacks, lookAtSeries, type ToldSeries } from "../../session/evening";
import { usePartsOf } from "../../session/store";
import { Button } from "../../ui/components/Button";
import { Choices } from "../../ui/components/Choices";
import { Heading, RowOf, Section, Soft, Table } from "../../ui/components/panels";
import { percent, plain, signed } from "../../ui/format";

const OF = ["set", "all"] as const;

/** What is left, ΔE2000, that exposure and white balance do not carry; and a share that is clipped. Common practice, no source. */
const NOT_CARRIED = 3;
const CLIPPED = 0.02;

/** Brings a series to one of its frames by how they are developed, with what each lacked and what could not be carried over. */
export function EvenSection({ frame, numberOf }: { frame: FrameRecord; numberOf: (f: FrameRecord) => number }) {
  const { records, readOnly, isBusy } = usePartsOf("records", "readOnly", "isBusy");
  const [of, setOf] = useState<(typeof OF)[number]>("set");
  const [told, setTold] = useState<ToldSeries | null>(null);
  const set = framesOfSet(records, frame.setId);
  const all = framesOf(records);
  const series = (of === "all" || set.length < 2 ? all : set).filter((f) => !f.excluded);
  if (all.length < 2) return null;
  const number = numberOf(frame);
  const shown = told?.toId === frame.id ? told : null;
  const isStale = shown !== null && shown.records !== records;
  const evened = shown?.frames.filter(isEvened) ?? [];
  const named = (id: string) => all.find((f) => f.id === id);
  const left = evened.filter((f) => f.after > NOT_CARRIED);
  const clipped = evened.filter((f) => f.clipped > CLIPPED);
  const silent = shown?.frames.filter((f) => !isEvened(f)) ?? [];
  const numbers = (some: readonly { frameId: string }[]) =>
    some
      .flatMap(({ frameId }) => named(frameId) ?? [])
      .map(numberOf)
      .join(", ");
  return (
    <Section>
      <Heading>{sentence("gather/even")}</Heading>
      <Soft>{sentence(message("gather/evenMeans", { number }))}</Soft>
      {set.length >= 2 && all.length > set.length && (
        <Choices<(typeof OF)[number]>
          label={sentence("gather/evenWhat")}
          items={OF.map((id) => ({ id, label: sentence(`gather/evenOf.${id}`) }))}
          chosen={of}
          isDisabled={isBusy}
          onChoose={setOf}
        />
      )}
      {shown && !isStale && evened.length > 0 && (
        <Table aria-label={sentence("gather/even")}>
          <thead>
            <tr>
              <th scope="col">{sentence("common/frame")}</th>
              <th scope="col">EV</th>
              <th scope="col">{sentence("gather/mired")}</th>
              <th scope="col">{sentence("gather/duv")}</th>
              <th scope="col">ΔE</th>
            </tr>
          </thead>
          <tbody>
            {evened.map((f) => (
              <tr key={f.frameId}>
                <th scope="row">{named(f.frameId) && numberOf(named(f.frameId)!)}</th>
                <td>{f.keepsExposure ? "–" : signed(f.exposureEv, 2)}</td>
                <td>{signed(f.mired, 0)}</td>
                <td>{signed(f.duv, 4)}</td>
                <td>
                  {plain(f.before, 1)} → {plain(f.after, 1)}
                </td>
              </tr>
            ))}
          </tbody>
        </Table>
      )}
      {series.length > JOB_LIMITS.framesOfSet && <Soft>{sentence(message("gather/evenMost", { most: JOB_LIMITS.framesOfSet, count: series.length }))}</Soft>}
      {isStale && <Soft>{sentence("seating/matchStale")}</Soft>}
      {shown && !isStale && (
        <>
          {evened.some((f) => f.keepsExposure) && <Soft>{sentence("gather/evenStays")}</Soft>}
          {left.length > 0 && <Soft>{sentence(message("gather/evenLeft", { numbers: numbers(left), count: left.length }))}</Soft>}
          {clipped.map((f) => (
            <Soft key={f.frameId}>{sentence(message("gather/evenClipped", { numbers: numbers([f]), share: percent(f.clipped) }))}</Soft>
          ))}
          {silent.length > 0 && <Soft>{sentence(message("gather/evenSilent", { numbers: numbers(silent), count: silent.length }))}</Soft>}
        </>
      )}
      <RowOf>
        <Button
          isDisabled={isBusy || series.length < 2 || series.length > JOB_LIMITS.framesOfSet}
          onPress={() => void lookAtSeries(series, frame).then((found) => found && setTold(found))}
        >
          {sentence(shown ? "seating/compareAgain" : "gather/evenCompare")}
        </Button>
        {shown && !isStale && evened.some((f) => lacks(records, f)) && (
          <Button isDisabled={readOnly || isBusy} onPress={() => developSeries(evened, number)}>
            {sentence("gather/evenDevelop")}
          </Button>
        )}
      </RowOf>
    </Section>
  );
}
