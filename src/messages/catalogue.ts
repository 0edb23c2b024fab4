import { FILES } from "./catalogue/files";
import { GATHER } from "./catalogue/gather";
import { MERGE } from "./catalogue/merge";
import { NAMES } from "./catalogue/names";
import { REGISTER } from "./catalogue/register";
import { SCREENS } from "./catalogue/screens";
import { SERVER } from "./catalogue/server";
import { SESSION } from "./catalogue/session";
import { STEPS } from "./catalogue/steps";
import { TASKS } from "./catalogue/tasks";

/** Every sentence that a person is told, in ICU syntax, by its code. @see https://unicode-org.github.io/icu/userguide/format_parse/messages/ */
export const CATALOGUE = { ...FILES, ...NAMES, ...GATHER, ...REGISTER, ...MERGE, ...SERVER, ...SESSION, ...STEPS, ...TASKS, ...SCREENS } as const;
