"use client";
import { sentence } from "../messages/sentence";
import { useEffect, useState, type DragEvent } from "react";
import styled from "styled-components";
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
import { gather } from "../session/gathering";
import { newJob, openJobFiles } from "../session/jobs";
import { saveJobFile } from "../session/jobCopy";
import { redo, setStage, undo, openJobOrNone } from "../session/openJob";
import { useSession } from "../session/store";
import type { Stage } from "../session/stages";
import { tokens } from "../ui/tokens/tokens";
import { isSwitchedOff, takesLetters } from "../view/letters";
import { COMMANDS } from "./commands";
import { ErrorBoundary } from "./ErrorBoundary";
import { FindAction, KeySheet } from "./Sheets";
import { NoticeList } from "./NoticeList";
import { PathRow } from "./PathRow";
import { TitleRow } from "./TitleRow";
import { useStart } from "./useStart";

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
  // files before anything beneath them: rows that take frames or layers keep what is over them to themselves
  const onDragOver = (event: DragEvent) => {
    if (!bringsFiles(event)) return;
    event.preventDefault();
    event.stopPropagation();
    setDropping(true);
  };
  const onDrop = (event: DragEvent) => {
    if (!bringsFiles(event)) return;
    event.preventDefault();
    event.stopPropagation();
    setDropping(false);
    const files = [...event.dataTransfer.files];
    const isJob = (f: File) => f.name.toLowerCase().endsWith(".marsh");
    void receive(
      files.filter(isJob),
      files.filter((f) => !isJob(f)),
    );
  };
  return (
    <Shell data-ready={ready} onDragOverCapture={onDragOver} onDragLeaveCapture={(e) => e.relatedTarget === null && setDropping(false)} onDropCapture={onDrop}>
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
          <span>{jobId ? sentence("shell/dropFramesAddThem") : sentence("shell/dropPicturesBeginJob")}</span>
        </Dropping>
      )}
    </Shell>
  );
}

const bringsFiles = ({ dataTransfer }: DragEvent) => dataTransfer.types.includes("Files");

/** Opens job files that were dropped, then gathers the pictures that came with them, or come alone, into the job that is open then, or into a new one. */
async function receive(jobs: File[], pictures: File[]): Promise<void> {
  await openJobFiles(jobs);
  if (pictures.length === 0) return;
  if (!openJobOrNone()) await newJob(sentence("common/untitledJob"));
  if (!openJobOrNone()) return;
  setStage("gather");
  await gather(pictures.map((file) => ({ name: file.name, file })));
}

function useKeys(sheetOpen: boolean, setSheet: (s: "find" | "keys") => void): void {
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const target = event.target as HTMLElement;
      const typing = takesLetters(target);
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
