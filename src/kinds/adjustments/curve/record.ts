import type { AdjustmentRecord } from "../fields";
import { MOST_NODES } from "../../../core/adjust/tone";
import { channel, choice, count, encoded, row } from "../../values";

export const curve = {
  values: {
    channel: channel(),
    /** 0 encoded, 1 log light */
    log: choice(0, 2),
    nodes: count(2, MOST_NODES),
    ...row("nodes", MOST_NODES, (place) => ({ x: encoded(place === 0 ? 0 : 1), y: encoded(place === 0 ? 0 : 1) })),
  },
} satisfies AdjustmentRecord;
