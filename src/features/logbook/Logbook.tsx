"use client";
import { message } from "../../messages/message";
import { sentence } from "../../messages/sentence";
import { memo, useMemo, useState } from "react";
import styled from "styled-components";
import { compareStates } from "../../words/compareStates";
import { stepValues } from "../../words/stepValues";
import { pathTo, recordsAt } from "../../document/history";
import type { History, Step } from "../../document/history";
import { goTo, setNote } from "../../session/openJob";
import { useSession, usePartsOf } from "../../session/store";
import { Button } from "../../ui/components/Button";
import { Dialog } from "../../ui/components/Dialog";
import { Ledger, LedgerCell, LedgerRow, useInTurn } from "../../ui/components/Ledger";
import { Figure, Section, Soft, Table } from "../../ui/components/panels";
import { Select } from "../../ui/components/Select";
import { clock, percent, plain } from "../../ui/format";
import { tokens } from "../../ui/tokens/tokens";

const Note = styled.input`
  width: 100%;
  min-width: 150px;
  border: 1px solid transparent;
  background: transparent;
  padding: 1px 4px;
  &::placeholder {
    color: inherit;
  }
  &:hover,
  &:focus {
    border-color: ${tokens.lineStrong};
    background: ${tokens.field};
    color: ${tokens.text};
  }
`;

/** Steps that are listed before older ones are asked for. */
const MOST_STEPS = 200;

const latestSteps = (history: History, most: number) => history.steps.slice(-most).reverse();

/** Every step with its values, what it did, and a note; any state can be gone back to. */
export function Logbook() {
  const { history, logbookOpen, readOnly } = usePartsOf("history", "logbookOpen", "readOnly");
  const onPath = new Set(pathTo(history, history.head).map((s) => s.id));
  const [most, setMost] = useState(MOST_STEPS);
  const steps = latestSteps(history, most);
  return (
    <Dialog
      title={sentence(message("common/logbookStepsCount", { count: history.steps.length }))}
      wide
      isOpen={logbookOpen}
      onClose={() => useSession.setState({ logbookOpen: false })}
    >
      <Section>
        <Soft>{sentence("logbook/chooseStepGoIts")}</Soft>
        <Compared />
      </Section>
      <Ledger
        label={sentence("common/steps")}
        heads={[sentence("logbook/time"), sentence("logbook/step"), sentence("logbook/changes"), sentence("common/note")]}
        rows={steps.map((s) => ({ id: s.id }))}
        hasFields
        named={[1]}
        chosen={history.head}
        onChoose={(id) => !readOnly && goTo(id)}
      >
        {useInTurn(steps).map((s) => (
          <StepRow key={s.id} step={s} isOnPath={onPath.has(s.id)} />
        ))}
      </Ledger>
      {steps.length < history.steps.length && (
        <Section>
          <Button onPress={() => setMost(most + MOST_STEPS)}>{sentence("logbook/showOlderSteps")}</Button>
        </Section>
      )}
    </Dialog>
  );
}

/** One step; of hundreds, those that are as they were are not made anew. */
const StepRow = memo(function StepRow({ step: s, isOnPath }: { step: Step; isOnPath: boolean }) {
  return (
    <LedgerRow id={s.id}>
      <LedgerCell>
        <Figure value={clock(s.at)} word={isOnPath ? s.stage : sentence(message("logbook/otherBranchStage", { stage: s.stage }))} />
      </LedgerCell>
      <LedgerCell>
        <b>{sentence(s.label)}</b>
        <br />
        <span style={{ fontSize: tokens.size.small }}>{stepValues(s)}</span>
      </LedgerCell>
      <LedgerCell>
        {s.effect ? (
          <Figure
            value={percent(s.effect.share)}
            word={
              s.effect.share ? sentence(message("logbook/meanEMeanDeltaE", { meanDeltaE: plain(s.effect.meanDeltaE, 1) })) : sentence("logbook/nothingVisible")
            }
          />
        ) : (
          <Figure value="" word={sentence("logbook/notMeasured")} />
        )}
      </LedgerCell>
      <LedgerCell>
        <Note
          aria-label={sentence(message("logbook/noteOnLabel", { label: sentence(s.label) }))}
          value={s.note}
          placeholder={sentence("logbook/note")}
          onChange={(e) => setNote(s.id, e.target.value)}
        />
      </LedgerCell>
    </LedgerRow>
  );
});

/** The state in use against that of some step, value by value. */
function Compared() {
  const { history, records } = usePartsOf("history", "records");
  const [stepId, setStepId] = useState("");
  const other = history.steps.some((s) => s.id === stepId) ? stepId : "";
  const differences = useMemo(() => (other ? compareStates(recordsAt(history, other), records) : null), [history, other, records]);
  return (
    <>
      <Select
        label={sentence("logbook/compareStateUse")}
        chosen={other}
        items={[
          { id: "", label: sentence("common/nothing") },
          ...latestSteps(history, MOST_STEPS).map((s) => ({ id: s.id, label: `${clock(s.at)} ${sentence(s.label)}` })),
        ]}
        onChoose={setStepId}
      />
      {differences?.length === 0 && <Soft>{sentence("common/everyValueSame")}</Soft>}
      {differences && differences.length > 0 && (
        <Table aria-label={sentence("logbook/differencesTwoStates")} style={{ marginTop: 6 }}>
          <thead>
            <tr>
              <th>{sentence("common/value")}</th>
              <th>{sentence("logbook/then")}</th>
              <th>{sentence("common/now")}</th>
            </tr>
          </thead>
          <tbody>
            {differences.slice(0, MOST_DIFFERENCES).map((d, i) => (
              <tr key={i}>
                <td>
                  <Figure value={d.value || d.thing} word={d.value ? d.thing : undefined} />
                </td>
                <td>{d.before}</td>
                <td>{d.after}</td>
              </tr>
            ))}
          </tbody>
        </Table>
      )}
      {differences && differences.length > MOST_DIFFERENCES && (
        <Soft>{sentence(message("logbook/andMoreCount", { count: differences.length - MOST_DIFFERENCES }))}</Soft>
      )}
    </>
  );
}

const MOST_DIFFERENCES = 40;
