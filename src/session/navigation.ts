import { readAddress, writeAddress } from "./address";
import { closeJob, openStoredJob, refreshJobs } from "./jobs";
import { openJobOrNone, setStage } from "./openJob";
import { mayShow, wasShown } from "./showing";
import { notify, useSession } from "./store";

/** The line of the browser that holds the address, with its history. */
export interface AddressLine {
  /** with its query */
  path(): string;
  push(path: string): void;
  replace(path: string): void;
  /** calls when the person goes back or forward @returns what ends that */
  onMove(moved: () => void): () => void;
}

/**
 * Keeps the address and what is shown the same: what is opened or gone to gets an address of its own, and an address that is gone to is opened. Nothing is fetched for it.
 * @param first opens something else before the address is looked at, as a demo; @returns true where it did @returns what ends it, once the first address is shown
 */
export async function navigate(line: AddressLine, first: () => Promise<boolean>): Promise<() => void> {
  const { getState: get } = useSession;
  /** addresses that are being gone to: while there are any, what is shown is on its way */
  let going = 0;
  let latest = 0;
  const shown = () => {
    const { jobId, stage, layerId, findingId } = get();
    return writeAddress(jobId === null ? { jobId } : { jobId, stage, layerId, findingId });
  };
  const settle = () => shown() !== line.path() && line.replace(shown());

  const go = async () => {
    const mine = ++latest;
    going++;
    try {
      await open(line.path());
    } finally {
      going--;
      if (mine === latest) settle();
    }
  };
  const ends = [
    useSession.subscribe((now, before) => {
      if (going > 0 || now.isSwitching || shown() === line.path()) return;
      if (now.jobId !== before.jobId || now.stage !== before.stage || before.isSwitching) line.push(shown());
      // what is looked at has an address, but going back does not step through all that was
      else if (now.layerId !== before.layerId || now.findingId !== before.findingId) line.replace(shown());
    }),
    line.onMove(() => void go()),
  ];
  going++;
  const begun = await first().finally(() => going--);
  if (begun) settle();
  else await go();
  return () => ends.forEach((end) => end());
}

async function open(path: string): Promise<void> {
  const address = readAddress(path);
  if (!address) notify("going.nothingHere");
  if (!address?.jobId) {
    if (openJobOrNone()) await closeJob();
    return;
  }
  const { jobId, stage, layerId, findingId } = address;
  if (openJobOrNone()?.id !== jobId) {
    if (!mayShow(jobId)) {
      notify("going.notDrawn");
      return;
    }
    if (!(await openStoredJob(jobId))) {
      wasShown();
      await refreshJobs();
      if (!useSession.getState().jobs.some((j) => j.id === jobId && j.removedAt === null)) notify("going.notInBrowser");
      return;
    }
  }
  if (openJobOrNone()?.id !== jobId) return;
  if (stage) setStage(stage);
  if (stage === "compose") useSession.setState({ layerId });
  if (stage === "proof") useSession.setState({ findingId, isFindingSought: findingId !== null });
}
