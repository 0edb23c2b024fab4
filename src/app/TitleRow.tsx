"use client";
import { message } from "../messages/message";
import { useState } from "react";
import styled from "styled-components";
import { renameJob } from "../document/edits";
import { redoTarget, stepById } from "../document/history";
import { framesOf, jobOf, registrationOf } from "../document/selectors";
import { outputGeometry } from "../document/outputGeometry";
import { closeJob } from "../session/jobs";
import { edit, redo, undo } from "../session/openJob";
import { useSession, usePartsOf } from "../session/store";
import { PlainButton } from "../ui/components/Button";
import { clock, megapixels } from "../ui/format";
import { tokens } from "../ui/tokens/tokens";

const Title = styled.header`
  height: ${tokens.layout.title}px;
  flex: none;
  display: flex;
  align-items: center;
  gap: 16px;
  padding: 0 14px;
  background: ${tokens.panel};
  border-bottom: 1px solid ${tokens.lineStrong};
  white-space: nowrap;
`;
const Brand = styled(PlainButton)`
  font-weight: 600;
  font-size: ${tokens.size.large};
`;
const JobName = styled.input`
  border: 1px solid transparent;
  background: transparent;
  padding: 1px 4px;
  field-sizing: content;
  min-width: 60px;
  max-width: 320px;
  text-overflow: ellipsis;
  &:hover,
  &:focus {
    border-color: ${tokens.lineStrong};
    background: ${tokens.field};
  }
`;
const Spread = styled.span`
  flex: 1;
`;
/** The job's name and state, and what is always at hand. */
export function TitleRow({ onFind, onKeys }: { onFind: () => void; onKeys: () => void }) {
  const { jobId, records, history, saved, savedAt, lastCopyAt, readOnly, damaged, takeNewer } = usePartsOf(
    "jobId",
    "records",
    "history",
    "saved",
    "savedAt",
    "lastCopyAt",
    "readOnly",
    "damaged",
    "takeNewer",
  );
  const name = jobOf(records)?.name ?? "";
  const [draft, setDraft] = useState<string | null>(null);
  const frames = framesOf(records);
  const size = registrationOf(records) ? outputGeometry(records).crop : frames[0];
  const rename = () => {
    if (draft?.trim()) edit(renameJob(draft.trim()), { stage: "gather", label: message("step.named", { name: draft.trim() }) }, { measure: false });
    setDraft(null);
  };
  const head = stepById(history, history.head);
  return (
    <Title>
      <h1>
        <Brand aria-label="Marsh, all jobs" onPress={closeJob}>
          Marsh
        </Brand>
      </h1>
      {jobId && (
        <>
          <JobName
            aria-label="Name of the job"
            value={draft ?? name}
            readOnly={readOnly}
            onChange={(e) => setDraft(e.target.value)}
            onBlur={rename}
            onKeyDown={(e) => e.key === "Enter" && e.currentTarget.blur()}
          />
          <span>{frames.length > 0 && size ? `${frames.length} frames · ${megapixels(size.width, size.height)}` : ""}</span>
        </>
      )}
      <Spread />
      {jobId && (
        <>
          <span data-testid="saved">
            {readOnly
              ? damaged
                ? "Only to look at: what is whole of a damaged job"
                : "Only to look at: open in another tab"
              : saved === "saved"
                ? `Saved ${savedAt ? clock(savedAt) : ""}`
                : saved === "saving"
                  ? "Saving"
                  : "Not saved yet"}
          </span>
          <span>Last copy outside the browser: {clock(lastCopyAt)}</span>
          <PlainButton isDisabled={!head?.parent || readOnly} onPress={undo}>
            Undo
          </PlainButton>
          <PlainButton isDisabled={!redoTarget(history) || readOnly} onPress={redo}>
            Redo
          </PlainButton>
          <PlainButton onPress={() => useSession.setState({ logbookOpen: true })}>Logbook, {history.steps.length} steps</PlainButton>
        </>
      )}
      {takeNewer && <PlainButton onPress={takeNewer}>Begin the newer Marsh</PlainButton>}
      <PlainButton onPress={onFind}>Find an action</PlainButton>
      <PlainButton onPress={onKeys}>Keys</PlainButton>
    </Title>
  );
}
