/** A value of an adjustment: what it is called, its unit, the value that does nothing, and its limits. */
export interface AdjustmentValue {
  name: string;
  unit: string;
  neutral: number;
  min: number;
  max: number;
  step: number;
  digits: number;
  /** shown value = value × scale */
  scale?: number;
  hint?: string;
  /** shown and in force only while the value named here is larger than the place in its row */
  counted?: { by: string; place: number };
}

export interface AdjustmentKind {
  name: string;
  /** what it does, in a sentence */
  does: string;
  values: Record<string, AdjustmentValue>;
}

const ev = (name: string, most: number, hint?: string): AdjustmentValue => ({
  name,
  unit: "EV",
  neutral: 0,
  min: -most,
  max: most,
  step: 0.05,
  digits: 2,
  hint,
});
const share = (name: string, neutral: number, min = 0, max = 1, hint?: string): AdjustmentValue => ({
  name,
  unit: "%",
  neutral,
  min,
  max,
  step: 0.01,
  digits: 0,
  scale: 100,
  hint,
});
const degrees = (name: string, neutral: number, min: number, max: number, hint?: string): AdjustmentValue => ({
  name,
  unit: "°",
  neutral,
  min,
  max,
  step: 1,
  digits: 0,
  hint,
});
const px = (name: string, neutral: number, max: number): AdjustmentValue => ({ name, unit: "px", neutral, min: 0.3, max, step: 0.1, digits: 1 });
const encoded = (name: string, neutral: number): AdjustmentValue => ({ name, unit: "", neutral, min: 0, max: 1, step: 0.005, digits: 3 });

/** Most zones, points of a tint and nodes of a curve. */
export const MOST_ZONES = 10;
export const MOST_TINTS = 8;
export const MOST_NODES = 16;
const count = (name: string, neutral: number, max: number): AdjustmentValue => ({ name, unit: "", neutral, min: 2, max, step: 1, digits: 0 });

/** Values for each of a row of things, of which as many are in force as a value says. */
function row(by: string, length: number, values: (place: number) => Record<string, AdjustmentValue>): Record<string, AdjustmentValue> {
  const places = Array.from({ length }, (_, place) =>
    Object.entries(values(place)).map(([name, value]) => [`${name}${place}`, { ...value, counted: { by, place } }] as const),
  );
  return Object.fromEntries(places.flat());
}
const CHANNEL: AdjustmentValue = { name: "Channel", unit: "", neutral: 0, min: 0, max: 3, step: 1, digits: 0, hint: "0 all, 1 red, 2 green, 3 blue." };

/** Ends of the logarithmic scale of a curve, EV against white. */
export const LOG_CURVE_EV = [-12, 4];
/** Where the points of a tint lie before they are moved, EV. */
const TINT_EV = [-7, -3.5, 0];
const TINT_HUES = [250, 40, 70];

/** All adjustments that a layer can be, in the order they are offered. */
export const LAYER_ADJUSTMENTS = {
  exposure: { name: "Exposure", does: "Multiplies light.", values: { ev: ev("Exposure", 8) } },
  zones: {
    name: "Tonal zones",
    does: "Zones between the darkest and the brightest light, each brightened by itself; hue and chroma stay.",
    values: {
      darkestEv: {
        name: "Darkest light",
        unit: "EV",
        neutral: -10,
        min: -16,
        max: -2,
        step: 0.1,
        digits: 1,
        hint: "Centre of the deepest zone, against white.",
      },
      brightestEv: { name: "Brightest light", unit: "EV", neutral: 0, min: -6, max: 10, step: 0.1, digits: 1, hint: "Centre of the brightest zone." },
      zones: count("Number of zones", 5, MOST_ZONES),
      ...row("zones", MOST_ZONES, (place) => ({ zone: ev(`Zone ${place + 1}`, 4) })),
    },
  },
  contrast: {
    name: "Contrast about a pivot",
    does: "Raises luminance to a power about a pivot.",
    values: {
      factor: { name: "Contrast", unit: "×", neutral: 1, min: 0.3, max: 3, step: 0.01, digits: 2 },
      pivot: { name: "Pivot", unit: "", neutral: 0.18, min: 0.01, max: 1, step: 0.01, digits: 2, hint: "Linear light that stays as it is." },
    },
  },
  curve: {
    name: "Curve",
    does: "Values through nodes of your own, by a curve that never turns back between them.",
    values: {
      channel: CHANNEL,
      log: { name: "Scale", unit: "", neutral: 0, min: 0, max: 1, step: 1, digits: 0, hint: "0 encoded, 1 log light." },
      nodes: count("Number of nodes", 2, MOST_NODES),
      ...row("nodes", MOST_NODES, (place) => ({
        x: encoded(`Node ${place + 1} from`, place === 0 ? 0 : 1),
        y: encoded(`Node ${place + 1} to`, place === 0 ? 0 : 1),
      })),
    },
  },
  levels: {
    name: "Levels",
    does: "Moves the ends of the encoded range, in and out.",
    values: {
      channel: CHANNEL,
      inLow: encoded("Black in", 0),
      inHigh: encoded("White in", 1),
      gamma: { name: "Exponent", unit: "", neutral: 1, min: 0.2, max: 5, step: 0.01, digits: 2 },
      outLow: encoded("Black out", 0),
      outHigh: encoded("White out", 1),
    },
  },
  whiteBalance: {
    name: "White balance",
    does: "Adapts to another light.",
    values: {
      mired: { name: "Warmth", unit: "mired", neutral: 0, min: -120, max: 120, step: 1, digits: 0 },
      duv: { name: "Magenta", unit: "Duv", neutral: 0, min: -0.03, max: 0.03, step: 0.0005, digits: 4 },
    },
  },
  chroma: {
    name: "Chroma",
    does: "Multiplies chroma (Oklch), less where it is strong already.",
    values: {
      factor: { name: "Chroma", unit: "%", neutral: 1, min: 0, max: 2, step: 0.01, digits: 0, scale: 100 },
      protect: share("Strong colours kept", 0.5),
    },
  },
  hueBand: {
    name: "Hue band",
    does: "One band of hues (Oklch): turned, more or less colourful, lighter or darker.",
    values: {
      hueDeg: degrees("Centre", 60, 0, 360),
      widthDeg: degrees("Width", 60, 10, 180, "Full strength in the inner half."),
      shiftDeg: degrees("Turned by", 0, -90, 90),
      factor: { name: "Chroma", unit: "%", neutral: 1, min: 0, max: 2, step: 0.01, digits: 0, scale: 100 },
      lightEv: ev("Light", 2),
    },
  },
  tint: {
    name: "Tint by tone",
    does: "Colour added at places of the tone scale, luminance kept.",
    values: {
      points: count("Number of places", 3, MOST_TINTS),
      ...row("points", MOST_TINTS, (place) => ({
        ev: { name: `Place ${place + 1}`, unit: "EV", neutral: TINT_EV[Math.min(place, 2)], min: -14, max: 6, step: 0.1, digits: 1 },
        hue: degrees("Hue there", TINT_HUES[Math.min(place, 2)], 0, 360),
        strength: share("Strength", 0),
      })),
    },
  },
  falloff: {
    name: "Light falloff",
    does: "Less or more light away from a centre.",
    values: {
      ev: ev("At the corners", 4),
      centreX: share("Centre across", 0.5),
      centreY: share("Centre down", 0.5),
      start: share("Begins at", 0.3, 0, 0.95, "Share of the way to the furthest corner that stays as it is."),
    },
  },
  detail: {
    name: "Contrast by detail size",
    does: "Detail of three sizes stronger or weaker, judged on log light.",
    values: {
      fine: share("Up to the first size", 0, -1, 2),
      finePx: px("First size", 2, 20),
      middle: share("Up to the second", 0, -1, 2),
      middlePx: px("Second size", 10, 100),
      coarse: share("Up to the third", 0, -1, 2),
      coarsePx: px("Third size", 50, 400),
    },
  },
  sharpen: {
    name: "Sharpening",
    does: "Adds what a blur takes away, on log light.",
    values: {
      amount: share("Amount", 0, 0, 3),
      radiusPx: px("Radius", 1, 20),
      thresholdEv: { name: "From", unit: "EV", neutral: 0, min: 0, max: 0.5, step: 0.005, digits: 3, hint: "Weaker differences are taken for noise." },
    },
  },
  highPass: {
    name: "High-pass",
    does: "Only detail up to a size, about mid grey and without colour; meant for a blend mode of contrast.",
    values: {
      amount: share("Amount", 0),
      radiusPx: px("Up to", 3, 100),
      gain: { name: "Contrast", unit: "×", neutral: 1, min: 0.1, max: 4, step: 0.05, digits: 2 },
    },
  },
  glow: {
    name: "Glow",
    does: "Light above a limit spreads around it.",
    values: {
      amount: share("Amount", 0, 0, 2),
      radiusPx: px("Radius", 40, 400),
      fromEv: { name: "From", unit: "EV", neutral: -1, min: -8, max: 4, step: 0.1, digits: 1 },
    },
  },
  haze: {
    name: "Haze",
    does: "An even veil of light taken away or laid on; give it a ramp or a depth as its mask.",
    values: {
      amount: share("Taken away", 0, -0.9, 0.9, "Below 0 it is laid on."),
      veilEv: { name: "Light of the veil", unit: "EV", neutral: -1.5, min: -8, max: 3, step: 0.1, digits: 1 },
      mired: { name: "Warmth of the veil", unit: "mired", neutral: 0, min: -120, max: 120, step: 1, digits: 0 },
    },
  },
  balance: {
    name: "Colour balance by tone",
    does: "Another light for the dark, the middle and the light tones.",
    values: Object.fromEntries(
      [
        ["dark", "Dark"],
        ["middle", "Middle"],
        ["light", "Light"],
      ].flatMap(([of, name]) => [
        [`${of}Mired`, { name: `${name}: warmth`, unit: "mired", neutral: 0, min: -120, max: 120, step: 1, digits: 0 }],
        [`${of}Duv`, { name: `${name}: magenta`, unit: "Duv", neutral: 0, min: -0.03, max: 0.03, step: 0.0005, digits: 4 }],
      ]),
    ) as Record<string, AdjustmentValue>,
  },
  noise: {
    name: "Noise reduction",
    does: "Differences that the noise explains are evened out, edges kept; brightness and colour apart.",
    values: {
      sigma: { name: "Noise", unit: "% σ", neutral: 0.01, min: 0.001, max: 0.1, step: 0.0005, digits: 2, scale: 100, hint: "Encoded, in even areas at 1:1." },
      light: { name: "Brightness", unit: "σ", neutral: 0, min: 0, max: 5, step: 0.1, digits: 1 },
      color: { name: "Colour", unit: "σ", neutral: 0, min: 0, max: 10, step: 0.1, digits: 1 },
    },
  },
  mono: {
    name: "Mono mix",
    does: "One grey from the three channels.",
    values: {
      amount: share("Amount", 0),
      red: share("Red", 0.2627, -1, 2),
      green: share("Green", 0.678, -1, 2),
      blue: share("Blue", 0.0593, -1, 2),
    },
  },
  invert: { name: "Inversion", does: "Encoded values from the other end.", values: { amount: share("Amount", 0) } },
} as const satisfies Record<string, AdjustmentKind>;

export type LayerAdjustment = keyof typeof LAYER_ADJUSTMENTS;
export const ADJUSTMENT_KINDS = LAYER_ADJUSTMENTS as Record<LayerAdjustment, AdjustmentKind>;

/** Values in force: neutral where none is given. */
export function valuesOf(adjustment: LayerAdjustment, given: Record<string, number>): Record<string, number> {
  const kinds = ADJUSTMENT_KINDS[adjustment].values;
  return Object.fromEntries(Object.entries(kinds).map(([name, { neutral }]) => [name, given[name] ?? neutral]));
}
