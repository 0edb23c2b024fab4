/** What a view asks for, in every order that matters. */
import { SETTLE_MS, ViewScheduler } from "./ViewScheduler";

interface Asked {
  target: string;
  pass: "quick" | "exact";
  aborted(): boolean;
  /** the engine answers */
  answer(exact: boolean): Promise<void>;
  fail(message: string): Promise<void>;
}

function start() {
  const asked: Asked[] = [];
  const shown: string[] = [];
  const exact: boolean[] = [];
  const errors: string[] = [];
  const settle = async () => {
    for (let i = 0; i < 5; i++) await Promise.resolve();
  };
  const view = new ViewScheduler<string>({
    draw: (target, pass, signal) =>
      new Promise((resolve, reject) => {
        signal.addEventListener("abort", () => reject(new Error("stopped")));
        asked.push({
          target,
          pass,
          aborted: () => signal.aborted,
          answer: (isExact) => (shown.push(`${target} ${pass}`), resolve(isExact), settle()),
          fail: (message) => (reject(new Error(message)), settle()),
        });
      }),
    onError: (e) => errors.push((e as Error).message),
    onExact: (e) => exact.push(e),
  });
  return { view, asked, shown, exact, errors, settle };
}

beforeEach(() => void jest.useFakeTimers());
afterEach(() => void jest.useRealTimers());

it("during a drag one request runs at a time, every answer is shown, and what is wanted in between is left out", async () => {
  const { view, asked, shown } = start();
  view.want("a");
  for (const t of ["b", "c", "d"]) view.want(t);
  expect(asked.map((a) => a.target)).toEqual(["a"]);
  await asked[0].answer(false);
  expect(shown).toEqual(["a quick"]);
  expect(asked[1]).toMatchObject({ target: "d", pass: "quick" });
  view.want("e");
  expect(asked[1].aborted()).toBe(false);
  await asked[1].answer(false);
  expect(shown).toEqual(["a quick", "d quick"]);
  expect(asked[2]).toMatchObject({ target: "e", pass: "quick" });
});

it("the exact picture follows when the hand rests, and not before", async () => {
  const { view, asked, exact } = start();
  view.want("a");
  await asked[0].answer(false);
  jest.advanceTimersByTime(SETTLE_MS - 1);
  expect(asked).toHaveLength(1);
  jest.advanceTimersByTime(1);
  expect(asked[1]).toMatchObject({ target: "a", pass: "exact" });
  await asked[1].answer(true);
  expect(exact.at(-1)).toBe(true);
  jest.advanceTimersByTime(1000);
  expect(asked).toHaveLength(2);
});

it("an exact picture under way gives way to something newer at once; a quick one that is exact needs no other", async () => {
  const { view, asked, settle, exact } = start();
  view.want("a");
  await asked[0].answer(false);
  jest.advanceTimersByTime(SETTLE_MS);
  view.want("b");
  expect(asked[1].aborted()).toBe(true);
  await settle();
  expect(asked[2]).toMatchObject({ target: "b", pass: "quick" });
  await asked[2].answer(true);
  jest.advanceTimersByTime(1000);
  expect(asked).toHaveLength(3);
  expect(exact.at(-1)).toBe(true);
});

it("what fails is told once and not asked for again until something else is wanted", async () => {
  const { view, asked, errors } = start();
  view.want("a");
  await asked[0].fail("no frame");
  jest.advanceTimersByTime(1000);
  expect([errors, asked.length]).toEqual([["no frame"], 1]);
  view.want("b");
  expect(asked[1]).toMatchObject({ target: "b", pass: "quick" });
});

it("a view that is gone asks for nothing, and a stop is no failure", async () => {
  const { view, asked, errors, settle } = start();
  view.want("a");
  view.end();
  await settle();
  expect(asked[0].aborted()).toBe(true);
  view.want("b");
  jest.advanceTimersByTime(1000);
  expect([asked.length, errors]).toEqual([1, []]);
});
