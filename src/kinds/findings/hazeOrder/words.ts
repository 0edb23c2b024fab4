import type { FindingWords } from "../wording";

export const hazeOrder: FindingWords = {
  name: "Haze out of order",
  title: '"{nearer}" is hazier than "{farther}" behind it',
  sentence: "Its black is {ev, number, ::.0} EV lighter than that of what stands farther away. Give both the haze of where they stand.",
};
