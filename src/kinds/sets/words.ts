import { bracket } from "./bracket/words";
import { cutout } from "./cutout/words";
import { developed } from "./developed/words";
import { focus } from "./focus/words";
import { panorama } from "./panorama/words";
import { repeats } from "./repeats/words";
import { separate } from "./separate/words";
import { single } from "./single/words";
import { sky } from "./sky/words";
import type { SetKind } from "./records";
import type { SetKindWords } from "./wording";

/** What each kind of set is called. */
export const SET_WORDS: Record<SetKind, SetKindWords> = { bracket, focus, panorama, separate, repeats, sky, developed, cutout, single };
