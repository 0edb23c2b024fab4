import { childrenOf } from "../../../document/selectors";
import type { ContentWords } from "../wording";
import type { GroupContent } from "./record";

export const group: ContentWords<GroupContent> = { word: (_content, { id }, records) => `group of ${childrenOf(records, id).length}` };
