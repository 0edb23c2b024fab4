import type { FindingWords } from "../wording";

export const turnedMask: FindingWords = {
  name: "Inverted masks",
  title: 'The mask of "{layer}" looks the wrong way round',
  sentence:
    "{how, select, inverted {{strokes, plural, one {Its stroke reveals} other {All # strokes reveal}}, and the mask is inverted: the layer shows everywhere but there.} revealedAlready {{strokes, plural, one {Its stroke reveals, on a mask that is revealed already: it does nothing.} other {All # strokes reveal, on a mask that is revealed already: they do nothing.}}} other {{strokes, plural, one {Its stroke conceals, on a mask that is concealed already: it does nothing.} other {All # strokes conceal, on a mask that is concealed already: they do nothing.}}}}",
};
