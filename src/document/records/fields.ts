import { array, mixed, number, string } from "yup";

export const finite = () =>
  number()
    .required()
    .test("finite", "${path} is not a finite number", (v) => Number.isFinite(v));
export const share = () => finite().min(0).max(1);
export const id = () => string().required().min(1).max(100);
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
  array(finite().integer().min(0).max(1_000_000))
    .required()
    .max(300_000)
    .test("triples", "${path} is not made of triples", (v) => Array.isArray(v) && v.length % 3 === 0);
export const cellPx = () => finite().integer().min(1).max(1024);
