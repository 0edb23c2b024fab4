import { clock } from "./format";

it("a moment says its day where that is not today, and its year where that is another", () => {
  const now = new Date(2026, 10, 28, 15, 0);
  const at = (...of: [number, number, number, number, number]) => clock(new Date(...of).toISOString(), now);
  expect(at(2026, 10, 28, 14, 20)).toBe("14:20");
  expect(at(2026, 9, 28, 14, 20)).toBe("28 Oct, 14:20");
  expect(at(2025, 10, 28, 14, 20)).toBe("28 Nov 2025");
  expect(clock(null, now)).toBe("never");
});
