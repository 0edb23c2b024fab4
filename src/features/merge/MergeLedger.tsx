"use client";
import { useEffect, useState } from "react";
import { FRAME_COLORS } from "../../core/color/frameColors";
import { methodsFor, type MergeMethod } from "../../kinds/merges/records";
import { UNUSED_SHARE } from "../../core/merge/frameShares";
import type { MergeRecord } from "../../kinds/merges/records";
import { frameNumber, mergedFramesOf, workingSetOf } from "../../document/selectors";
import { MERGE_WORDS } from "../../kinds/merges/words";
import { merge } from "../../session/actions";
import { report, useSession, usePartsOf } from "../../session/store";
import { Ledger, LedgerCell, LedgerRow } from "../../ui/components/Ledger";
import { Figure, Heading, Section, Soft, Table } from "../../ui/components/panels";
import { percent } from "../../ui/format";
import { isCancelled } from "../../workers/client/EngineClient";
import { ask } from "../../session/openJob";

/** The ways of merging that suit the set, and what each frame gave to the one in force. */
export function MergeLedger({ record, onShow }: { record: MergeRecord; onShow: () => void }) {
  const { records, isBusy, readOnly } = usePartsOf("records", "isBusy", "readOnly");
  const frames = mergedFramesOf(records);
  const shares = useShares(record);
  const suiting = methodsFor(workingSetOf(records)?.setKind ?? "separate");
  const methods = suiting.includes(record.method) ? suiting : [record.method, ...suiting];
  const choose = (method: MergeMethod) => {
    if (method !== record.method && !isBusy && !readOnly) void merge(method);
    onShow();
  };
  return (
    <>
      <Section>
        <Heading>{MERGE_WORDS[record.method].name} in use</Heading>
        <Soft>{methods.length > 1 ? "Choose one; everything after it follows." : "Everything after it follows."}</Soft>
      </Section>
      <Ledger label="Merges" heads={["Merge"]} headless chosen={record.method} onChoose={choose}>
        {methods.map((m) => (
          <LedgerRow key={m} id={m}>
            <LedgerCell>
              <Figure value={MERGE_WORDS[m].name} word={MERGE_WORDS[m].gives} />
            </LedgerCell>
          </LedgerRow>
        ))}
      </Ledger>
      <Section>
        <Heading>What each frame gives</Heading>
      </Section>
      <Table aria-label="Shares">
        <thead>
          <tr>
            <th>Frame</th>
            <th>In the map</th>
            <th>Gives</th>
          </tr>
        </thead>
        <tbody>
          {frames.map(({ frame }, i) => {
            const share = shares[frame.id] ?? 0;
            return (
              <tr key={frame.id}>
                <td>
                  <Figure value={String(frameNumber(records, frame.id))} />
                </td>
                <td>
                  <svg width="44" height="14" aria-hidden="true">
                    <rect width="44" height="14" fill={`rgb(${FRAME_COLORS[i % FRAME_COLORS.length].join(" ")})`} />
                  </svg>
                </td>
                <td>{share < UNUSED_SHARE ? <Figure value="unused" word="could be left out" /> : <Figure value={percent(share)} />}</td>
              </tr>
            );
          })}
        </tbody>
      </Table>
    </>
  );
}

/** What each frame gives as things are, places taken from one frame included. */
function useShares(record: MergeRecord): Record<string, number> {
  const records = useSession((s) => s.records);
  const [found, setFound] = useState<{ record: MergeRecord; shares: Record<string, number> } | null>(null);
  useEffect(() => {
    const controller = new AbortController();
    ask("shares", { records }, { signal: controller.signal }).then(
      (shares) => !controller.signal.aborted && setFound({ record, shares }),
      (error) => !isCancelled(error) && report(error),
    );
    return () => controller.abort();
  }, [records, record]);
  return found?.record === record ? found.shares : record.shares;
}
