/** Files that claim much, unpack to much or are something else (tests/support/bombs.py), each given to the command line by itself. */
import { runSupport, temporaryFolder } from "../../support/python";

interface Given {
  code: number;
  said: string;
  memory: number;
  seconds: number;
}
const given = runSupport<Record<string, Given>>("bombs.py", [temporaryFolder()]);
/** Read all the same: what is wrong with them lies beside their pixels. */
const READ = ["directories.tif", "profile.png"];

it.each(Object.entries(given))("%s: one sentence, little memory, little time", (name, { code, said, memory, seconds }) => {
  expect(code).toBe(READ.includes(name) ? 0 : 1);
  if (code !== 0) expect(said.replace(/^(marsh|\/[^:]*): /, "")).toMatch(/^[A-Z].{15,200}\.$/);
  expect(said).not.toMatch(/Error|undefined|null|stack|at .*\.ts/);
  expect(memory).toBeLessThan(2 * 1024 ** 3);
  expect(seconds).toBeLessThan(20);
});
