import { COMMON_SCREEN } from "./common";
import { SHELL_SCREEN } from "./shell";
import { JOBS_SCREEN } from "./jobs";
import { PLAN_SCREEN } from "./plan";
import { GATHER_SCREEN } from "./gather";
import { REGISTER_SCREEN } from "./register";
import { MERGE_SCREEN } from "./merge";
import { COMPOSE_SCREEN } from "./compose";
import { LAYERING_SCREEN } from "./layering";
import { CUTTING_SCREEN, LIGHTING_SCREEN } from "./cutting";
import { SWAPPING_SCREEN } from "./swapping";
import { SEATING_SCREEN } from "./seating";
import { MASKING_SCREEN } from "./masking";
import { ADJUSTING_SCREEN } from "./adjusting";
import { FINISH_SCREEN } from "./finish";
import { PROOF_SCREEN } from "./proof";
import { HANDOVER_SCREEN } from "./handover";
import { LOGBOOK_SCREEN } from "./logbook";
import { VIEW_SCREEN } from "./view";

/** Words of the screens, by the screen that shows them; `common` are those of several. Codes of screens have a slash. */
export const SCREENS = {
  ...COMMON_SCREEN,
  ...SHELL_SCREEN,
  ...JOBS_SCREEN,
  ...PLAN_SCREEN,
  ...GATHER_SCREEN,
  ...REGISTER_SCREEN,
  ...MERGE_SCREEN,
  ...COMPOSE_SCREEN,
  ...LAYERING_SCREEN,
  ...CUTTING_SCREEN,
  ...LIGHTING_SCREEN,
  ...SWAPPING_SCREEN,
  ...SEATING_SCREEN,
  ...MASKING_SCREEN,
  ...ADJUSTING_SCREEN,
  ...FINISH_SCREEN,
  ...PROOF_SCREEN,
  ...HANDOVER_SCREEN,
  ...LOGBOOK_SCREEN,
  ...VIEW_SCREEN,
} as const;
