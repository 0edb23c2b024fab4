import { sentence } from "../messages/sentence";
import { create } from "zustand";
import { tokens } from "../ui/tokens/tokens";

export type PanelSide = "ledger" | "bench";
export const PANEL_NAMES: Record<PanelSide, string> = { ledger: sentence("view/ledger"), bench: sentence("view/bench") };

export interface Panel {
  folded: boolean;
  /** CSS px; null: as is usual for the window */
  width: number | null;
}
export type Panels = Record<PanelSide, Panel>;

/** A panel is never narrower, and leaves the picture at least half of the window, CSS px. */
const NARROWEST = 220;
const WIDEST_SHARE = 0.25;
/** By how much a key moves its edge, CSS px. */
export const PANEL_STEP = 16;

/** Of a window so wide that the picture's height limits it, share of its width. */
const USUAL_SHARES: Record<PanelSide, number> = { ledger: 0.125, bench: 0.105 };
const PLAIN: Panels = { ledger: { folded: false, width: null }, bench: { folded: false, width: null } };
const KEPT = "marsh-panels";

function kept(): Panels {
  try {
    const found = JSON.parse(localStorage.getItem(KEPT) ?? "null") as Partial<Panels> | null;
    const of = (side: PanelSide): Panel => {
      const { folded = false, width = null } = found?.[side] ?? {};
      return { folded: folded === true, width: Number.isFinite(width) ? Math.max(NARROWEST, width!) : null };
    };
    return { ledger: of("ledger"), bench: of("bench") };
  } catch {
    return PLAIN;
  }
}

/** How ledger and bench stand beside the picture; kept for the next time. The page is drawn before what was kept is known. */
export const usePanels = create<Panels>(() => PLAIN);

export function recallPanels(): void {
  usePanels.setState(kept());
  usePanels.subscribe((panels) => {
    try {
      localStorage.setItem(KEPT, JSON.stringify(panels));
    } catch {
      // a browser that keeps nothing begins anew
    }
  });
}

export const foldPanel = (side: PanelSide, folded = !usePanels.getState()[side].folded): void =>
  usePanels.setState((p) => ({ [side]: { ...p[side], folded } }));

/** Both away, or both there where one is away. */
export function foldPanels(): void {
  const { ledger, bench } = usePanels.getState();
  const folded = !(ledger.folded || bench.folded);
  foldPanel("ledger", folded);
  foldPanel("bench", folded);
}

/** How wide a panel is that nobody has made wider: a large window has room to spare beside the picture. @param windowWidth CSS px @returns CSS px */
export const usualWidth = (side: PanelSide, windowWidth: number): number => Math.round(Math.max(tokens.layout[side], windowWidth * USUAL_SHARES[side]));

/** @param windowWidth CSS px */
export function widenPanel(side: PanelSide, width: number, windowWidth: number): void {
  const held = Math.round(Math.max(NARROWEST, Math.min(Math.max(tokens.layout[side], windowWidth * WIDEST_SHARE), width)));
  usePanels.setState((p) => ({ [side]: { ...p[side], width: held } }));
}
