export interface SetKindWords {
  name: string;
  /** what it is for, in one sentence */
  purpose: string;
}
