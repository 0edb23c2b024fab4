import type { FindingWords } from "../wording";

export const lampMissing: FindingWords = {
  name: "Lamp without effect",
  title: '"{layer}" stands beside a lamp and gets none of its light',
  sentence: "Where it faces the lamp it would be {ev, number, ::.0} EV brighter. Lay the lamp's light on it under Compose, Seat.",
};
