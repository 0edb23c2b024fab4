/** @jest-environment jsdom */
import { act, fireEvent, render, screen } from "@testing-library/react";
import { MeasuredControl } from "./MeasuredControl";
import { percent, pixels, shutter, signed, withUnit } from "../format";

const base = { name: "Exposure", unit: "EV", value: 0.5, neutral: 0, min: -4, max: 4, step: 0.05, digits: 2 };

it("shows its value with its unit, and takes the proposal", () => {
  const onChange = jest.fn();
  render(<MeasuredControl {...base} proposal={{ value: 1.25, reason: "Meets the pin." }} onChange={onChange} />);
  expect((screen.getByRole("textbox", { name: "Exposure, EV" }) as HTMLInputElement).value).toBe("+0.50");
  expect(screen.getByText("Meets the pin.").tagName).toBe("SPAN");
  fireEvent.click(screen.getByRole("button", { name: "Take the proposal for Exposure" }));
  expect(onChange).toHaveBeenLastCalledWith(1.25);
  fireEvent.click(screen.getByRole("button", { name: "Reset Exposure" }));
  expect(onChange).toHaveBeenLastCalledWith(0);
});

it("offers neither where there is nothing to take or to reset", () => {
  render(<MeasuredControl {...base} value={0} proposal={{ value: 0, reason: "As it is." }} onChange={() => undefined} />);
  expect(screen.queryByRole("button", { name: /Take/ })).toBeNull();
  expect(screen.queryByRole("button", { name: /Reset/ })).toBeNull();
});

it("shows what was asked for while that is computed, and what came of it after", () => {
  const onChange = jest.fn();
  const { rerender } = render(<MeasuredControl {...base} onChange={onChange} />);
  const field = screen.getByRole("textbox", { name: "Exposure, EV" }) as HTMLInputElement;
  fireEvent.change(field, { target: { value: "2" } });
  fireEvent.blur(field);
  expect(onChange.mock.calls).toEqual([[2]]);
  rerender(<MeasuredControl {...base} isDisabled onChange={onChange} />);
  expect(field.value).toBe("+2.00");
  // it was stopped: the old value holds
  rerender(<MeasuredControl {...base} onChange={onChange} />);
  expect(field.value).toBe("+0.50");
});

describe("moved by the keyboard", () => {
  beforeEach(() => jest.useFakeTimers());
  afterEach(() => jest.useRealTimers());
  const press = (times: number) => {
    for (let i = 0; i < times; i++) fireEvent.keyDown(screen.getByRole("slider"), { key: "ArrowRight" });
  };

  it("a row of presses is shown at once and is one change", () => {
    const [onChange, onPreview] = [jest.fn(), jest.fn()];
    render(<MeasuredControl {...base} onChange={onChange} onPreview={onPreview} />);
    press(3);
    expect(onPreview).toHaveBeenLastCalledWith(expect.closeTo(0.65, 9));
    expect(onChange).not.toHaveBeenCalled();
    act(() => jest.advanceTimersByTime(1000));
    expect(onChange.mock.calls).toEqual([[expect.closeTo(0.65, 9)]]);
  });

  it("it is told when the control is left or another key is pressed, and only once", () => {
    const onChange = jest.fn();
    render(<MeasuredControl {...base} onChange={onChange} />);
    press(1);
    fireEvent.blur(screen.getByRole("slider"));
    expect(onChange.mock.calls).toEqual([[expect.closeTo(0.55, 9)]]);
    press(2);
    fireEvent.keyDown(screen.getByRole("slider"), { key: "z", ctrlKey: true });
    expect(onChange).toHaveBeenCalledTimes(2);
    act(() => jest.advanceTimersByTime(1000));
    expect(onChange).toHaveBeenCalledTimes(2);
  });

  it("a control that is gone tells nothing: what was open may be closed by then", () => {
    const onChange = jest.fn();
    const { unmount } = render(<MeasuredControl {...base} onChange={onChange} />);
    press(1);
    unmount();
    act(() => jest.advanceTimersByTime(1000));
    expect(onChange).not.toHaveBeenCalled();
  });
});

it("figures: true minus, narrow space before units, no more digits than can be used", () => {
  expect(signed(-1.25, 1)).toBe("\u22121.3");
  expect(signed(0.001, 2)).toBe("0.00");
  expect(percent(0.0004)).toBe("<0.1\u202f%");
  expect(percent(0.437)).toBe("44\u202f%");
  expect(shutter(1 / 125)).toBe("1/125\u202fs");
  expect(pixels(24961664)).toBe("24\u202f961\u202f664");
  expect(withUnit("2", "px")).toBe("2\u202fpx");
});
