import type { FindingWords } from "../wording";

export const noiseUnlike: FindingWords = {
  name: "Noise unlike its plate",
  title: '"{layer}" is {how, select, quieter {quieter} other {noisier}} than its plate',
  sentence:
    "Its noise is {sigma, number, ::.0} of 255, the plate's {plateSigma, number, ::.0}. {how, select, quieter {Give it its plate's grain under Compose, Seat, Tone and colour.} other {Reduce its noise, or take another picture of it.}}",
};
