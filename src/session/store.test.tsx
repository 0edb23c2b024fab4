/** @jest-environment jsdom */
import { act, render, screen } from "@testing-library/react";
import { usePartsOf, useSession } from "./store";

const drawn = { bench: 0, line: 0 };

function Bench() {
  const { isBusy, busyStage, records } = usePartsOf("isBusy", "busyStage", "records");
  drawn.bench++;
  return <p>{`${isBusy ? `busy in ${busyStage}` : "idle"}, ${Object.keys(records).length} records`}</p>;
}
function Line() {
  const busy = useSession((s) => s.busy);
  drawn.line++;
  return <p>{busy ? `${Math.round(100 * busy.share)} %` : ""}</p>;
}
const tick = (share: number) => act(() => useSession.setState({ busy: { stage: "merge", what: "task.merging", share, stop: () => undefined } }));

it("a tick of progress draws its own line and nothing else; the beginning, the end and another state draw what takes them", () => {
  render(
    <>
      <Bench />
      <Line />
    </>,
  );
  tick(0);
  expect(screen.getByText("busy in merge, 0 records")).toBeTruthy();
  const begun = { ...drawn };
  for (let share = 0.01; share < 1; share += 0.01) tick(share);
  expect(drawn.bench - begun.bench).toBe(0);
  expect(drawn.line - begun.line).toBeGreaterThan(90);
  act(() => useSession.setState({ busy: null }));
  act(() => useSession.setState({ saved: "saving" }));
  expect(drawn.bench - begun.bench).toBe(1);
  expect(screen.getByText("idle, 0 records")).toBeTruthy();
});
