import { ToldError, type Telling } from "../messages/message";

/** What kind of thing stands in the way. */
export type RefusalCode = "notRegistered" | "notPanorama" | "tooFewFrames" | "tooWide" | "gone" | "unclear" | "memory" | "notLoaded" | "notWritable";

/** Why something that was asked for cannot be done. */
export class Refusal extends ToldError {
  override readonly name = "Refusal";
  constructor(
    readonly code: RefusalCode,
    told: Telling,
  ) {
    super(told);
  }
}
