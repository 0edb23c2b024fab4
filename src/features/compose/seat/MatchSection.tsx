"use client";
import { share } from "../../../kinds/values";
import { useState } from "react";
import { sentence } from "../../../messages/sentence";
import { message } from "../../../messages/message";
import { correctionsOf, takeOver } from "../../../document/matchEdits";
import { layerOf, seatsOf } from "../../../document/selectors";
import type { SeatRecord } from "../../../document/records/plateTypes";
import { isNoisier, noiseBeside } from "../../../core/match/grainStep";
import type { StepProposal } from "../../../core/match/steps";
import { compareThing, takeSteps, type Compared } from "../../../session/matching";
import { edit } from "../../../session/openJob";
import { usePartsOf } from "../../../session/store";
import { Button } from "../../../ui/components/Button";
import { MenuButton } from "../../../ui/components/MenuButton";
import { MeasuredControl } from "../../../ui/components/MeasuredControl";
import { Heading, RowOf, Section, Soft, Table } from "../../../ui/components/panels";
import { plain, signed } from "../../../ui/format";

/** How much of the way a step goes at first. Common practice, no source: automatic colour is taken at two thirds. */
const STRENGTH = 0.67;
const ENDS = ["white", "middle", "black"] as const;

/** The tones and colours of a thing beside those of the plate around it, and the steps that bring it nearer. */
export function MatchSection({ seat, isDisabled }: { seat: SeatRecord; isDisabled: boolean }) {
  const { records, isBusy } = usePartsOf("records", "isBusy");
  const [strength, setStrength] = useState(STRENGTH);
  const [compared, setCompared] = useState<(Compared & { seatId: string }) | null>(null);
  const { name } = layerOf(records, seat.layerId)!;
  const others = seatsOf(records)
    .filter((s) => s.layerId !== seat.layerId)
    .map((s) => ({ id: s.layerId, name: layerOf(records, s.layerId)!.name, count: correctionsOf(records, s.layerId).length }))
    .filter(({ count }) => count > 0);
  const shown = compared?.seatId === seat.id ? compared : null;
  const isStale = shown !== null && shown.records !== records;
  const compare = async (by = strength) => {
    const found = await compareThing(seat, by);
    if (found) setCompared({ ...found, seatId: seat.id });
  };
  const noise = shown && noiseBeside(shown.told.noise.own, shown.told.noise.plate);
  const steps = shown && !isStale ? shown.told.steps : [];
  const take = (some: readonly StepProposal[]) => {
    const names = some.map(({ step }) => sentence(message("seating/matchName", { step: sentence(`seating/matchStep.${step}`), name })));
    if (takeSteps(seat, some, names)) void compare();
  };
  return (
    <Section>
      <Heading>{sentence("seating/match")}</Heading>
      <Soft>{sentence(isStale ? "seating/matchStale" : "seating/matchMeans")}</Soft>
      {shown && (
        <Table aria-label={sentence("seating/match")}>
          <thead>
            <tr>
              <th scope="col">EV</th>
              <th scope="col">{sentence("seating/itself")}</th>
              <th scope="col">{sentence("seating/plateAround")}</th>
            </tr>
          </thead>
          <tbody>
            {ENDS.map((end) => (
              <tr key={end}>
                <th scope="row">{sentence(`seating/end.${end}`)}</th>
                <td>{signed(shown.told.own.mono[end], 1)}</td>
                <td>{signed(shown.told.plate.mono[end], 1)}</td>
              </tr>
            ))}
            {noise && (
              <tr>
                <th scope="row">{sentence("seating/noiseRow")}</th>
                <td>{plain(noise.own, 1)}</td>
                <td>{plain(noise.other, 1)}</td>
              </tr>
            )}
          </tbody>
        </Table>
      )}
      {shown && !isStale && shown.told.steps.length === 0 && <Soft>{sentence("seating/matchNothing")}</Soft>}
      {steps.map((step) => (
        <Soft key={step.step}>{sentence(message(`seating/apart.${step.step}`, { before: plain(step.before, 1), after: plain(step.after, 1) }))}</Soft>
      ))}
      {noise && !isStale && isNoisier(noise.own, noise.other) && <Soft>{sentence("seating/noisier")}</Soft>}
      {steps.length > 0 && (
        <RowOf>
          <Button isDisabled={isDisabled || isBusy} onPress={() => take(steps.slice(0, 1))}>
            {sentence(message("seating/layMatch", { step: sentence(`seating/matchStep.${steps[0].step}`) }))}
          </Button>
          {steps.length > 1 && (
            <Button isDisabled={isDisabled || isBusy} onPress={() => take(steps)}>
              {sentence("seating/layAllSteps")}
            </Button>
          )}
        </RowOf>
      )}
      <MeasuredControl
        name={sentence("seating/matchStrength")}
        {...share(STRENGTH, 0.1)}
        value={strength}
        isDisabled={isDisabled}
        onPreview={setStrength}
        onChange={(v) => {
          setStrength(v);
          if (shown) void compare(v);
        }}
      />
      <RowOf>
        <Button isDisabled={isDisabled || isBusy} onPress={() => void compare()}>
          {sentence(shown ? "seating/compareAgain" : "seating/comparePlate")}
        </Button>
        {others.length > 0 && (
          <MenuButton
            label={sentence("seating/takeOver")}
            isDisabled={isDisabled}
            items={others.map(({ id, name: of, count }) => ({ id, name: of, does: sentence(message("seating/takesOver", { count })) }))}
            onChoose={(from) => edit(takeOver(from, seat.layerId), { stage: "compose", label: message("step.takenOver", { name }) })}
          />
        )}
      </RowOf>
    </Section>
  );
}
