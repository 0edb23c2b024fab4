/** @jest-environment jsdom */
import { act, fireEvent, render, screen, within } from "@testing-library/react";
import { useSession } from "../session/store";
import { KEYS_AT_FIRST, resetKeys, switchKeys, useKeys } from "../view/keys";
import { usePanels } from "../view/panels";
import { FindAction } from "./FindAction";
import { KeySheet } from "./KeySheet";
import { useKeyboard } from "./useKeyboard";

// the browser of the tests has none; ids here need no escape
Object.assign(globalThis, { CSS: { escape: (id: string) => id } });
const press = (key: string, held: object = {}) => act(() => void fireEvent.keyDown(document.activeElement ?? document.body, { key, ...held }));
const keyOf = (name: RegExp) => screen.getByRole("button", { name });
const choose = (name: RegExp) => {
  fireEvent.keyDown(keyOf(name), { key: "Enter" });
  fireEvent.keyUp(keyOf(name), { key: "Enter" });
};
const onClose = jest.fn();
beforeEach(() => {
  onClose.mockClear();
  switchKeys(true);
  resetKeys();
});

describe("the sheet of keys", () => {
  it("gives an act another key, and says whose it was and what that one has now", () => {
    render(<KeySheet isOpen onClose={onClose} />);
    choose(/^Key for Logbook: l$/);
    press("u");
    expect(useKeys.getState().of).toMatchObject({ logbook: "u", undo: "l" });
    expect(screen.getByRole("status").textContent).toBe("u was the key of “Undo”, which has l now.");
    expect(keyOf(/^Key for Redo: Shift u$/).textContent).toBe("Shift u");
    act(() => keyOf(/as they were at first/).click());
    expect(useKeys.getState().of).toEqual(KEYS_AT_FIRST);
  });

  it("Esc leaves the key as it is and the sheet open; Delete takes the key away; what cannot be a key is refused", () => {
    render(<KeySheet isOpen onClose={onClose} />);
    choose(/^Key for Logbook/);
    fireEvent.keyDown(screen.getByRole("dialog"), { key: "Escape" });
    expect([useKeys.getState().of.logbook, onClose.mock.calls.length]).toEqual(["l", 0]);
    choose(/^Key for Logbook/);
    press(" ");
    expect(screen.getByRole("status").textContent).toMatch(/^Space cannot be given/);
    press("Delete");
    expect(useKeys.getState().of.logbook).toBe("");
    expect(keyOf(/^Key for Logbook/).textContent).toBe("none");
    fireEvent.keyDown(screen.getByRole("dialog"), { key: "Escape" });
    expect(onClose).toHaveBeenCalledTimes(1);
  });

  it("each act stands on it once", () => {
    render(<KeySheet isOpen onClose={onClose} />);
    const rows = within(screen.getByRole("table", { name: "Keys" })).getAllByRole("button");
    expect(rows).toHaveLength(Object.keys(KEYS_AT_FIRST).length);
  });
});

describe("keys everywhere", () => {
  function Keyed({ sheetOpen = false, set = jest.fn() }) {
    useKeyboard(sheetOpen, set);
    return (
      <>
        <input aria-label="Name" />
        <button>Plain</button>
      </>
    );
  }
  const isFolded = () => usePanels.getState().ledger.folded;
  beforeEach(() => useSession.setState({ jobId: "job" }));
  afterEach(() => useSession.setState({ jobId: null }));

  it("an act follows its key, not while something is typed, a sheet is open, Ctrl is held or no job is open", () => {
    const { rerender } = render(<Keyed />);
    const before = isFolded();
    press("q");
    expect(isFolded()).toBe(!before);
    press("q", { ctrlKey: true });
    screen.getByLabelText("Name").focus();
    press("q");
    screen.getByRole("button").focus();
    rerender(<Keyed sheetOpen />);
    press("q");
    rerender(<Keyed />);
    useSession.setState({ jobId: null });
    press("q");
    expect(isFolded()).toBe(!before);
    useSession.setState({ jobId: "job" });
    act(() => void useKeys.setState({ of: { ...KEYS_AT_FIRST, foldLedger: "z" } }));
    press("q");
    expect(isFolded()).toBe(!before);
    press("z");
    expect(isFolded()).toBe(before);
  });

  it("Ctrl O lets files be chosen, in a field too; Ctrl Z stays the field's", () => {
    const chosen = jest.spyOn(HTMLInputElement.prototype, "click").mockImplementation(() => undefined);
    render(<Keyed />);
    screen.getByLabelText("Name").focus();
    expect(fireEvent.keyDown(screen.getByLabelText("Name"), { key: "o", ctrlKey: true })).toBe(false);
    expect(chosen).toHaveBeenCalledTimes(1);
    expect(fireEvent.keyDown(screen.getByLabelText("Name"), { key: "z", ctrlKey: true })).toBe(true);
    expect(fireEvent.keyDown(screen.getByRole("button"), { key: "z", ctrlKey: true })).toBe(false);
    chosen.mockRestore();
  });

  it("a list of actions shows the keys as they were given", () => {
    act(() => void useKeys.setState({ of: { ...KEYS_AT_FIRST, register: "y" } }));
    render(<FindAction isOpen onClose={onClose} />);
    expect(screen.getByText("Register the frames").nextElementSibling!.textContent).toBe("y");
    expect(screen.getByText("Save a copy as a job file").nextElementSibling!.textContent).toBe("Ctrl S");
    expect(screen.getByText("Undo").nextElementSibling!.textContent).toBe("u · Ctrl Z");
  });
});
