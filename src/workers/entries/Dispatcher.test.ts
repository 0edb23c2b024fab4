/** What the worker answers, on a copy of the document that it is told of. */
import { newStroke } from "../../../tests/support/records";
import { DocumentSender } from "../../document/replica";
import type { Records } from "../../document/records/types";
import type { Task } from "../../engine/task";
import type { Request, Response } from "../protocol/requests";
import { Dispatcher, type Handlers } from "./Dispatcher";

function host(handlers: Record<string, (params: never, task: Task) => unknown>, failures = 0) {
  const sent: Response[] = [];
  let starts = 0;
  const dispatcher = new Dispatcher({
    start: async () => {
      if (starts++ < failures) throw new Error("The download failed.");
      return handlers as unknown as Handlers;
    },
    send: (response) => sent.push(response),
    yieldToEvents: () => new Promise((go) => setTimeout(go)),
  });
  const call = (id: number, name: string, params: Record<string, unknown> = {}) => dispatcher.receive({ id, name, params } as Request);
  return { dispatcher, sent, call, starts: () => starts };
}

it("a start that failed is tried again by the next call", async () => {
  const { call, sent, starts } = host({ shares: () => ({ a: 1 }) }, 1);
  await call(1, "shares");
  await call(2, "shares");
  await call(3, "shares");
  expect(sent).toEqual([
    { id: 1, error: { name: "Error", message: "The download failed." } },
    { id: 2, result: { a: 1 } },
    { id: 3, result: { a: 1 } },
  ]);
  expect(starts()).toBe(2);
});

it("a call works on the state it names, also when newer ones come while it runs", async () => {
  const seen: number[] = [];
  const { dispatcher, call } = host({
    shares: async ({ records }: { records: Records }, task: Task) => {
      await task.step(0, 1, "task.looking");
      seen.push((records.s as { index: number }).index);
      return {};
    },
  });
  const sender = new DocumentSender();
  const tell = async (index: number) => {
    const { revision, change } = sender.name({ s: newStroke({ index }) });
    if (change) await dispatcher.receive({ document: change });
    return { revision };
  };
  const first = call(1, "shares", { records: await tell(1) });
  for (let i = 2; i < 60; i++) await tell(i);
  await call(2, "shares", { records: await tell(60) });
  await first;
  expect(seen.sort()).toEqual([1, 60]);
});

it("a stop ends the call at its next step, and one that comes too late leaves nothing behind", async () => {
  const { dispatcher, call, sent } = host({
    shares: async (_p: never, task: Task) => {
      for (let i = 0; i < 100; i++) await task.step(i, 100, "task.merging");
      return {};
    },
  });
  const running = call(1, "shares");
  await dispatcher.receive({ id: 1, cancel: true });
  await running;
  expect(sent.at(-1)).toMatchObject({ id: 1, error: { name: "CancelledError" } });
  await dispatcher.receive({ id: 1, cancel: true });
  await call(1, "shares");
  expect(sent.at(-1)).toEqual({ id: 1, result: {} });
});

it("a message that it does not know gets a sentence", async () => {
  const { call, sent } = host({});
  await call(1, "nonsense");
  expect(sent).toMatchObject([{ id: 1, error: { name: "TypeError" } }]);
});
