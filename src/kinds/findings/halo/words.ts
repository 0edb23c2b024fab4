import type { FindingWords } from "../wording";

export const halo: FindingWords = {
  name: "Lines along masks",
  title: '{brighter, select, yes {Bright} other {Dark}} line along the mask of "{layer}"',
  sentence:
    "{ev, number, ::.0} EV {brighter, select, yes {brighter} other {darker}} than both of its sides{others, plural, =0 {} one {, and at # more place} other {, and at # more places}}. Paint nearer to the edge, or let the mask follow it.",
};
