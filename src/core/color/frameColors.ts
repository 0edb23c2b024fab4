/** Colours that tell frames apart in the provenance map: equal lightness steps around the hue circle, always with a number beside. */
export const FRAME_COLORS: readonly (readonly [number, number, number])[] = [
  [86, 120, 190],
  [58, 150, 160],
  [110, 150, 70],
  [190, 140, 50],
  [200, 100, 80],
  [170, 90, 150],
  [120, 110, 200],
  [90, 140, 110],
];
