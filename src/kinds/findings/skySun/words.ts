import type { FindingWords } from "../wording";

export const skySun: FindingWords = {
  name: "Sun against the shadows",
  title: "The sky's sun stands elsewhere than the land's shadows tell",
  sentence: 'The sun in "{layer}" is {degrees, number, ::.}° off the plate\'s light. Turn the sky, or take one without a sun.',
};
