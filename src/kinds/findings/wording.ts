/** Messages in ICU syntax, filled in with the values of a finding. */
export interface FindingWords {
  /** what findings of the kind are called together */
  name: string;
  title: string;
  sentence: string;
}
