import { array, mixed, number, object, string } from "yup";
import { isMessage, type Message } from "../../messages/message";

export const finite = () =>
  number()
    .required()
    .test("finite", "${path} is not a finite number", (v) => Number.isFinite(v));
export const share = () => finite().min(0).max(1);
export const id = () => string().required().min(1).max(100);
/** What a person is told, or null where that may be. */
export const told = () => mixed<Message>().test("message", "${path} is no message", (v) => v === null || v === undefined || isMessage(v));
/** A rectangle drawn on a picture, px: it may reach beyond it. */
export const box = () => object({ x: finite().min(-1e6).max(1e6), y: finite().min(-1e6).max(1e6), width: side(), height: side() });
const side = () => finite().min(1).max(1e6);
export const triple = () => array(finite()).length(3).required();
export const matrix = () => array(finite()).length(9).nullable().defined();
export const numbers = () =>
  mixed<Record<string, number>>()
    .required()
    .test(
      "numbers",
      "${path} is not a table of numbers",
      (v) => typeof v === "object" && v !== null && Object.values(v).every((n) => typeof n === "number" && Number.isFinite(n)),
    );

/** Runs of cells: row, first column, one past the last. @see core/masks/cellRuns */
export const cellRuns = () =>
  packed({ most: 300_000, from: 0, to: 1_000_000 })
    .test("triples", "${path} is not made of triples", (v) => Array.isArray(v) && v.length % 3 === 0)
    .test("cells", "${path} is not made of whole numbers", (v) => Array.isArray(v) && v.every(Number.isInteger));
export const cellPx = () => finite().integer().min(1).max(1024);

/** Many numbers in a row, such as the points of a stroke: checked by one loop, for a validator of each takes a thousand times as long. */
export function packed({ most, from, to }: { most: number; from: number; to: number }) {
  const sound = (values: unknown) => {
    if (!Array.isArray(values) || values.length > most) return false;
    for (const v of values as unknown[]) if (typeof v !== "number" || !(v >= from && v <= to)) return false;
    return true;
  };
  return mixed<number[]>((v): v is number[] => Array.isArray(v))
    .required()
    .test("packed", ({ path }) => `${path} must be at most ${most} numbers from ${from} to ${to}`, sound);
}
