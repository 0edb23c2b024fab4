import { openJobOrNone } from "./openJob";
import { notify, useSession } from "./store";

/** Has the browser keep the application, so that it works without a network; a newer one that was fetched waits until the person takes it. */
export async function keepOffline(container: ServiceWorkerContainer): Promise<void> {
  const registration = await container.register("/offline.js");
  let controlled = container.controller !== null;
  container.addEventListener("controllerchange", () => {
    // the first one begins beside what it keeps; a newer one lets what this tab began with go
    if (controlled) begun();
    controlled = true;
  });
  const offer = () => {
    const { waiting } = registration;
    // the first one does not wait: there is nothing older at work
    if (waiting && container.controller) useSession.setState({ takeNewer: () => void takeOver(waiting) });
  };
  offer();
  registration.addEventListener("updatefound", () => {
    const coming = registration.installing;
    coming?.addEventListener("statechange", () => coming.state === "installed" && offer());
  });
}

/** The tab in which the newer application was asked for. */
let asked = false;

/** Everything is stored first; then the newer application begins, here at once, in other tabs when the person reloads them. */
async function takeOver(newer: ServiceWorker): Promise<void> {
  const job = openJobOrNone();
  if (job && !(await job.flush())) {
    notify("job.notStoredForUpdate");
    return;
  }
  asked = true;
  newer.postMessage("takeOver");
}

function begun(): void {
  if (asked) location.reload();
  else notify("tab.newer");
}
