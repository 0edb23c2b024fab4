import type { FindingWords } from "../wording";

export const edgeCut: FindingWords = {
  name: "Things cut by the edge",
  title: "{brighter, select, yes {Something bright} other {A dark shape}} is cut by the {side} edge",
  sentence:
    "From {from, number, ::scale/100 .} % to {to, number, ::scale/100 .} % of the {side} edge, counted from the {side, select, top {left} bottom {left} other {top}}, {ev, number, ::.0} EV {brighter, select, yes {brighter} other {darker}} than what is beside it: it draws the eye out of the picture.",
};
