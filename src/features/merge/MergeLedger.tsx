"use client";
import { sentence } from "../../messages/sentence";
import { message } from "../../messages/message";
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
        <Heading>{sentence(message("merge/inUseName", { name: MERGE_WORDS[record.method].name }))}</Heading>
        <Soft>{methods.length > 1 ? sentence("merge/chooseOneEverythingAfter") : sentence("merge/everythingAfterFollows")}</Soft>
      </Section>
      <Ledger
        label={sentence("merge/merges")}
        heads={[sentence("common/merge")]}
        headless
        rows={methods.map((id) => ({ id }))}
        chosen={record.method}
        onChoose={choose}
      >
        {methods.map((m) => (
          <LedgerRow key={m} id={m}>
            <LedgerCell>
              <Figure value={MERGE_WORDS[m].name} word={MERGE_WORDS[m].gives} />
            </LedgerCell>
          </LedgerRow>
        ))}
      </Ledger>
      <Section>
        <Heading>{sentence("merge/whatEachFrameGives")}</Heading>
      </Section>
      <Table aria-label={sentence("merge/shares")}>
        <thead>
          <tr>
            <th>{sentence("common/frame")}</th>
            <th>{sentence("merge/inTheMap")}</th>
            <th>{sentence("merge/gives")}</th>
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
                <td>
                  {share < UNUSED_SHARE ? <Figure value={sentence("merge/unused")} word={sentence("merge/couldLeftOut")} /> : <Figure value={percent(share)} />}
                </td>
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
