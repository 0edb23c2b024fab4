/** @jest-environment jsdom */
/** What a hand does on the picture is followed by the picture alone: nothing else of the stage is rendered until it is lifted. */
import { renderHook } from "@testing-library/react";
import type { Edit } from "../../document/edits";
import { addLayer, paintedMask } from "../../document/layerEdits";
import { freshMask } from "../../document/records/layerTypes";
import type { Records } from "../../document/records/types";
import { layerOf, strokesOf } from "../../document/selectors";
import type { MaskPart } from "../../kinds/maskParts/records";
import type { JobScope } from "../../session/JobScope";
import { useLive } from "../../session/live";
import { setOpenJob } from "../../session/openJob";
import type { PicturePointer } from "../../view/pictureTool";
import { useDrawn, useShape } from "./useShape";
import { useStroke } from "./useStroke";

const at = (x: number, y: number): PicturePointer => ({ x, y, pressure: 1, eraser: false, pane: 0 });
const ellipse = { id: "e", kind: "ellipse", combine: "add", inverted: false, featherPx: 0, cx: 0, cy: 0, rx: 1, ry: 1, angleDeg: 0 } as MaskPart;
const content = { type: "adjustment" as const, adjustment: "exposure" as const, values: { ev: 1 } };
const records: Records = addLayer({ id: "b", name: "B", content, mask: freshMask(0, [ellipse]) })(
  addLayer({ id: "a", name: "A", content, mask: paintedMask(0, "p") })({}),
);
const layer = layerOf(records, "a")!;

const edit = jest.fn<boolean, [Edit]>(() => true);
beforeAll(() => setOpenJob({ isOpen: true, edit } as unknown as JobScope));
beforeEach(() => edit.mockClear());

it("a stroke is shown live point by point and becomes one step; the stage is rendered once", () => {
  let renders = 0;
  const done = jest.fn();
  const { result } = renderHook(() => (renders++, useStroke(layer, layer.mask.parts[0] as MaskPart, records, false, done)));
  result.current.down(at(10, 10));
  for (let x = 11; x <= 30; x++) result.current.move([at(x, 10)]);
  const shown = useLive.getState().edit!(records);
  expect(strokesOf(shown, "a").map((s) => s.points.length / 3)).toEqual([21]);
  expect(edit).not.toHaveBeenCalled();
  result.current.up();
  expect(renders).toBe(1);
  expect(useLive.getState().edit).toBeNull();
  const [[change]] = edit.mock.calls;
  expect(strokesOf(change(records), "a")).toEqual([done.mock.calls[0][0]]);
  expect(done.mock.calls[0][0].points.slice(-3)).toEqual([30, 10, 1]);
});

it("a shape is drawn the same way", () => {
  let renders = 0;
  const { result, unmount } = renderHook(() => (renders++, useShape(layerOf(records, "b")!, ellipse, false)));
  result.current.down(at(100, 100));
  for (let k = 1; k <= 20; k++) result.current.move([at(100 + k, 100 + k)]);
  expect(useDrawn.getState().part).toMatchObject({ id: "e", kind: "ellipse" });
  result.current.up();
  expect([renders, useDrawn.getState().part]).toEqual([1, null]);
  const part = layerOf(edit.mock.calls[0][0](records), "b")!.mask.parts[0] as typeof ellipse & { rx: number };
  expect(part.rx).toBeGreaterThan(5);
  // left in the middle of another one, nothing of it stays
  result.current.down(at(10, 10));
  result.current.move([at(40, 40)]);
  expect(useDrawn.getState().part).not.toBeNull();
  unmount();
  expect([useDrawn.getState().part, edit.mock.calls.length]).toEqual([null, 1]);
});
