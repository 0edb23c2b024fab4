import type { KindWords } from "../../wording";

export const clearing: KindWords = {
  name: "Air by distance",
  does: "Takes the haze before far things away, the more the farther they are, as the picture itself tells; or lays as much again on.",
  values: {
    amount: { name: "Taken away", hint: "Below 0 as much is laid on." },
    airEv: { name: "Light of the air", hint: "What lies farthest fades into it." },
    airRed: { name: "Its red", hint: "Beside green." },
    airBlue: { name: "Its blue", hint: "Beside green." },
    hidesRed: { name: "Hides red", hint: "Beside green. Haze hides blue more." },
    hidesBlue: { name: "Hides blue", hint: "Beside green." },
    least: { name: "Least light through", hint: "The farthest is cleared no further, and shows less noise." },
  },
};
