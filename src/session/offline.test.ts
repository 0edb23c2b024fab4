/** A newer application that was fetched: offered, taken by the person only, and told in the other tabs. */
import { sentence } from "../messages/sentence";
import { keepOffline } from "./offline";
import { useSession } from "./store";

class Target extends EventTarget {
  fire = (name: string) => this.dispatchEvent(new Event(name));
}
class Worker extends Target {
  state = "installing";
  said: string[] = [];
  postMessage = (text: string) => void this.said.push(text);
}
class Registration extends Target {
  waiting: Worker | null = null;
  installing: Worker | null = null;
}
class Container extends Target {
  controller: object | null = null;
  registration = new Registration();
  register = async () => this.registration;
}

const reload = jest.fn();
beforeEach(() => {
  reload.mockClear();
  useSession.setState({ takeNewer: null, notices: [] });
  Object.defineProperty(globalThis, "location", { configurable: true, value: { reload } });
});
const started = async (controlled: boolean) => {
  const container = new Container();
  container.controller = controlled ? {} : null;
  await keepOffline(container as unknown as ServiceWorkerContainer);
  return container;
};
/** A worker is fetched and, where another is at work, waits. */
function fetched({ registration, controller }: Container): Worker {
  const worker = new Worker();
  registration.installing = worker;
  registration.fire("updatefound");
  worker.state = "installed";
  registration.waiting = controller ? worker : null;
  worker.fire("statechange");
  return worker;
}
const notices = () => useSession.getState().notices.map((n) => sentence(n.told));

it("the first one begins by itself: nothing is offered, nothing is reloaded", async () => {
  const container = await started(false);
  fetched(container);
  container.fire("controllerchange");
  expect([useSession.getState().takeNewer, reload.mock.calls.length, notices()]).toEqual([null, 0, []]);
});

it("a newer one waits, is told in tabs that did not ask for it, and begins where it was asked for", async () => {
  const container = await started(true);
  const worker = fetched(container);
  expect(worker.said).toEqual([]);
  container.fire("controllerchange");
  expect([reload.mock.calls.length, notices().length]).toEqual([0, 1]);
  expect(notices()[0]).toMatch(/^A newer Marsh was begun in another tab/);
  useSession.getState().takeNewer!();
  await Promise.resolve();
  expect(worker.said).toEqual(["takeOver"]);
  container.fire("controllerchange");
  expect(reload).toHaveBeenCalledTimes(1);
});
