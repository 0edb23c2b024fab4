import type { FindingWords } from "../wording";

export const oldSky: FindingWords = {
  name: "Old sky in edges",
  title: "Edges of the land still have the old sky's colour",
  sentence: 'They lean {deltaE, number, ::.0} ΔE towards it. Paint on the mask of "{layer}" there, or lay on a little air at the horizon.',
};
