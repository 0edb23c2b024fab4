import { title } from "../messages/sentence";
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
  ...STAGES.map((stage, i) => ({ name: `Go to ${title(`stage.${stage}`)}`, key: String(i + 1), run: () => setStage(stage) })),
  { name: "Undo", key: "u", run: undo },
  { name: "Redo", key: "U", run: redo },
  { name: "Logbook", key: "l", run: () => useSession.setState((s) => ({ logbookOpen: !s.logbookOpen })) },
  { name: "Fold or unfold ledger and bench", key: "p", run: foldPanels },
  { name: "Fold or unfold the ledger", key: "q", run: () => foldPanel("ledger") },
  { name: "Fold or unfold the bench", key: "i", run: () => foldPanel("bench") },
  { name: "Show the whole picture", key: "w", run: showWhole },
  { name: "Show at one to one", key: "o", run: showOneToOne },
  { name: "Group the frames into sets", key: "", run: () => void groupFrames() },
  { name: "Compare the frames of the set", key: "", run: () => void compareSet() },
  { name: "Register the frames", key: "", run: () => void register() },
  { name: "Merge as proposed", key: "", run: () => void mergeAsProposed() },
  ...MERGE_METHODS.map((method) => ({ name: `Use: ${MERGE_WORDS[method].name.toLowerCase()}`, key: "", run: () => void merge(method) })),
  { name: "Inspect the picture", key: "", run: () => (setStage("proof"), void proof()) },
  { name: "Stop what is running", key: "Escape", run: () => useSession.getState().busy?.stop() },
  { name: "Save a copy as a job file", key: "Ctrl S", run: () => void saveJobFile() },
  { name: "All jobs", key: "j", run: closeJob },
];

/** Keys that act within a stage; listed on the sheet, handled there. */
export const STAGE_KEYS: { key: string; name: string }[] = [
  { key: "Tab", name: "On the picture: arrows move it, + and − scale it, Enter reads the values in its middle" },
  { key: "Ctrl Z", name: "Undo; with shift, redo" },
  { key: "c, held", name: "Register: show the reference; Proof: what is compared against" },
  { key: "← → ↑ ↓", name: "Register by hand: move the frame 0.1 px, with shift 1 px" },
  { key: "r", name: "Compose: brush reveals, or softens" },
  { key: "n", name: "Compose: brush conceals, or takes softening back" },
  { key: "m", name: "Compose: result, mask overlay, mask alone, its edge" },
  { key: "t", name: "Compose: invert the mask" },
  { key: "e, held", name: "Compose: the layer without its mask" },
  { key: "b, held", name: "Compose: without the layer" },
  { key: "d, held", name: "Compose: a stroke straight from where the last one ended; an ellipse with even radii" },
  { key: "Alt ↑ ↓", name: "Compose: put the layer up or down" },
  { key: "s, held", name: "Compose: drag on the picture draws the brush from its middle" },
  { key: ", .", name: "Compose: turn the picture on the screen by 15°" },
  { key: "↑ ↓", name: "Compose: brush size, with shift in larger steps" },
  { key: "← →", name: "Compose: brush softness" },
  { key: "↑ ↓", name: "Tables: choose a row" },
  { key: "a", name: "Find an action" },
  { key: "k", name: "This sheet of keys" },
];
