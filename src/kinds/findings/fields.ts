/** What a finding of a kind tells: numbers and texts by name. */
export interface FindingRecord {
  values: Record<string, "number" | "text">;
  /** told apart and let through */
  isHarmless?: boolean;
}
