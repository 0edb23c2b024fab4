import { openJobOrNone } from "./openJob";
import { useSession } from "./store";

/** Has the browser keep the application, so that it works without a network; a newer one that was fetched waits until the person takes it. */
export async function keepOffline(container: ServiceWorkerContainer): Promise<void> {
  const registration = await container.register("/offline.js");
  const offer = () => {
    const { waiting } = registration;
    // the first one does not wait: there is nothing older at work
    if (waiting && container.controller) useSession.setState({ takeNewer: () => void takeOver(container, waiting) });
  };
  offer();
  registration.addEventListener("updatefound", () => {
    const coming = registration.installing;
    coming?.addEventListener("statechange", () => coming.state === "installed" && offer());
  });
}

/** Everything is stored first; then the newer application begins. */
async function takeOver(container: ServiceWorkerContainer, newer: ServiceWorker): Promise<void> {
  const job = openJobOrNone();
  if (job && !(await job.flush())) return;
  container.addEventListener("controllerchange", () => location.reload(), { once: true });
  newer.postMessage("takeOver");
}
