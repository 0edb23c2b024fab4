"use client";
import { useEffect, useMemo, useRef, useState, type DragEvent } from "react";
import styled from "styled-components";
import { renameJob } from "../document/edits";
import { openFindingsOf } from "../document/finding";
import { redoTarget, stepById } from "../document/history";
import { framesOf, jobOf, registrationOf } from "../document/selectors";
import { ComposeStage } from "../features/compose/ComposeStage";
import { FinishStage } from "../features/finish/FinishStage";
import { GatherStage } from "../features/gather/GatherStage";
import { HandoverStage } from "../features/handover/HandoverStage";
import { JobsPage } from "../features/jobs/JobsPage";
import { Logbook } from "../features/logbook/Logbook";
import { MergeStage } from "../features/merge/MergeStage";
import { PlanStage } from "../features/plan/PlanStage";
import { ProofStage } from "../features/proof/ProofStage";
import { RegisterStage } from "../features/register/RegisterStage";
import { summarizeSet } from "../document/sets";
import { outputGeometry } from "../document/outputGeometry";
import { openDemo } from "../session/demos";
import { gather } from "../session/gathering";
import { closeJob, newJob, openJobFiles } from "../session/jobs";
import { saveJobFile } from "../session/jobCopy";
import { edit, redo, setStage, undo, openJobOrNone } from "../session/openJob";
import { navigate, type AddressLine } from "../session/navigation";
import { keepOffline } from "../session/offline";
import { keepPictures } from "../session/picturing";
import { wasShown } from "../session/showing";
import { dismiss, useSession } from "../session/store";
import { describeStage, STAGE_NAMES, STAGES, STATE_WORDS, type Stage } from "../session/stages";
import { PlainButton, TextButton } from "../ui/components/Button";
import { StateGlyph } from "../ui/components/StateGlyph";
import { clock, megapixels } from "../ui/format";
import { tokens } from "../ui/tokens/tokens";
import { isSwitchedOff, recallLetters } from "../view/letters";
import { recallPanels, usePanels } from "../view/panels";
import { COMMANDS } from "./commands";
import { ErrorBoundary } from "./ErrorBoundary";
import { FindAction, KeySheet } from "./Sheets";

const SCREENS: Record<Stage, () => React.ReactNode> = {
  plan: PlanStage,
  gather: GatherStage,
  register: RegisterStage,
  merge: MergeStage,
  compose: ComposeStage,
  finish: FinishStage,
  proof: ProofStage,
  handover: HandoverStage,
};

const Shell = styled.div`
  height: 100vh;
  display: flex;
  flex-direction: column;
`;
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
  &:hover,
  &:focus {
    border-color: ${tokens.lineStrong};
    background: ${tokens.field};
  }
`;
const Spread = styled.span`
  flex: 1;
`;
const Path = styled.nav<{ $thin: boolean }>`
  height: ${({ $thin }) => ($thin ? tokens.layout.pathThin : tokens.layout.path)}px;
  flex: none;
  display: grid;
  grid-template-columns: repeat(8, 1fr);
  border-bottom: 1px solid ${tokens.lineStrong};
  background: ${tokens.panel};
`;
const Segment = styled.button<{ $open: boolean }>`
  display: grid;
  grid-template-columns: auto 1fr;
  align-items: center;
  column-gap: 8px;
  padding: 4px 8px 3px 12px;
  border: 0;
  border-right: 1px solid ${tokens.line};
  border-bottom: 3px solid ${({ $open }) => ($open ? tokens.chosen : "transparent")};
  background: ${({ $open }) => ($open ? tokens.field : "transparent")};
  text-align: left;
  overflow: hidden;
  b {
    font-size: ${tokens.size.large};
    font-weight: 600;
    line-height: 1.2;
  }
  span {
    grid-column: 2;
    font-family: ${tokens.condensed};
    font-size: ${tokens.size.text};
    line-height: 1.2;
    white-space: nowrap;
    overflow: hidden;
    text-overflow: ellipsis;
  }
  &:hover b {
    text-decoration: underline;
  }
  &:focus-visible {
    outline-offset: -3px;
  }
`;
const Notices = styled.div`
  position: fixed;
  right: 276px;
  bottom: 40px;
  z-index: 30;
  width: 380px;
  display: grid;
  gap: 6px;
  p {
    display: flex;
    justify-content: space-between;
    gap: 12px;
    padding: 8px 10px;
    background: ${tokens.field};
    border: 1px solid ${tokens.text};
    border-left: 4px solid ${tokens.finding};
  }
`;
const Dropping = styled.div`
  position: fixed;
  inset: 0;
  z-index: 50;
  display: flex;
  align-items: center;
  justify-content: center;
  background: rgb(60 60 60 / 60%);
  pointer-events: none;
  span {
    padding: 14px 22px;
    background: ${tokens.panel};
    border: 2px solid ${tokens.text};
    font-size: ${tokens.size.large};
  }
`;

/** The whole application: the title row, the path, the open stage. */
export function Application() {
  const { jobId, stage, ready } = useStart();
  const [sheet, setSheet] = useState<"none" | "find" | "keys">("none");
  const [dropping, setDropping] = useState(false);
  useKeys(sheet !== "none", setSheet);
  const Screen = SCREENS[stage];
  const onDrop = (event: DragEvent) => {
    event.preventDefault();
    setDropping(false);
    const files = [...event.dataTransfer.files];
    const isJob = (f: File) => f.name.toLowerCase().endsWith(".marsh");
    void receive(
      files.filter(isJob),
      files.filter((f) => !isJob(f)),
    );
  };
  return (
    <Shell
      data-ready={ready}
      onDragOver={(e) => (e.preventDefault(), setDropping(true))}
      onDragLeave={(e) => e.relatedTarget === null && setDropping(false)}
      onDrop={onDrop}
    >
      <TitleRow onFind={() => setSheet("find")} onKeys={() => setSheet("keys")} />
      {jobId ? (
        <>
          <PathRow />
          <ErrorBoundary key={`${jobId}/${stage}`}>
            <Screen />
          </ErrorBoundary>
          <Logbook />
        </>
      ) : (
        ready && <JobsPage />
      )}
      <NoticeList />
      <FindAction isOpen={sheet === "find"} onClose={() => setSheet("none")} />
      <KeySheet isOpen={sheet === "keys"} onClose={() => setSheet("none")} />
      {dropping && (
        <Dropping>
          <span>{jobId ? "Drop the frames to add them to this job" : "Drop pictures to begin a job, or job files to open them"}</span>
        </Dropping>
      )}
    </Shell>
  );
}

/** Opens job files that were dropped, then gathers the pictures that came with them, or come alone, into the job that is open then, or into a new one. */
async function receive(jobs: File[], pictures: File[]): Promise<void> {
  await openJobFiles(jobs);
  if (pictures.length === 0) return;
  if (!openJobOrNone()) await newJob("Untitled job");
  if (!openJobOrNone()) return;
  setStage("gather");
  await gather(pictures.map((file) => ({ name: file.name, file })));
}

/** The browser's own address line. */
const ADDRESS_LINE: AddressLine = {
  path: () => location.pathname,
  push: (path) => history.pushState(null, "", path),
  replace: (path) => history.replaceState(null, "", path),
  onMove: (moved) => {
    addEventListener("popstate", moved);
    return () => removeEventListener("popstate", moved);
  },
};

/** A small picture as a file of the browser's own making. */
async function packPicture(rgba: Uint8ClampedArray<ArrayBuffer>, width: number, height: number): Promise<Blob> {
  const canvas = new OffscreenCanvas(width, height);
  canvas.getContext("2d")!.putImageData(new ImageData(rgba, width, height), 0, 0);
  return canvas.convertToBlob({ type: "image/jpeg", quality: 0.85 });
}

/** Shows what the address leads to, a demo where it asks for one, and keeps address and title the same as what is shown. */
function useStart() {
  const jobId = useSession((s) => s.jobId);
  const stage = useSession((s) => s.stage);
  const name = useSession((s) => jobOf(s.records)?.name);
  const [ready, setReady] = useState(false);
  const begun = useRef(false);
  useEffect(() => {
    if (begun.current) return;
    begun.current = true;
    recallPanels();
    recallLetters();
    keepPictures(packPicture);
    if (process.env.NODE_ENV === "production" && "serviceWorker" in navigator) void keepOffline(navigator.serviceWorker).catch(() => undefined);
    void navigate(ADDRESS_LINE, openWantedDemo).finally(() => setReady(true));
  }, []);
  useEffect(() => {
    document.title = jobId ? `${name ?? "Job"} · ${STAGE_NAMES[stage]} · Marsh` : "Marsh";
  }, [jobId, name, stage]);
  // an effect runs only where everything could be drawn
  useEffect(() => {
    if (jobId) wasShown();
  }, [jobId]);
  return { jobId, stage, ready };
}

/** "?demo=NAME" in the address: that demo job. */
async function openWantedDemo(): Promise<boolean> {
  const wanted = new URLSearchParams(location.search).get("demo");
  return wanted !== null && openDemo(wanted);
}

function useKeys(sheetOpen: boolean, setSheet: (s: "find" | "keys") => void): void {
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const target = event.target as HTMLElement;
      const typing = target.closest("input, textarea, select, [contenteditable]");
      if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "z" && !typing) {
        event.preventDefault();
        (event.shiftKey ? redo : undo)();
        return;
      }
      if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "s") {
        event.preventDefault();
        void saveJobFile();
        return;
      }
      if (typing || sheetOpen || event.ctrlKey || event.metaKey || event.altKey || target.closest("[role=dialog]") || isSwitchedOff(event)) return;
      if (event.key === "a") setSheet("find");
      else if (event.key === "k") setSheet("keys");
      else {
        const command = COMMANDS.find((c) => c.key === event.key);
        if (!command || (!useSession.getState().jobId && !["j"].includes(event.key))) return;
        command.run();
      }
      event.preventDefault();
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [sheetOpen, setSheet]);
}

function TitleRow({ onFind, onKeys }: { onFind: () => void; onKeys: () => void }) {
  const { jobId, records, history, saved, savedAt, lastCopyAt, readOnly, damaged, takeNewer } = useSession();
  const name = jobOf(records)?.name ?? "";
  const [draft, setDraft] = useState<string | null>(null);
  const frames = framesOf(records);
  const size = registrationOf(records) ? outputGeometry(records).crop : frames[0];
  const rename = () => {
    if (draft?.trim()) edit(renameJob(draft.trim()), { stage: "gather", label: `Job named "${draft.trim()}"` }, { measure: false });
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

function PathRow() {
  const { records, stage, findings, busy, lastExportAt } = useSession();
  const summary = useMemo(() => summarizeSet(records), [records]);
  const oddities = summary.oddities.length + summary.differences.length;
  const openFindings = openFindingsOf(records, findings).length;
  // the picture has the window to itself: the path keeps its names
  const thin = usePanels((p) => p.ledger.folded && p.bench.folded);
  return (
    <Path aria-label="The path" $thin={thin}>
      {STAGES.map((s) => {
        const { state, figure } = describeStage(s, { records, oddities, findings, openFindings, working: busy?.stage ?? null, lastExportAt });
        return (
          <Segment
            key={s}
            $open={s === stage}
            aria-current={s === stage ? "step" : undefined}
            aria-label={`${STAGE_NAMES[s]}: ${figure}, ${STATE_WORDS[state]}`}
            onClick={() => setStage(s)}
          >
            <StateGlyph state={state} />
            <b>{STAGE_NAMES[s]}</b>
            {!thin && <span>{figure}</span>}
          </Segment>
        );
      })}
    </Path>
  );
}

function NoticeList() {
  const notices = useSession((s) => s.notices);
  return (
    <Notices role="status" aria-live="polite">
      {notices.map((n) => (
        <p key={n.id}>
          <span>{n.text}</span>
          <TextButton aria-label="Dismiss" onPress={() => dismiss(n.id)}>
            Dismiss
          </TextButton>
        </p>
      ))}
    </Notices>
  );
}
