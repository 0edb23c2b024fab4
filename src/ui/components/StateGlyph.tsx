"use client";
import { tokens } from "../tokens/tokens";

export type GlyphState = "notUsed" | "notBegun" | "working" | "finding" | "clear";

/** State by shape: dash not used, ring not begun, half ring working, diamond open finding, disc clear. */
export function StateGlyph({ state }: { state: GlyphState }) {
  const shapes = {
    notUsed: <rect x="1" y="5" width="10" height="2" fill={tokens.text} />,
    notBegun: <circle cx="6" cy="6" r="4.2" fill="none" stroke={tokens.text} strokeWidth="1.6" />,
    working: <path d="M6 1.8 A4.2 4.2 0 0 1 6 10.2" fill="none" stroke={tokens.text} strokeWidth="2.2" />,
    finding: <path d="M6 0.8 L11.2 6 L6 11.2 L0.8 6 Z" fill={tokens.finding} />,
    clear: <circle cx="6" cy="6" r="5" fill={tokens.text} />,
  };
  return (
    <svg width="12" height="12" viewBox="0 0 12 12" aria-hidden="true" style={{ flex: "none" }}>
      {shapes[state]}
    </svg>
  );
}
