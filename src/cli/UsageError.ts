/** The command was called wrongly; the message says how it should be. */
export class UsageError extends Error {
  override readonly name = "UsageError";
}
