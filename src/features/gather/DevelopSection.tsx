"use client";
import { sentence } from "../../messages/sentence";
import { message } from "../../messages/message";
import { useState } from "react";
import { DEVELOPED_BY } from "../../core/match/evenLight";
import { hasLens } from "../../core/geometry/lens";
import { developAgain, developFrames } from "../../document/edits";
import type { QuarterTurns } from "../../core/raster/orientation";
import type { Development, FrameRecord } from "../../document/records/types";
import { AS_SHOT, framesOf, framesOfSet, setsOf } from "../../document/selectors";
import { edit } from "../../session/openJob";
import { usePartsOf } from "../../session/store";
import { turn } from "../../session/comparing";
import { Button } from "../../ui/components/Button";
import { MeasuredControl } from "../../ui/components/MeasuredControl";
import { Select } from "../../ui/components/Select";
import { Heading, RowOf, Section, Soft } from "../../ui/components/panels";
import { moveFrame } from "./SetLedger";

/** How the source is developed before anything else, for this frame or for all of its set. */
export function DevelopSection({ frame, number }: { frame: FrameRecord; number: number }) {
  const { records, readOnly, isBusy } = usePartsOf("records", "readOnly", "isBusy");
  const { development } = frame;
  const others = framesOfSet(records, frame.setId).filter((f) => f.id !== frame.id);
  const equal = others.every((f) => JSON.stringify(f.development) === JSON.stringify(development));
  const plain = JSON.stringify(development) === JSON.stringify(AS_SHOT);
  const change = (what: "exposure" | "whiteBalance" | "tone" | "lens" | "asShot", values: Partial<Development>) =>
    edit(developFrames([frame.id], values), { stage: "gather", label: message("step.developed", { number, what: message(`step.develop.${what}`, {}) }) });
  const sets = setsOf(records).filter((s) => framesOfSet(records, s.id).length > 0);
  return (
    <>
      <Section>
        <Heading>{sentence(message("gather/developmentOfFrame", { number }))}</Heading>
        <MeasuredControl
          name={sentence("common/exposure")}
          unit="EV"
          value={development.exposureEv}
          neutral={0}
          min={-DEVELOPED_BY.exposureEv}
          max={DEVELOPED_BY.exposureEv}
          step={0.05}
          digits={2}
          isDisabled={readOnly}
          onChange={(exposureEv) => change("exposure", { exposureEv })}
        />
        <MeasuredControl
          name={sentence("gather/warmth")}
          unit={sentence("gather/mired")}
          value={development.mired}
          neutral={0}
          min={-DEVELOPED_BY.mired}
          max={DEVELOPED_BY.mired}
          step={1}
          digits={0}
          isDisabled={readOnly}
          onChange={(mired) => change("whiteBalance", { mired })}
        />
        <MeasuredControl
          name={sentence("gather/greenToMagenta")}
          unit="Duv"
          value={development.duv}
          neutral={0}
          min={-DEVELOPED_BY.duv}
          max={DEVELOPED_BY.duv}
          step={0.0005}
          digits={4}
          isDisabled={readOnly}
          onChange={(duv) => change("whiteBalance", { duv })}
        />
        {frame.bits !== 32 && (
          <MeasuredControl
            name={sentence("common/toneResponse")}
            unit={sentence("gather/exponent")}
            value={development.tone}
            neutral={1}
            min={0.4}
            max={2.5}
            step={0.01}
            digits={2}
            hint={sentence("gather/onLinearLightWhite")}
            isDisabled={readOnly}
            onChange={(tone) => change("tone", { tone })}
          />
        )}
        <MeasuredControl
          name={sentence("gather/lensDistortionK1")}
          unit="r²"
          value={development.lens?.k1 ?? 0}
          neutral={0}
          min={-0.3}
          max={0.3}
          step={0.001}
          digits={3}
          hint={sentence("gather/barrelBelowZeroCushion")}
          isDisabled={readOnly}
          onChange={(k1) => change("lens", { lens: k1 === 0 ? null : { k1, k2: development.lens?.k2 ?? 0 } })}
        />
        <RowOf>
          <Button
            isDisabled={readOnly || others.length === 0 || equal}
            onPress={() =>
              edit(
                developFrames(
                  others.map((f) => f.id),
                  development,
                ),
                { stage: "gather", label: message("step.developmentGiven", { number }) },
              )
            }
          >
            {sentence("gather/giveSet")}
          </Button>
          <Button isDisabled={readOnly || plain} onPress={() => change("asShot", AS_SHOT)}>
            {sentence("gather/asShot")}
          </Button>
          <Button isDisabled={readOnly} onPress={() => edit(developAgain(frame.id), { stage: "gather", label: message("step.developedAgain", { number }) })}>
            {sentence("gather/developTwice")}
          </Button>
        </RowOf>
        {hasLens(development.lens) && <Soft style={{ marginTop: 6 }}>{sentence("gather/pictureShownItsLens")}</Soft>}
      </Section>
      <TurnSection frame={frame} others={others} number={number} isDisabled={readOnly || isBusy} />
      {(sets.length > 1 || framesOf(records).length > 1) && (
        <Section>
          <Select
            label={sentence("gather/setFrame")}
            items={[
              ...sets.map((s, i) => ({ id: s.id, label: sentence(message("gather/set", { value: i + 1 })) })),
              { id: "new", label: sentence("gather/setItsOwn") },
            ]}
            chosen={frame.setId}
            isDisabled={readOnly}
            onChoose={(id) => moveFrame(frame.id, id === "new" ? null : id)}
          />
        </Section>
      )}
    </>
  );
}

/** Frames whose orientation is not what the camera noted, as it happens when it points straight down. */
function TurnSection({ frame, others, number, isDisabled }: { frame: FrameRecord; others: FrameRecord[]; number: number; isDisabled: boolean }) {
  const [whole, setWhole] = useState(false);
  const frames = whole ? [frame, ...others] : [frame];
  const turnAll = (by: QuarterTurns) => void turn(frames.map((f) => ({ frame: f, by })));
  return (
    <Section>
      <Heading>{sentence("gather/rotateBy90")}</Heading>
      {others.length > 0 && (
        <Select
          label={sentence("gather/rotate")}
          inline
          items={[
            { id: "frame", label: sentence(message("common/frameNumber", { number })) },
            { id: "set", label: sentence("gather/theWholeSet") },
          ]}
          chosen={whole ? "set" : "frame"}
          onChoose={(id) => setWhole(id === "set")}
        />
      )}
      <RowOf>
        <Button isDisabled={isDisabled} onPress={() => turnAll(3)}>
          {sentence("gather/90Left")}
        </Button>
        <Button isDisabled={isDisabled} onPress={() => turnAll(1)}>
          {sentence("gather/90Right")}
        </Button>
        <Button isDisabled={isDisabled} onPress={() => turnAll(2)}>
          180°
        </Button>
      </RowOf>
    </Section>
  );
}
