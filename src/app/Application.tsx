"use client";
import { sentence } from "../messages/sentence";
import { useState, type DragEvent } from "react";
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
import type { Stage } from "../session/stages";
import { tokens } from "../ui/tokens/tokens";
import { ErrorBoundary } from "./ErrorBoundary";
import { FindAction } from "./FindAction";
import { KeySheet } from "./KeySheet";
import { NoticeList } from "./NoticeList";
import { PathRow } from "./PathRow";
import { receive } from "./receive";
import { TitleRow } from "./TitleRow";
import { useKeyboard } from "./useKeyboard";
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
  useKeyboard(sheet !== "none", setSheet);
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
    void receive([...event.dataTransfer.files]);
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
