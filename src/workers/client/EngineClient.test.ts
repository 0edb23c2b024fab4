import type { Request, Response } from "../protocol/requests";
import { EngineClient, isCancelled } from "./EngineClient";

class FakeWorker {
  onmessage: ((e: { data: Response }) => void) | null = null;
  onerror: ((e: { message: string }) => void) | null = null;
  posted: Request[] = [];
  terminated = false;
  postMessage(m: Request) {
    this.posted.push(m);
  }
  terminate() {
    this.terminated = true;
  }
  answer(response: Response) {
    this.onmessage!({ data: response });
  }
}

function start() {
  const workers: FakeWorker[] = [];
  const client = new EngineClient(() => {
    workers.push(new FakeWorker());
    return workers.at(-1) as unknown as Worker;
  });
  return { client, workers };
}

it("matches answers to requests and hands progress on", async () => {
  const { client, workers } = start();
  const progress = jest.fn();
  const first = client.call("measureExposures", { frames: [] }, { onProgress: progress });
  const second = client.call("measureExposures", { frames: [] });
  workers[0].answer({ id: 1, progress: { share: 0.5, what: "task.merging" } });
  workers[0].answer({ id: 2, result: { b: 2 } });
  workers[0].answer({ id: 1, result: { a: 1 } });
  expect(await first).toEqual({ a: 1 });
  expect(await second).toEqual({ b: 2 });
  expect(progress).toHaveBeenCalledWith(0.5, "task.merging");
});

it("an abort is sent on, and comes back as cancelled", async () => {
  const { client, workers } = start();
  const controller = new AbortController();
  const call = client.call("measureExposures", { frames: [] }, { signal: controller.signal });
  controller.abort();
  expect(workers[0].posted.at(-1)).toEqual({ id: 1, cancel: true });
  workers[0].answer({ id: 1, error: { name: "CancelledError", message: "Stopped." } });
  await call.catch((e) => expect(isCancelled(e)).toBe(true));
  await client.call("measureExposures", { frames: [] }, { signal: controller.signal }).catch((e) => expect(isCancelled(e)).toBe(true));
});

it("a long task that does not stop is ended with its worker; what is only looked at is waited for", async () => {
  jest.useFakeTimers();
  const { client, workers } = start();
  const controller = new AbortController();
  const view = client.call("measureExposures", { frames: [] }, { signal: controller.signal });
  controller.abort();
  await jest.advanceTimersByTimeAsync(60_000);
  expect(workers[0].terminated).toBe(false);
  const stopped = new AbortController();
  const task = client.call("measureExposures", { frames: [] }, { signal: stopped.signal, onProgress: () => undefined });
  stopped.abort();
  const both = Promise.allSettled([view, task]);
  await jest.advanceTimersByTimeAsync(60_000);
  expect(workers[0].terminated).toBe(true);
  expect((await both).map((r) => r.status)).toEqual(["rejected", "rejected"]);
  const next = client.call("measureExposures", { frames: [] });
  workers[1].answer({ id: 3, result: { c: 3 } });
  expect(await next).toEqual({ c: 3 });
  jest.useRealTimers();
});

it("a worker that dies is replaced, and what waited gets a sentence", async () => {
  const { client, workers } = start();
  const call = client.call("measureExposures", { frames: [] });
  workers[0].onerror!({ message: "out of memory" });
  await expect(call).rejects.toMatchObject({ told: { code: "engine.restarted", values: { why: "out of memory" } } });
  expect(workers[0].terminated).toBe(true);
  void client.call("measureExposures", { frames: [] });
  expect(workers).toHaveLength(2);
});
