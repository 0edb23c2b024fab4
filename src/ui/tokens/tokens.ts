/** All colours but accents are strictly achromatic, so that nothing beside the picture shifts the eye. L* in the comments. */
export const SURROUNDS = {
  middle: "#777777", // L* 50, viewing-booth practice (ISO 3664)
  dark: "#3a3a3a",
  light: "#b4b4b4",
  white: "#f4f4f4",
} as const;
export type Surround = keyof typeof SURROUNDS;

export const tokens = {
  panel: "#b9b9b9", // L* 75
  panelLow: "#adadad",
  field: "#c9c9c9",
  line: "#8c8c8c",
  lineStrong: "#5a5a5a",
  text: "#0c0c0c",
  textSoft: "#262626",
  disabled: "#6e6e6e",
  chosen: "#141414",
  onChosen: "#f2f2f2",
  action: "#033022",
  finding: "#4a2100",
  focus: "#000000",
  pictureText: "#f4f4f4",
  sans: '"IBM Plex Sans", "Liberation Sans", sans-serif',
  condensed: '"IBM Plex Sans Condensed", "IBM Plex Sans", "Liberation Sans Narrow", sans-serif',
  size: { small: "0.75rem", text: "0.8125rem", large: "0.9375rem", title: "1.25rem" },
  /** what a finger or a pointer hits: least height of a control, side of a small one, and by how much a control reaches beyond what is drawn (GlobalStyle) */
  hit: { target: "var(--target)", swatch: "var(--swatch)", beyond: "var(--beyond)" },
  /** where text is large for the window, by zoom or by the size a person has set: rows that stand side by side break */
  narrow: "@media (max-width: 56em)",
  layout: { title: 34, path: 54, pathThin: 28, ledger: 298, bench: 230, strip: 26, readout: 30, list: 460 },
} as const;

/** A length that grows with the text, given in px at the usual size. */
export const rem = (px: number): string => `${px / 16}rem`;
