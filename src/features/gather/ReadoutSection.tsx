"use client";
import { sentence } from "../../messages/sentence";
import { message } from "../../messages/message";
import { useEffect, useMemo, useState } from "react";
import { BINS_PER_STOP, STOPS } from "../../core/measure/stops";
import { proposeWhiteBalance } from "../../core/color/whiteBalance";
import { developFrames, removeRecord } from "../../document/edits";
import type { FrameRecord, PinRecord } from "../../document/records/types";
import { cardsOf, exposuresOf, framesOf } from "../../document/selectors";
import type { CardReading, FrameReadouts } from "../../engine/operations/gather/frameReadouts";
import { ask, edit } from "../../session/openJob";
import { notify, report, useSession, usePartsOf } from "../../session/store";
import { Button, Choice } from "../../ui/components/Button";
import { LineChart, type Series } from "../../ui/components/LineChart";
import { Facts, Heading, RowOf, Section, Soft } from "../../ui/components/panels";
import { percent, plain, signed, withUnit } from "../../ui/format";

const CHANNELS = [
  { label: "R", color: "#8a1212", dash: [] },
  { label: "G", color: "#0d5a1e", dash: [5, 2] },
  { label: "B", color: "#123a8a", dash: [2, 2] },
];

interface Props {
  frame: FrameRecord;
  number: number;
  /** the frame it is shown beside; without one a grey card may be marked */
  against?: FrameRecord;
  placing?: boolean;
  onPlace?: (on: boolean) => void;
}

/** Histogram in stops, noise by tone, and what a grey card reads in this frame. */
export function ReadoutSection({ frame, number, against, placing = false, onPlace }: Props) {
  const [readouts, setReadouts] = useState<{ id: string; value: FrameReadouts } | null>(null);
  useEffect(() => {
    let current = true;
    ask("readFrame", { frame }).then((value) => current && setReadouts({ id: frame.id, value }), report);
    return () => {
      current = false;
    };
  }, [frame]);
  const shown = readouts?.id === frame.id ? readouts.value : null;
  const histogram = useMemo<Series[]>(
    () =>
      shown ? CHANNELS.map((c, k) => ({ ...c, points: shown.histogram[k].map((v, i) => ({ x: (i + 0.5) / BINS_PER_STOP - STOPS, y: Math.sqrt(v) })) })) : [],
    [shown],
  );
  const noise = useMemo<Series[]>(
    () => (shown ? [{ label: sentence("common/noiseWithin"), color: "#141414", points: shown.noise.map((n) => ({ x: n.stops, y: n.sigma })) }] : []),
    [shown],
  );
  return (
    <Section>
      <Heading>{sentence(message("gather/histogramOfFrame", { number }))}</Heading>
      {shown ? (
        <>
          <LineChart
            summary={sentence(message("gather/histogramStopsBelowFull", { value: shown.clipped.map(percent).join(", ") }))}
            series={histogram}
            xTitle={sentence("gather/evFullScaleR")}
            xMin={-STOPS}
            xMax={0}
            xStep={2}
            height={120}
          />
          <Facts>
            <dt>{sentence(message("gather/belowEvSTOPS", { STOPS }))}</dt>
            <dd>{shown.below.map((v) => percent(v)).join("  ")}</dd>
          </Facts>
          {shown.noise.length > 1 && (
            <LineChart
              summary={sentence("gather/noiseByTone")}
              series={noise}
              xTitle={sentence("gather/evBelowFullScale")}
              yTitle={sentence("gather/noise")}
              xMin={-STOPS}
              xMax={0}
              xStep={2}
              height={96}
            />
          )}
        </>
      ) : (
        <Soft>{sentence("common/measuring")}</Soft>
      )}
      {against && <Differences frame={frame} against={against} />}
      {onPlace && <Card frame={frame} number={number} placing={placing} onPlace={onPlace} />}
    </Section>
  );
}

/** What Gather measured of a frame, against the one it is shown beside. */
function Differences({ frame, against }: { frame: FrameRecord; against: FrameRecord }) {
  const measured = useSession((s) => exposuresOf(s.records)?.measuredEv);
  const [a, b] = [against.measures, frame.measures];
  const ev = frame.setId === against.setId ? (measured?.[frame.id] ?? NaN) - (measured?.[against.id] ?? NaN) : NaN;
  return (
    <Facts style={{ marginTop: 8 }}>
      {Number.isFinite(ev) && (
        <>
          <dt>{sentence("gather/lightAgainstIt")}</dt>
          <dd>{withUnit(signed(ev, 2), "EV")}</dd>
        </>
      )}
      <dt>{sentence("gather/noiseOf255")}</dt>
      <dd>{sentence(message("gather/against", { one: plain(b.noiseSigma, 2), other: plain(a.noiseSigma, 2) }))}</dd>
      <dt>{sentence("common/edges")}</dt>
      <dd>{sentence(message("gather/against", { one: plain(b.edgeWidthPx, 1), other: withUnit(plain(a.edgeWidthPx, 1), "px") }))}</dd>
      <dt>{sentence("gather/clippedTop")}</dt>
      <dd>{sentence(message("gather/against", { one: percent(Math.max(...b.clippedHigh)), other: percent(Math.max(...a.clippedHigh)) }))}</dd>
    </Facts>
  );
}

type CardProps = Pick<Props, "frame" | "number"> & { placing: boolean; onPlace: (on: boolean) => void };

function Card({ frame, number, placing, onPlace }: CardProps) {
  const { records, readOnly } = usePartsOf("records", "readOnly");
  const pins = cardsOf(records, frame.id);
  const pin = pins[pins.length - 1];
  const reading = useReading(frame, pin);
  const neutral = () => {
    const balance = reading && proposeWhiteBalance(reading.working);
    if (!balance) return notify("gathering.patch");
    const all = framesOf(records).filter((f) => f.setId === frame.setId);
    edit(
      developFrames(
        all.map((f) => f.id),
        balance,
      ),
      { stage: "gather", label: message("step.cardBalance", { number }) },
    );
  };
  return (
    <>
      {reading && (
        <Facts style={{ marginTop: 8 }}>
          <dt>{sentence("gather/cardReadsRG")}</dt>
          <dd>{reading.rgb.map((v) => plain(v, 1)).join("  ")}</dd>
          <dt>{sentence("gather/spread")}</dt>
          <dd>{reading.spread.map((v) => plain(v, 1)).join("  ")}</dd>
        </Facts>
      )}
      <RowOf>
        <Choice isSelected={placing} isDisabled={readOnly} onChange={onPlace}>
          {sentence("gather/greyCard")}
        </Choice>
        {pin && (
          <>
            <Button isDisabled={readOnly || !reading} onPress={neutral}>
              {sentence("gather/neutralWholeSet")}
            </Button>
            <Button isDisabled={readOnly} onPress={() => edit(removeRecord(pin.id), { stage: "gather", label: "step.cardRemoved" })}>
              {sentence("common/remove")}
            </Button>
          </>
        )}
      </RowOf>
      {placing && <Soft style={{ marginTop: 6 }}>{sentence("gather/clickCardAnythingShould")}</Soft>}
    </>
  );
}

function useReading(frame: FrameRecord, pin: PinRecord | undefined): CardReading | null {
  const [reading, setReading] = useState<{ id: string; value: CardReading } | null>(null);
  useEffect(() => {
    if (!pin) return;
    let current = true;
    ask("readCard", { frame, x: pin.x, y: pin.y, radius: pin.radius }).then((value) => current && setReading({ id: pin.id, value }), report);
    return () => {
      current = false;
    };
  }, [frame, pin]);
  return pin && reading?.id === pin.id ? reading.value : null;
}
