import { notify } from "./store";

/** Whether the system's share sheet takes a file. */
export const canShare = (file: File): boolean => typeof navigator.canShare === "function" && navigator.canShare({ files: [file] });

/** Hands a file to the system's share sheet. That the person closes it is no failure. */
export async function share(file: File): Promise<void> {
  try {
    await navigator.share({ files: [file] });
  } catch (error) {
    if ((error as Error).name !== "AbortError") notify("sharing.failed");
  }
}
