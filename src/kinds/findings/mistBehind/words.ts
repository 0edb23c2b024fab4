import type { FindingWords } from "../wording";

export const mistBehind: FindingWords = {
  name: "Air behind in front",
  title: '"{layer}" stands in no air',
  sentence: 'It stands {metres, number, ::.0} m away and lies over "{air}", which is between. Move that over it: what is nearer stands before it all the same.',
};
