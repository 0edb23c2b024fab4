import { foldPanel, foldPanels, recallPanels, usePanels, usualWidth, widenPanel } from "./panels";

const held = new Map<string, string>();
const keeper = { getItem: (k: string) => held.get(k) ?? null, setItem: (k: string, v: string) => held.set(k, v) };
beforeAll(() => Object.defineProperty(globalThis, "localStorage", { configurable: true, value: keeper }));
const state = () => usePanels.getState();

it("panels fold singly and together, and come back together", () => {
  foldPanel("ledger");
  expect([state().ledger.folded, state().bench.folded]).toEqual([true, false]);
  foldPanels();
  expect([state().ledger.folded, state().bench.folded]).toEqual([false, false]);
  foldPanels();
  expect([state().ledger.folded, state().bench.folded]).toEqual([true, true]);
  foldPanels();
});

it("are never too narrow to read, and leave the picture half of the window", () => {
  widenPanel("bench", 40, 1600);
  expect(state().bench.width).toBe(220);
  widenPanel("bench", 4000, 1600);
  expect(state().bench.width).toBe(400);
});

it("are recalled as they were left; what was kept and is damaged counts for nothing", () => {
  held.set("marsh-panels", JSON.stringify({ ledger: { folded: true, width: 350 }, bench: { folded: 3, width: "x" } }));
  recallPanels();
  expect(state()).toEqual({ ledger: { folded: true, width: 350 }, bench: { folded: false, width: null } });
  foldPanel("ledger");
  expect(JSON.parse(held.get("marsh-panels")!)).toMatchObject({ ledger: { folded: false, width: 350 } });
  held.set("marsh-panels", "{");
  recallPanels();
  expect(state().ledger).toEqual({ folded: false, width: null });
});

it("a large window gives them some of the room that a 3:2 picture leaves, a smaller one nothing of the picture's", () => {
  expect([1024, 1280, 1920].map((w) => [usualWidth("ledger", w), usualWidth("bench", w)])).toEqual(Array(3).fill([298, 230]));
  const [width, height] = [2560, 1440 - 127];
  const beside = usualWidth("ledger", width) + usualWidth("bench", width);
  expect(beside).toBeGreaterThan(560);
  expect((width - beside) / (height * 1.5)).toBeGreaterThan(0.99);
});
