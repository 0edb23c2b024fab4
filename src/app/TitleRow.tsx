"use client";
import { sentence } from "../messages/sentence";
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
import { rem, tokens } from "../ui/tokens/tokens";

const Title = styled.header`
  min-height: ${rem(tokens.layout.title)};
  flex: none;
  display: flex;
  align-items: center;
  gap: 16px;
  padding: 0 14px;
  background: ${tokens.panel};
  border-bottom: 1px solid ${tokens.lineStrong};
  white-space: nowrap;
  ${tokens.narrow} {
    flex-wrap: wrap;
    row-gap: 0;
  }
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
        <Brand aria-label={sentence("shell/marshAllJobs")} onPress={closeJob}>
          {sentence("shell/marsh")}
        </Brand>
      </h1>
      {jobId && (
        <>
          <JobName
            aria-label={sentence("common/nameJob")}
            value={draft ?? name}
            readOnly={readOnly}
            onChange={(e) => setDraft(e.target.value)}
            onBlur={rename}
            onKeyDown={(e) => e.key === "Enter" && e.currentTarget.blur()}
          />
          <span>
            {frames.length > 0 && size ? sentence(message("shell/framesCount", { count: frames.length, size: megapixels(size.width, size.height) })) : ""}
          </span>
        </>
      )}
      <Spread />
      {jobId && (
        <>
          <span data-testid="saved">
            {readOnly
              ? damaged
                ? sentence("shell/onlyLookWhatWhole")
                : sentence("shell/onlyLookOpenAnother")
              : saved === "saved"
                ? sentence(message("shell/saved", { value: savedAt ? clock(savedAt) : "" }))
                : saved === "saving"
                  ? sentence("shell/saving")
                  : sentence("shell/notSavedYet")}
          </span>
          <span>{sentence(message("shell/lastCopyOutsideBrowser", { time: clock(lastCopyAt) }))}</span>
          <PlainButton isDisabled={!head?.parent || readOnly} onPress={undo}>
            {sentence("shell/undo")}
          </PlainButton>
          <PlainButton isDisabled={!redoTarget(history) || readOnly} onPress={redo}>
            {sentence("shell/redo")}
          </PlainButton>
          <PlainButton onPress={() => useSession.setState({ logbookOpen: true })}>
            {sentence(message("common/logbookStepsCount", { count: history.steps.length }))}
          </PlainButton>
        </>
      )}
      {takeNewer && <PlainButton onPress={takeNewer}>{sentence("shell/beginNewerMarsh")}</PlainButton>}
      <PlainButton onPress={onFind}>{sentence("shell/findAnAction")}</PlainButton>
      <PlainButton onPress={onKeys}>{sentence("shell/keys")}</PlainButton>
    </Title>
  );
}
