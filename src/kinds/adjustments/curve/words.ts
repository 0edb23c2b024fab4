import { MOST_NODES } from "../../../core/adjust/tone";
import { CHANNELS, rowWords, type KindWords } from "../../wording";

export const curve: KindWords = {
  name: "Curve",
  does: "Values through nodes of your own, by a curve that never turns back between them.",
  values: {
    channel: CHANNELS,
    log: { name: "Scale", choices: ["Encoded", "Log light"] },
    nodes: "Number of nodes",
    ...rowWords(MOST_NODES, (place) => ({ x: `Node ${place + 1} from`, y: `Node ${place + 1} to` })),
  },
};
