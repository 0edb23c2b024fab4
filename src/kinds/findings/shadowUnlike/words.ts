import type { FindingWords } from "../wording";

export const shadowUnlike: FindingWords = {
  name: "Shadow unlike the plate's",
  title: 'The shadow of "{layer}" is not as the plate\'s own',
  sentence:
    "It is {ev, number, ::.0} EV darker, of a light {degrees, number, ::.0}° wide; the plate's own are {ownEv, number, ::.0} EV, of {ownDegrees, number, ::.0}°. Set it on its layer, or take it away and lay it anew.",
};
