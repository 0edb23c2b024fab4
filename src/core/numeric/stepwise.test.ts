/** Work in steps: the same at once and with rests, ended by what a rest throws, its shares put into those of the whole. */
import { asPart, atOnce, inSteps, type Stepwise } from "./stepwise";

function* sumTo(n: number, done: number[] = []): Stepwise<number> {
  let sum = 0;
  for (let i = 1; i <= n; i++) {
    yield i / (n + 1);
    done.push(i);
    sum += i;
  }
  return sum;
}

function* whole(): Stepwise<number> {
  const half = yield* asPart(sumTo(3), 0, 0.5);
  return half + (yield* asPart(sumTo(1), 0.5, 1));
}

it("gives the same at once and in steps", async () => {
  expect(atOnce(sumTo(10))).toBe(55);
  expect(await inSteps(sumTo(10), async () => undefined)).toBe(55);
});

it("tells shares of the whole, one after the other", async () => {
  const shares: number[] = [];
  expect(await inSteps(whole(), async (share) => void shares.push(share))).toBe(7);
  expect(shares).toEqual([0.125, 0.25, 0.375, 0.75]);
});

it("ends where a rest throws, and does no more", async () => {
  const done: number[] = [];
  let rests = 0;
  const rest = async () => {
    if (++rests === 3) throw new Error("stopped");
  };
  await expect(inSteps(sumTo(10, done), rest)).rejects.toThrow("stopped");
  expect(done).toEqual([1, 2]);
});
