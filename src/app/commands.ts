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
import { foldPanel, foldPanels } from "../view/panels";
import { showOneToOne, showWhole } from "../view/viewState";

export interface Command {
  name: string;
  /** as shown on the key sheet; "" where it has none */
  key: string;
  run: () => void;
}

/** Every command with its key. Stages by number; single letters for views; arrows fine, with shift coarse. */
export const COMMANDS: Command[] = [
  ...STAGES.map((stage, i) => ({ name: sentence(message("shell/goTo", { value: title(`stage.${stage}`) })), key: String(i + 1), run: () => setStage(stage) })),
  { name: sentence("shell/undo"), key: "u", run: undo },
  { name: sentence("shell/redo"), key: "U", run: redo },
  { name: sentence("shell/logbook"), key: "l", run: () => useSession.setState((s) => ({ logbookOpen: !s.logbookOpen })) },
  { name: sentence("shell/foldUnfoldLedgerBench"), key: "p", run: foldPanels },
  { name: sentence("shell/foldUnfoldLedger"), key: "q", run: () => foldPanel("ledger") },
  { name: sentence("shell/foldUnfoldBench"), key: "i", run: () => foldPanel("bench") },
  { name: sentence("shell/showWholePicture"), key: "w", run: showWhole },
  { name: sentence("shell/showOneOne"), key: "o", run: showOneToOne },
  { name: sentence("shell/groupFramesIntoSets"), key: "", run: () => void groupFrames() },
  { name: sentence("shell/compareFramesSet"), key: "", run: () => void compareSet() },
  { name: sentence("shell/registerTheFrames"), key: "", run: () => void register() },
  { name: sentence("shell/mergeAsProposed"), key: "", run: () => void mergeAsProposed() },
  ...MERGE_METHODS.map((method) => ({
    name: sentence(message("shell/useName", { name: MERGE_WORDS[method].name.toLowerCase() })),
    key: "",
    run: () => void merge(method),
  })),
  { name: sentence("shell/inspectThePicture"), key: "", run: () => (setStage("proof"), void proof()) },
  { name: sentence("shell/stopWhatRunning"), key: "Escape", run: () => useSession.getState().busy?.stop() },
  { name: sentence("shell/saveCopyJobFile"), key: "Ctrl S", run: () => void saveJobFile() },
  { name: sentence("shell/allJobs"), key: "j", run: closeJob },
];

/** Keys that act within a stage; listed on the sheet, handled there. */
export const STAGE_KEYS: { key: string; name: string }[] = [
  { key: "Tab", name: sentence("shell/onPictureArrowsMove") },
  { key: "Ctrl Z", name: sentence("shell/undoShiftRedo") },
  { key: "c, held", name: sentence("shell/registerShowReferenceProof") },
  { key: "← → ↑ ↓", name: sentence("shell/registerByHandMove") },
  { key: "r", name: sentence("shell/composeBrushRevealsSoftens") },
  { key: "n", name: sentence("shell/composeBrushConcealsTakes") },
  { key: "m", name: sentence("shell/composeResultMaskOverlay") },
  { key: "t", name: sentence("shell/composeInvertMask") },
  { key: "e, held", name: sentence("shell/composeLayerWithoutIts") },
  { key: "b, held", name: sentence("shell/composeWithoutLayer") },
  { key: "d, held", name: sentence("shell/composeStrokeStraightFrom") },
  { key: "Alt ↑ ↓", name: sentence("shell/composePutLayerUp") },
  { key: "s, held", name: sentence("shell/composeDragOnPicture") },
  { key: ", .", name: sentence("shell/composeTurnPictureOn") },
  { key: "↑ ↓", name: sentence("shell/composeBrushSizeShift") },
  { key: "← →", name: sentence("shell/composeBrushSoftness") },
  { key: "↑ ↓", name: sentence("shell/tablesChooseRow") },
  { key: "a", name: sentence("shell/findAnAction") },
  { key: "k", name: sentence("shell/sheetKeys") },
];
