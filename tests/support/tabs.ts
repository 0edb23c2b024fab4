/** Tabs of one browser for tests of the session: each with modules of its own, all with one database, one set of locks and one channel. */
import { sentence } from "../../src/messages/sentence";
import "fake-indexeddb/auto";
import { IDBFactory } from "fake-indexeddb";
import type { CallOptions } from "../../src/workers/client/EngineClient";

type Granted = (lock: object | null) => unknown;

/** Web Locks, exclusive ones only. @see W3C Web Locks API, section 4 */
class Locks {
  private readonly held = new Set<string>();
  private readonly queues = new Map<string, (() => void)[]>();

  async request(name: string, options: { ifAvailable?: boolean; signal?: AbortSignal }, granted: Granted): Promise<unknown> {
    if (this.held.has(name)) {
      if (options.ifAvailable) return granted(null);
      await new Promise<void>((go, stop) => {
        const queue = this.queues.get(name) ?? [];
        this.queues.set(name, [...queue, go]);
        options.signal?.addEventListener("abort", () => {
          this.queues.set(
            name,
            (this.queues.get(name) ?? []).filter((g) => g !== go),
          );
          stop(Object.assign(new Error("aborted"), { name: "AbortError" }));
        });
      });
    }
    this.held.add(name);
    try {
      return await granted({});
    } finally {
      this.held.delete(name);
      const [next, ...rest] = this.queues.get(name) ?? [];
      this.queues.set(name, rest);
      next?.();
    }
  }
}

/** A call to the engine that a test answers when it likes. */
export interface Asked {
  name: string;
  params: Record<string, unknown>;
  signal?: AbortSignal;
  answer(result: unknown): Promise<void>;
  fail(error: Error): Promise<void>;
}

export interface Tab {
  jobs: typeof import("../../src/session/jobs");
  live: typeof import("../../src/session/live");
  open: typeof import("../../src/session/openJob");
  actions: typeof import("../../src/session/actions") &
    typeof import("../../src/session/gathering") &
    typeof import("../../src/session/comparing") &
    typeof import("../../src/session/demos") &
    typeof import("../../src/session/cutting") &
    typeof import("../../src/session/lighting") &
    typeof import("../../src/session/swapping") &
    typeof import("../../src/session/fitting") &
    typeof import("../../src/session/seating");
  store: typeof import("../../src/session/store");
  tabs: typeof import("../../src/session/tabs");
  navigation: typeof import("../../src/session/navigation");
  picturing: typeof import("../../src/session/picturing");
  jobStore: typeof import("../../src/storage/jobStore");
  /** calls that wait for an answer, in the order they came */
  asked: Asked[];
  /** the latest call of a name that waits */
  last(name: string): Asked;
  notices(): string[];
}

/** Lets everything happen that is due: promises, the database, messages between tabs. */
export async function settle(times = 12): Promise<void> {
  for (let i = 0; i < times; i++) await new Promise((go) => setTimeout(go, 2));
}

/** Calls that a test need not answer. */
const BY_ITSELF: Record<string, unknown> = { workOn: null, letRastersGo: null, rasterUse: null, checkLinks: [], measureEffect: null };

function freshBrowser(): void {
  Object.assign(globalThis, { indexedDB: new IDBFactory() });
  Object.defineProperty(globalThis, "navigator", { value: { locks: new Locks() }, configurable: true });
  Object.defineProperty(globalThis, "localStorage", {
    value: { getItem: () => null, setItem: () => undefined, removeItem: () => undefined },
    configurable: true,
  });
}

async function openTab(): Promise<Tab> {
  const asked: Asked[] = [];
  const call = (name: string, params: Record<string, unknown>, { signal }: CallOptions = {}) =>
    new Promise((resolve, reject) => {
      if (name in BY_ITSELF) return resolve(BY_ITSELF[name]);
      const gone = () => {
        const at = asked.findIndex((a) => a.params === params);
        if (at >= 0) asked.splice(at, 1);
      };
      const stop = () => (gone(), reject(Object.assign(new Error("Stopped."), { name: "CancelledError" })));
      if (signal?.aborted) return stop();
      signal?.addEventListener("abort", stop);
      asked.push({
        name,
        params,
        signal,
        answer: (result) => (gone(), resolve(result), settle()),
        fail: (error) => (gone(), reject(error), settle()),
      });
    });
  let tab!: Omit<Tab, "asked" | "last" | "notices">;
  await jest.isolateModulesAsync(async () => {
    jest.doMock("../../src/session/engine", () => ({ engine: { call, restart: () => undefined } }));
    tab = {
      jobs: await import("../../src/session/jobs"),
      live: await import("../../src/session/live"),
      open: await import("../../src/session/openJob"),
      actions: {
        ...(await import("../../src/session/actions")),
        ...(await import("../../src/session/gathering")),
        ...(await import("../../src/session/comparing")),
        ...(await import("../../src/session/demos")),
        ...(await import("../../src/session/cutting")),
        ...(await import("../../src/session/lighting")),
        ...(await import("../../src/session/swapping")),
        ...(await import("../../src/session/fitting")),
        ...(await import("../../src/session/seating")),
      },
      store: await import("../../src/session/store"),
      tabs: await import("../../src/session/tabs"),
      navigation: await import("../../src/session/navigation"),
      picturing: await import("../../src/session/picturing"),
      jobStore: await import("../../src/storage/jobStore"),
    };
  });
  return {
    ...tab,
    asked,
    last: (name) => {
      const found = asked.filter((a) => a.name === name).at(-1);
      if (!found) throw new Error(`Nothing asks for ${name}; waiting: ${asked.map((a) => a.name).join(", ")}`);
      return found;
    },
    notices: () => tab.store.useSession.getState().notices.map((n) => sentence(n.told)),
  };
}

/** Each test has a browser of its own; its tabs are closed after it. @returns what opens one */
export function openTabs(): () => Promise<Tab> {
  const tabs: Tab[] = [];
  beforeEach(freshBrowser);
  afterEach(async () => {
    for (const t of tabs.splice(0)) {
      await t.open.openJobOrNone()?.close(true);
      t.tabs.hangUp();
    }
  });
  return async () => {
    const made = await openTab();
    tabs.push(made);
    return made;
  };
}
