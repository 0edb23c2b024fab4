"use client";
import { sentence } from "../../messages/sentence";
import { useMemo, useState } from "react";
import styled from "styled-components";
import { compareStates } from "../../words/compareStates";
import { stepValues } from "../../words/stepValues";
import { pathTo, recordsAt } from "../../document/history";
import { goTo, setNote } from "../../session/openJob";
import { useSession, usePartsOf } from "../../session/store";
import { Dialog } from "../../ui/components/Dialog";
import { Figure, Row, Section, Soft, Table } from "../../ui/components/panels";
import { Select } from "../../ui/components/Select";
import { clock, percent, plain } from "../../ui/format";
import { tokens } from "../../ui/tokens/tokens";
import { rowKeys } from "../../view/rowKeys";

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

/** Every step with its values, what it did, and a note; any state can be gone back to. */
export function Logbook() {
  const { history, logbookOpen, readOnly } = usePartsOf("history", "logbookOpen", "readOnly");
  const onPath = new Set(pathTo(history, history.head).map((s) => s.id));
  const steps = [...history.steps].reverse();
  return (
    <Dialog title={`Logbook, ${history.steps.length} steps`} wide isOpen={logbookOpen} onClose={() => useSession.setState({ logbookOpen: false })}>
      <Section>
        <Soft>Choose a step to go to its state. Steps off the path in use stay here and can be gone back to.</Soft>
        <Compared />
      </Section>
      <Table aria-label="Steps">
        <thead>
          <tr>
            <th>Time</th>
            <th>Step</th>
            <th>Changes</th>
            <th>Note</th>
          </tr>
        </thead>
        <tbody>
          {steps.map((s) => (
            <Row
              key={s.id}
              $chosen={s.id === history.head}
              tabIndex={s.id === history.head ? 0 : -1}
              aria-selected={s.id === history.head}
              onClick={() => !readOnly && goTo(s.id)}
              onKeyDown={rowKeys(
                steps.map((x) => x.id),
                s.id,
                (id) => !readOnly && goTo(id),
              )}
            >
              <td>
                <Figure value={clock(s.at)} word={onPath.has(s.id) ? s.stage : `${s.stage}, other branch`} />
              </td>
              <td>
                <b>{sentence(s.label)}</b>
                <br />
                <span style={{ fontSize: tokens.size.small }}>{stepValues(s)}</span>
              </td>
              <td>
                {s.effect ? (
                  <Figure value={percent(s.effect.share)} word={s.effect.share ? `mean ΔE ${plain(s.effect.meanDeltaE, 1)}` : "nothing visible"} />
                ) : (
                  <Figure value="" word="not measured" />
                )}
              </td>
              <td onClick={(e) => e.stopPropagation()} onKeyDown={(e) => e.stopPropagation()}>
                <Note aria-label={`Note on ${sentence(s.label)}`} value={s.note} placeholder="note" onChange={(e) => setNote(s.id, e.target.value)} />
              </td>
            </Row>
          ))}
        </tbody>
      </Table>
    </Dialog>
  );
}

/** The state in use against that of some step, value by value. */
function Compared() {
  const { history, records } = usePartsOf("history", "records");
  const [stepId, setStepId] = useState("");
  const other = history.steps.some((s) => s.id === stepId) ? stepId : "";
  const differences = useMemo(() => (other ? compareStates(recordsAt(history, other), records) : null), [history, other, records]);
  return (
    <>
      <Select
        label="Compare the state in use with"
        chosen={other}
        items={[{ id: "", label: "nothing" }, ...[...history.steps].reverse().map((s) => ({ id: s.id, label: `${clock(s.at)} ${sentence(s.label)}` }))]}
        onChoose={setStepId}
      />
      {differences?.length === 0 && <Soft>Every value is the same.</Soft>}
      {differences && differences.length > 0 && (
        <Table aria-label="Differences of two states" style={{ marginTop: 6 }}>
          <thead>
            <tr>
              <th>Value</th>
              <th>Then</th>
              <th>Now</th>
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
      {differences && differences.length > MOST_DIFFERENCES && <Soft>And {differences.length - MOST_DIFFERENCES} more.</Soft>}
    </>
  );
}

const MOST_DIFFERENCES = 40;
