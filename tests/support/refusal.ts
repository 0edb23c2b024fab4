import { ToldError } from "../../src/messages/message";
import { sentence } from "../../src/messages/sentence";

const told = (error: unknown): string => {
  if (error instanceof ToldError) return sentence(error.told);
  throw error;
};

/** The sentence that a person is told where something is refused. @throws where it is not */
export function refusal(work: () => unknown): string {
  try {
    work();
  } catch (error) {
    return told(error);
  }
  throw new Error("It was not refused.");
}

/** The same of what comes later. */
export const laterRefusal = (work: Promise<unknown>): Promise<string> =>
  work.then(() => {
    throw new Error("It was not refused.");
  }, told);
