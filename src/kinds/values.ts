/** A value of an adjustment: its unit, the value that does nothing, and its limits. */
export interface MeasuredValue {
  unit: string;
  neutral: number;
  min: number;
  max: number;
  step: number;
  digits: number;
  /** shown value = value × scale */
  scale?: number;
  /** in use only while the value named here is larger than the place in its row */
  counted?: { by: string; place: number };
  /** one of so many things, by number from 0 */
  choice?: boolean;
}
export type MeasuredValues = Record<string, MeasuredValue>;

export const ev = (most: number): MeasuredValue => ({ unit: "EV", neutral: 0, min: -most, max: most, step: 0.05, digits: 2 });
export const share = (neutral: number, min = 0, max = 1): MeasuredValue => ({ unit: "%", neutral, min, max, step: 0.01, digits: 0, scale: 100 });
export const times = (): MeasuredValue => share(1, 0, 2);
export const degrees = (neutral: number, min: number, max: number): MeasuredValue => ({ unit: "°", neutral, min, max, step: 1, digits: 0 });
export const px = (neutral: number, max: number): MeasuredValue => ({ unit: "px", neutral, min: 0.3, max, step: 0.1, digits: 1 });
/** From black to white as encoded, 0..1. */
export const encoded = (neutral: number): MeasuredValue => ({ unit: "", neutral, min: 0, max: 1, step: 0.005, digits: 3 });
/** Shift of the light towards warm, mired, and towards magenta, Duv. */
export const mired = (): MeasuredValue => ({ unit: "mired", neutral: 0, min: -200, max: 200, step: 1, digits: 0 });
export const duv = (): MeasuredValue => ({ unit: "Duv", neutral: 0, min: -0.05, max: 0.05, step: 0.0005, digits: 4 });
export const count = (neutral: number, max: number): MeasuredValue => ({ unit: "", neutral, min: 2, max, step: 1, digits: 0 });
export const choice = (neutral: number, of: number): MeasuredValue => ({ unit: "", neutral, min: 0, max: of - 1, step: 1, digits: 0, choice: true });
/** 0 all, 1 red, 2 green, 3 blue. */
export const channel = (): MeasuredValue => choice(0, 4);

/** Values for each of a row of things, of which as many are in use as a value says. */
export function row(by: string, length: number, values: (place: number) => MeasuredValues): MeasuredValues {
  const places = Array.from({ length }, (_, place) =>
    Object.entries(values(place)).map(([name, value]) => [`${name}${place}`, { ...value, counted: { by, place } }] as const),
  );
  return Object.fromEntries(places.flat());
}

export const evRange = (neutral: number, min: number, max: number): MeasuredValue => ({ unit: "EV", neutral, min, max, step: 0.05, digits: 2 });
/** Of a row of frames, counted from 1. */
export const frames = (neutral: number, max: number): MeasuredValue => ({ unit: "", neutral, min: 0, max, step: 0.1, digits: 1 });
/** Light against white in steps of a tenth. */
export const evStep = (neutral: number, min: number, max: number): MeasuredValue => ({ unit: "EV", neutral, min, max, step: 0.1, digits: 1 });
