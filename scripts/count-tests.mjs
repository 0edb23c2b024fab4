// Prints "passed failed" of a runner's JSON report. A report that is missing or counts nothing is one failure.
import { existsSync, readFileSync } from "node:fs";

const file = process.argv[2];
let passed = 0;
let failed = 0;
if (existsSync(file)) {
  const report = JSON.parse(readFileSync(file, "utf8"));
  if (report.stats) {
    passed = report.stats.expected;
    failed = report.stats.unexpected + report.stats.flaky;
  } else {
    passed = report.numPassedTests;
    failed = report.numFailedTests + report.numRuntimeErrorTestSuites;
  }
}
if (passed + failed === 0) failed = 1;
process.stdout.write(`${passed} ${failed}\n`);
