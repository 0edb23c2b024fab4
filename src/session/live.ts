import { create } from "zustand";
import type { Edit } from "../document/edits";

/** What a control that is dragged would make of the job: shown at once, and no step of the job. It ends where the control is let go, which edits, and with its stage and its job. */
export const useLive = create<{ edit: Edit | null }>(() => ({ edit: null }));

export const showLive = (edit: Edit | null) => useLive.setState({ edit });
