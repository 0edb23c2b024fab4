import type { FindingWords } from "../wording";

export const leak: FindingWords = {
  name: "Layers that reach too far",
  title: '"{layer}" reaches beyond "{below}"',
  sentence:
    "{share, number, ::scale/100 .} % of what it changes lies outside the layer below it, by a mean ΔE of {deltaE, number, ::.0}. Keep it to that layer, or accept it where the whole picture was meant.",
};
