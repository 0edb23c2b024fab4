/** @jest-environment jsdom */
import { act, renderHook } from "@testing-library/react";
import type { PictureTool } from "./pictureTool";
import { useMiddlePointer } from "./useMiddlePointer";

function held(tool: PictureTool | null) {
  return renderHook(({ x, y }) => useMiddlePointer(tool, { x, y }), { initialProps: { x: 10, y: 20 } });
}

function recorder() {
  const told: string[] = [];
  const tool: PictureTool = {
    cursor: "crosshair",
    down: ({ x, y }) => told.push(`down ${x},${y}`),
    move: (list) => told.push(...list.map(({ x, y }) => `move ${x},${y}`)),
    up: () => told.push("up"),
  };
  return { told, tool };
}

test("space presses in the middle, the picture moves under it, and letting go ends it", () => {
  const { told, tool } = recorder();
  const { result, rerender } = held(tool);
  act(() => expect(result.current.down({ key: " ", repeat: false, shiftKey: false })).toBe(true));
  // a key that is held comes again and again
  act(() => expect(result.current.down({ key: " ", repeat: true, shiftKey: false })).toBe(true));
  rerender({ x: 30, y: 20 });
  rerender({ x: 30, y: 50 });
  act(() => result.current.up({ key: " " }));
  rerender({ x: 90, y: 90 });
  expect(told).toEqual(["down 10,20", "move 30,20", "move 30,50", "up"]);
});

test("another key is none of its, and neither is space without a tool", () => {
  const { told, tool } = recorder();
  expect(held(tool).result.current.down({ key: "Enter", repeat: false, shiftKey: false })).toBe(false);
  expect(held(null).result.current.down({ key: " ", repeat: false, shiftKey: false })).toBe(false);
  expect(told).toEqual([]);
});

test("when the picture loses the keys the button is let go, once", () => {
  const { told, tool } = recorder();
  const { result } = held(tool);
  act(() => void result.current.down({ key: " ", repeat: false, shiftKey: false }));
  act(() => result.current.release());
  act(() => result.current.release());
  expect(told).toEqual(["down 10,20", "up"]);
});

test("with shift it is in the right one of two pictures, where the tool works on both", () => {
  const panes: number[] = [];
  const tool = (beside: boolean): PictureTool => ({
    cursor: "crosshair",
    beside,
    down: ({ pane }) => panes.push(pane),
    move: (list) => panes.push(list[0].pane),
  });
  const { result, rerender } = held(tool(true));
  act(() => void result.current.down({ key: " ", repeat: false, shiftKey: true }));
  rerender({ x: 30, y: 20 });
  act(() => result.current.up({ key: " " }));
  act(() => void result.current.down({ key: " ", repeat: false, shiftKey: false }));
  act(() => result.current.up({ key: " " }));
  const one = held(tool(false));
  act(() => void one.result.current.down({ key: " ", repeat: false, shiftKey: true }));
  expect(panes).toEqual([1, 1, 0, 0]);
});
