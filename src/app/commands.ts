import { message } from "../messages/message";
import { sentence, title } from "../messages/sentence";
import { MERGE_WORDS } from "../kinds/merges/words";
import { MERGE_METHODS } from "../kinds/merges/records";
import { compareSet } from "../session/comparing";
import { groupFrames, merge, mergeAsProposed, proof, register } from "../session/actions";
import { saveJobFile } from "../session/jobCopy";
import { closeJob } from "../session/jobs";
import { redo, setStage, undo } from "../session/openJob";
import { useSession } from "../session/store";
import { STAGES } from "../session/stages";
import type { Act } from "../view/keys";
import { JUDGED } from "../view/judgedAs";
import { foldPanel, foldPanels } from "../view/panels";
import { chooseFiles } from "./receive";
import { judgeIn, judgeMono, showOneToOne, showWhole } from "../view/viewState";

export interface Command {
  act: Act;
  name: string;
  /** a key that always does it too */
  fixed?: string;
  run: () => void;
}

/** What is done from everywhere in a job, and found by its name. */
export const COMMANDS: Command[] = [
  ...STAGES.map((stage): Command => ({
    act: `go/${stage}`,
    name: sentence(message("shell/goTo", { value: title(`stage.${stage}`) })),
    run: () => setStage(stage),
  })),
  { act: "undo", name: sentence("shell/undo"), fixed: "Ctrl Z", run: undo },
  { act: "redo", name: sentence("shell/redo"), fixed: "Ctrl Y", run: redo },
  { act: "logbook", name: sentence("shell/logbook"), run: () => useSession.setState((s) => ({ logbookOpen: !s.logbookOpen })) },
  { act: "foldPanels", name: sentence("shell/foldUnfoldLedgerBench"), run: foldPanels },
  { act: "foldLedger", name: sentence("shell/foldUnfoldLedger"), run: () => foldPanel("ledger") },
  { act: "foldBench", name: sentence("shell/foldUnfoldBench"), run: () => foldPanel("bench") },
  { act: "wholePicture", name: sentence("shell/showWholePicture"), run: showWhole },
  { act: "oneToOne", name: sentence("shell/showOneOne"), run: showOneToOne },
  { act: "judgeMono", name: sentence("shell/judgeMono"), run: judgeMono },
  ...JUDGED.map((judged): Command => ({
    act: `judge/${judged}`,
    name: sentence(message("shell/judgeIn", { value: sentence(`view/judged.${judged}`) })),
    run: () => judgeIn(judged),
  })),
  { act: "group", name: sentence("shell/groupFramesIntoSets"), run: () => void groupFrames() },
  { act: "compareSet", name: sentence("shell/compareFramesSet"), run: () => void compareSet() },
  { act: "register", name: sentence("shell/registerTheFrames"), run: () => void register() },
  { act: "mergeAsProposed", name: sentence("shell/mergeAsProposed"), run: () => void mergeAsProposed() },
  ...MERGE_METHODS.map((method): Command => ({
    act: `merge/${method}`,
    name: sentence(message("shell/useName", { name: MERGE_WORDS[method].name.toLowerCase() })),
    run: () => void merge(method),
  })),
  { act: "inspect", name: sentence("shell/inspectThePicture"), run: () => (setStage("proof"), void proof()) },
  { act: "stop", name: sentence("shell/stopWhatRunning"), fixed: "Esc", run: () => useSession.getState().busy?.stop() },
  { act: "saveCopy", name: sentence("shell/saveCopyJobFile"), fixed: "Ctrl S", run: () => void saveJobFile() },
  { act: "openFiles", name: sentence("shell/openFiles"), fixed: "Ctrl O", run: chooseFiles },
  { act: "allJobs", name: sentence("shell/allJobs"), run: closeJob },
];

/** What a key does within a stage; it is handled there. */
export const STAGE_ACTS: { act: Act; name: string }[] = [
  { act: "compare", name: sentence("shell/registerShowReferenceProof") },
  { act: "reveal", name: sentence("shell/composeBrushRevealsSoftens") },
  { act: "conceal", name: sentence("shell/composeBrushConcealsTakes") },
  { act: "maskView", name: sentence("shell/composeResultMaskOverlay") },
  { act: "invertMask", name: sentence("shell/composeInvertMask") },
  { act: "withoutMask", name: sentence("shell/composeLayerWithoutIts") },
  { act: "withoutLayer", name: sentence("shell/composeWithoutLayer") },
  { act: "straight", name: sentence("shell/composeStrokeStraightFrom") },
  { act: "drawBrush", name: sentence("shell/composeDragOnPicture") },
  { act: "turnLeft", name: sentence("shell/composeTurnPictureLeft") },
  { act: "turnRight", name: sentence("shell/composeTurnPictureRight") },
  { act: "findAction", name: sentence("shell/findAnAction") },
  { act: "keySheet", name: sentence("shell/sheetKeys") },
];

/** Keys that stay what they are. */
export const FIXED_KEYS: { key: string; name: string }[] = [
  { key: "Tab", name: sentence("shell/onPictureArrowsMove") },
  ...COMMANDS.flatMap(({ fixed, name }) => (fixed ? [{ key: fixed, name }] : [])),
  { key: "↑ ↓", name: sentence("shell/tablesChooseRow") },
  { key: "← → ↑ ↓", name: sentence("shell/registerByHandMove") },
  { key: "Alt ↑ ↓", name: sentence("shell/composePutLayerUp") },
  { key: "↑ ↓", name: sentence("shell/composeBrushSizeShift") },
  { key: "← →", name: sentence("shell/composeBrushSoftness") },
];
