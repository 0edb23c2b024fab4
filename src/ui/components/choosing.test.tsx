/** @jest-environment jsdom */
import { act, fireEvent, render, screen, within } from "@testing-library/react";
import { memo, Profiler, useState } from "react";
import { Choices } from "./Choices";
import { Ledger, LedgerCell, LedgerRow } from "./Ledger";
import { Select } from "./Select";

// the browser of the tests has none; ids here need no escape but that of a digit in front
Object.assign(globalThis, { CSS: { escape: (id: string) => id.replace(/^(\d)/, "\\3$1 ") } });
const press = (key: string) => act(() => void fireEvent.keyDown(document.activeElement!, { key }));

describe("a ledger", () => {
  const onChoose = jest.fn();
  function Frames({ first }: { first: string | null }) {
    const [chosen, setChosen] = useState(first);
    return (
      <Ledger
        label="Frames"
        hasFields
        heads={["No.", "Shot"]}
        rows={["1", "2", "3"].map((id) => ({ id, isFixed: id === "3" }))}
        chosen={chosen}
        onChoose={(id) => (onChoose(id), setChosen(id))}
      >
        {["1", "2", "3"].map((id) => (
          <LedgerRow key={id} id={id}>
            <LedgerCell>{id}</LedgerCell>
            <LedgerCell>
              <input aria-label={`Note ${id}`} />
            </LedgerCell>
          </LedgerRow>
        ))}
      </Ledger>
    );
  }
  const rows = () =>
    within(screen.getByRole("grid", { name: "Frames" }))
      .getAllByRole("row")
      .slice(1);
  const selected = () => rows().map((row) => row.getAttribute("aria-selected"));
  beforeEach(() => onChoose.mockClear());

  it("says what is chosen, and is entered at it", () => {
    render(<Frames first="2" />);
    expect(selected().slice(0, 2)).toEqual(["false", "true"]);
    act(() => screen.getByRole("grid").focus());
    expect(document.activeElement).toBe(rows()[1]);
    expect(onChoose).not.toHaveBeenCalled();
  });

  it("arrows choose, a row out of use is passed over, letters do nothing", () => {
    render(<Frames first="1" />);
    act(() => screen.getByRole("grid").focus());
    press("ArrowDown");
    expect(onChoose.mock.calls).toEqual([["2"]]);
    press("ArrowDown");
    for (const letter of ["1", "n", " "]) press(letter);
    expect(onChoose.mock.calls).toEqual([["2"]]);
    press("ArrowUp");
    expect(selected().slice(0, 2)).toEqual(["true", "false"]);
  });

  it("what is typed into a field of a row stays there", () => {
    render(<Frames first="1" />);
    act(() => screen.getByRole("grid").focus());
    const note = screen.getByLabelText("Note 1");
    act(() => note.focus());
    // each is left to the field
    for (const key of ["a", " ", "ArrowLeft", "ArrowRight", "ArrowDown", "Home", "End"]) expect([key, fireEvent.keyDown(note, { key })]).toEqual([key, true]);
    expect(document.activeElement).toBe(note);
    expect(onChoose).not.toHaveBeenCalled();
  });
});

describe("of a long ledger", () => {
  const drawn: string[] = [];
  function Counted({ id }: { id: string }) {
    return (
      <Profiler id={id} onRender={() => void drawn.push(id)}>
        <LedgerRow id={id}>
          <LedgerCell>{id}</LedgerCell>
          <LedgerCell>shot</LedgerCell>
        </LedgerRow>
      </Profiler>
    );
  }
  const Row = memo(Counted);
  const IDS = Array.from({ length: 30 }, (_, i) => `f${i}`);
  const onChoose = jest.fn();
  function Long({ times }: { times: number }) {
    const [chosen, setChosen] = useState("f3");
    return (
      <Ledger label="Frames" heads={["No.", "Shot"]} rows={IDS.map((id) => ({ id }))} chosen={chosen} onChoose={(id) => (onChoose(id, times), setChosen(id))}>
        {IDS.map((id) => (
          <Row key={id} id={id} />
        ))}
      </Ledger>
    );
  }
  const row = (id: string) => screen.getByText(id).closest("tr")!;

  it("choosing a row draws the two it concerns, and no other", () => {
    render(<Long times={1} />);
    act(() => screen.getByRole("grid").focus());
    drawn.length = 0;
    press("ArrowDown");
    expect(row("f4").getAttribute("aria-selected")).toBe("true");
    expect(document.activeElement).toBe(row("f4"));
    expect([...new Set(drawn)].sort()).toEqual(["f3", "f4"]);
  });

  it("a row that was not drawn anew since calls what the ledger was given last", () => {
    const { rerender } = render(<Long times={1} />);
    rerender(<Long times={2} />);
    onChoose.mockClear();
    fireEvent.click(row("f20"));
    expect(onChoose.mock.calls).toEqual([["f20", 2]]);
    fireEvent.click(row("f3"));
    fireEvent.click(row("f20"));
    expect(IDS.filter((id) => row(id).getAttribute("aria-selected") === "true")).toEqual(["f20"]);
  });
});

it("letters pressed on what stands in a row go on to the application, left and right go along it", () => {
  const heard = jest.fn();
  const listen = ({ key }: KeyboardEvent) => heard(key);
  window.addEventListener("keydown", listen);
  render(
    <Ledger label="Layers" heads={["Layer", "Opacity"]} rows={[{ id: "a" }]} chosen="a" onChoose={() => undefined}>
      <LedgerRow id="a">
        <LedgerCell>Reeds</LedgerCell>
        <LedgerCell>
          <button>shown</button>
        </LedgerCell>
      </LedgerRow>
    </Ledger>,
  );
  act(() => screen.getByRole("grid").focus());
  press("u");
  press("ArrowRight");
  expect(document.activeElement).toBe(screen.getByText("shown"));
  press("u");
  window.removeEventListener("keydown", listen);
  expect(heard.mock.calls.filter(([key]) => key === "u")).toHaveLength(2);
});

it("choices are told as one of several; what is chosen cannot be taken away", () => {
  const onChoose = jest.fn();
  render(
    <Choices
      label="View"
      items={[
        { id: "a", label: "Result" },
        { id: "b", label: "Mask" },
        { id: "c", label: "Edge", isDisabled: true },
      ]}
      chosen="a"
      onChoose={onChoose}
    />,
  );
  const [a, b, c] = within(screen.getByRole("radiogroup", { name: "View" })).getAllByRole("radio");
  expect([a, b, c].map((r) => r.getAttribute("aria-checked"))).toEqual(["true", "false", "false"]);
  fireEvent.click(a);
  fireEvent.click(c);
  expect(onChoose).not.toHaveBeenCalled();
  fireEvent.click(b);
  expect(onChoose.mock.calls).toEqual([["b"]]);
});

it("choices let go of the keys after a press of the pointer, so that arrows move what is on the picture; reached by Tab they keep them", () => {
  const heard = jest.fn();
  const listen = ({ key }: KeyboardEvent) => heard(key);
  window.addEventListener("keydown", listen);
  const items = ["Move", "Turn"].map((label) => ({ id: label, label }));
  render(<Choices label="Tool" items={items} chosen="Move" onChoose={() => undefined} />);
  const [move, turn] = screen.getAllByRole("radio");
  act(() => move.focus());
  press("ArrowRight");
  expect(document.activeElement).toBe(turn);
  expect(heard).not.toHaveBeenCalled();
  // a click that keys made counts none
  fireEvent.click(turn, { detail: 0 });
  expect(document.activeElement).toBe(turn);
  fireEvent.click(turn, { detail: 1 });
  expect(document.activeElement).toBe(document.body);
  press("ArrowRight");
  expect(heard.mock.calls).toEqual([["ArrowRight"]]);
  window.removeEventListener("keydown", listen);
});

it("a select says its name and what is chosen, opens, and takes an empty name, too", () => {
  const onChoose = jest.fn();
  render(
    <Select
      label="Blends"
      items={[
        { id: "", label: "as below" },
        { id: "screen", label: "Screen" },
      ]}
      chosen="screen"
      onChoose={onChoose}
    />,
  );
  const opener = screen.getByRole("button", { name: "Screen Blends" });
  fireEvent.click(opener);
  const options = screen.getAllByRole("option");
  expect(options.map((o) => [o.textContent, o.getAttribute("aria-selected")])).toEqual([
    ["as below", "false"],
    ["Screen", "true"],
  ]);
  fireEvent.click(options[0]);
  expect(onChoose.mock.calls).toEqual([[""]]);
});
