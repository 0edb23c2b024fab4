/** What kind of thing stands in the way. */
export type RefusalCode = "notRegistered" | "notPanorama" | "tooFewFrames" | "tooWide" | "gone" | "unclear" | "memory" | "notLoaded" | "notWritable";

/** Why something that was asked for cannot be done. `message` is one sentence for people. */
export class Refusal extends Error {
  override readonly name = "Refusal";
  constructor(
    readonly code: RefusalCode,
    message: string,
  ) {
    super(message);
  }
}
