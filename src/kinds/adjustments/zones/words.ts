import { MOST_ZONES } from "../../../core/adjust/tone";
import { rowWords, type KindWords } from "../../wording";

export const zones: KindWords = {
  name: "Tonal zones",
  does: "Zones between the darkest and the brightest light, each brightened by itself; hue and chroma stay.",
  values: {
    darkestEv: { name: "Darkest light", hint: "Centre of the deepest zone, against white." },
    brightestEv: { name: "Brightest light", hint: "Centre of the brightest zone." },
    zones: "Number of zones",
    ...rowWords(MOST_ZONES, (place) => ({ zone: `Zone ${place + 1}` })),
  },
};
