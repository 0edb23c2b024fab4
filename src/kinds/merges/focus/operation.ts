import { mergeFocus } from "../../../engine/operations/merge/mergeFocus";
import type { Nothing } from "../fields";
import type { MergeOperation } from "../tools";

export const focus: MergeOperation<Nothing> = { open: (ctx, inputs, _records, task) => mergeFocus(ctx, inputs, task) };
