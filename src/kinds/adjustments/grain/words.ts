import type { KindWords } from "../../wording";

export const grain: KindWords = {
  name: "Grain",
  does: "Noise as another picture has it: by tone and channel, as coarse, and always the same in a place.",
  values: {
    dark: "In dark tones",
    middle: "In middle tones",
    light: "In light tones",
    red: "Red beside green",
    blue: "Blue beside green",
    sizePx: { name: "How coarse", hint: "0: each px by itself." },
    common: { name: "Of all channels", hint: "0 %: coloured. 100 %: grey." },
    seed: "Another one",
  },
};
