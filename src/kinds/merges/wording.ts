export interface MergeWords {
  name: string;
  /** the same where there is room for one word */
  word: string;
  /** what it gives, in a few words */
  gives: string;
  /** what to do, where it is proposed */
  call: string;
}
