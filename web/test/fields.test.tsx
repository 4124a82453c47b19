/** @jest-environment jsdom */
import "./setup.ts";
import { act, fireEvent, render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { useState } from "react";
import { KeptInput } from "../src/build/fields.tsx";
import { readTime } from "../src/ui/readTime.ts";
import { Checkbox } from "../src/ui/Checkbox.tsx";
import { Choice } from "../src/ui/Choice.tsx";
import { DateField, readDate } from "../src/ui/DateField.tsx";
import { SearchedChoice } from "../src/ui/SearchedChoice.tsx";
import { Slider } from "../src/ui/Slider.tsx";
import { moved } from "../src/ui/sorting.ts";
import { TimeField } from "../src/ui/TimeField.tsx";
import { Tips } from "../src/ui/Tips.tsx";
import { ToggleGroup } from "../src/ui/ToggleGroup.tsx";
import { numberWithin, useKept } from "../src/ui/useKept.ts";

/** Shows a field that keeps what it is given, and tells what that is. */
function keeping<T>(first: T, field: (value: T, set: (value: T) => void) => React.ReactNode): { value: () => T } {
  let now = first;
  function Field() {
    const [value, set] = useState(first);
    now = value;
    return <>{field(value, set)}</>;
  }
  render(<Field />);
  return { value: () => now };
}

test("a date is typed as people write it; text that is none stays, and the old one holds", async () => {
  const user = userEvent.setup();
  const { value } = keeping("2026-06-03", (v, set) => <DateField label="First day" value={v} onChange={set} />);
  const field = screen.getByLabelText("First day") as HTMLInputElement;
  expect(field.value).toBe("3 Jun 2026");
  await user.clear(field);
  await user.type(field, "5 August 2026");
  expect(value()).toBe("2026-08-05");
  await user.clear(field);
  await user.type(field, "31 Feb 2026");
  await user.tab();
  expect(field.value).toBe("31 Feb 2026");
  expect(field.getAttribute("aria-invalid")).toBe("true");
  expect(value()).toBe("2026-08-05");
});

test("a date is chosen from a month by keyboard alone", async () => {
  const user = userEvent.setup();
  const { value } = keeping("2026-06-30", (v, set) => <DateField label="First day" value={v} onChange={set} />);
  act(() => screen.getByLabelText("First day").focus());
  await user.keyboard("{ArrowDown}");
  // A week back, a day on, and then past the end of the month.
  await user.keyboard("{ArrowUp}{ArrowRight}{Enter}");
  expect(value()).toBe("2026-06-24");
  expect(screen.queryByRole("grid")).toBeNull();
  act(() => screen.getByLabelText("First day").focus());
  await user.keyboard("{ArrowDown}{ArrowDown}{Enter}");
  expect(value()).toBe("2026-07-01");
});

test.each([
  ["2026-02-28", "2026-02-28"],
  ["28.2.2026", "2026-02-28"],
  [" 1 Mar 2026 ", "2026-03-01"],
  ["30 Feb 2026", undefined],
  ["next week", undefined],
  ["", undefined],
])("the date in %j is %j", (text, date) => expect(readDate(text)).toBe(date));

test("a time of day is read as it is typed, and the old one holds while it cannot be", async () => {
  const user = userEvent.setup();
  const { value } = keeping("08:00", (v, set) => <TimeField label="From" value={v} onChange={set} />);
  const field = screen.getByLabelText("From") as HTMLInputElement;
  await user.clear(field);
  await user.type(field, "6.30 pm");
  expect(value()).toBe("18:30");
  await user.clear(field);
  await user.type(field, "25");
  expect(value()).toBe("02:00");
  expect(field.getAttribute("aria-invalid")).toBe("true");
});

test("a choice may be empty, tells what is chosen, and says that nothing is", async () => {
  const user = userEvent.setup();
  const options = [
    { value: "", label: "none" },
    { value: "a", label: "Harbour" },
  ];
  const { value } = keeping("a", (v, set) => <Choice label="Where" value={v} options={options} onChange={set} />);
  const field = screen.getByRole("combobox", { name: "Where" });
  expect(field.textContent).toBe("Harbour");
  await user.click(field);
  await user.click(screen.getByRole("option", { name: "none" }));
  expect(value()).toBe("");
  expect(field.textContent).toBe("none");
});

test("of a long list what is meant is found by typing part of it", async () => {
  const user = userEvent.setup();
  const options = ["Wait", "Line", "Utilization"].map((label, i) => ({ value: String(i), label, under: "Desk" }));
  const chosen: string[] = [];
  render(
    <SearchedChoice label="Add a measure" options={options} onChoose={(v) => chosen.push(v)}>
      Measure
    </SearchedChoice>,
  );
  await user.click(screen.getByRole("button", { name: "Add a measure" }));
  await user.keyboard("utiliz{Enter}");
  expect(chosen).toEqual(["2"]);
});

test("a box is ticked by its words and by Space; a slider goes by the arrow keys to its ends", async () => {
  const user = userEvent.setup();
  const { value } = keeping(false, (v, set) => (
    <Checkbox checked={v} onChange={set}>
      Shown
    </Checkbox>
  ));
  await user.click(screen.getByText("Shown"));
  expect(value()).toBe(true);
  await user.keyboard(" ");
  expect(value()).toBe(false);
  const slid = keeping(2, (v, set) => <Slider label="Speed" most={3} value={v} valueText={`${v} ×`} onChange={set} />);
  const thumb = screen.getByRole("slider", { name: "Speed" });
  act(() => thumb.focus());
  for (const key of ["ArrowRight", "ArrowRight"]) fireEvent.keyDown(thumb, { key });
  expect(slid.value()).toBe(3);
  expect(thumb.getAttribute("aria-valuetext")).toBe("3 ×");
});

test("an entry put in another's place moves the others up or down", () => {
  expect(moved(["a", "b", "c", "d"], 0, 2)).toEqual(["b", "c", "a", "d"]);
  expect(moved(["a", "b", "c", "d"], 3, 1)).toEqual(["a", "d", "b", "c"]);
});

test("a tip comes where the pointer stays or the keys come to, describes the thing, and goes with any key", () => {
  jest.useFakeTimers();
  try {
    render(
      <>
        <button data-tip="Runs one event">Step</button>
        <span data-tip="All of it" data-tip-cut="">
          short
        </span>
        <Tips />
      </>,
    );
    const button = screen.getByRole("button", { name: "Step" });
    const stay = (on: Element) => {
      fireEvent.pointerOver(on);
      act(() => void jest.advanceTimersByTime(1000));
    };
    stay(button);
    const tip = screen.getByRole("tooltip");
    expect(tip.textContent).toBe("Runs one event");
    expect(button.getAttribute("aria-describedby")).toBe(tip.id);
    fireEvent.keyDown(button, { key: "Escape" });
    expect(screen.queryByRole("tooltip")).toBeNull();
    expect(button.hasAttribute("aria-describedby")).toBe(false);
    // What is all to be seen needs no tip.
    stay(screen.getByText("short"));
    expect(screen.queryByRole("tooltip")).toBeNull();
  } finally {
    jest.useRealTimers();
  }
});

test("of a group of toggles one is always chosen", async () => {
  const user = userEvent.setup();
  const { value } = keeping("whole", (v, set) => (
    <ToggleGroup
      label="Part"
      value={v}
      options={[
        ["whole", "Whole"],
        ["view", "In view"],
      ]}
      onChange={set}
    />
  ));
  await user.click(screen.getByRole("radio", { name: "Whole" }));
  expect(value()).toBe("whole");
  await user.click(screen.getByRole("radio", { name: "In view" }));
  expect(value()).toBe("view");
});

test("what is typed in a number stays, right or wrong; the old one holds meanwhile, and what changes elsewhere is shown", async () => {
  const user = userEvent.setup();
  const told: number[] = [];
  let change: (value: number) => void = () => undefined;
  const SCHEMA = numberWithin(1, 100, true);
  function Field() {
    const [value, set] = useState(20);
    change = set;
    const kept = useKept({
      shown: String(value),
      schema: SCHEMA,
      onChange: (next) => {
        told.push(next);
        set(next);
      },
    });
    return (
      <>
        <input
          aria-label="Replications"
          value={kept.text}
          onChange={(event) => kept.onChange(event.target.value)}
          onBlur={kept.onBlur}
        />
        {kept.problem && <p role="alert">{kept.problem}</p>}
      </>
    );
  }
  render(<Field />);
  const field = screen.getByLabelText("Replications") as HTMLInputElement;
  await user.clear(field);
  expect((await screen.findByRole("alert")).textContent).toBe("A whole number from 1 to 100 is wanted.");
  await user.type(field, "250");
  // 2 and 25 are numbers; 250 is too many, and 25 holds.
  expect(told).toEqual([2, 25]);
  await user.tab();
  expect(field.value).toBe("250");
  expect(screen.getByRole("alert")).toBeTruthy();
  await user.clear(field);
  await user.type(field, "30");
  expect(told.at(-1)).toBe(30);
  expect(screen.queryByRole("alert")).toBeNull();
  // As by undo.
  act(() => change(25));
  expect(field.value).toBe("25");
  await user.clear(field);
  await user.type(field, "007");
  expect(field.value).toBe("007");
  await user.tab();
  expect(field.value).toBe("7");
});

test("half a text that means something else is taken only when the field is left, and then shown as it is written", async () => {
  const user = userEvent.setup();
  const told: string[] = [];
  function Field() {
    const [value, set] = useState("06:30");
    return (
      <KeptInput
        label="Opens"
        shown={value}
        read={readTime}
        wanted="A time of day such as 06:30."
        when="leaving"
        onChange={(next) => {
          told.push(next);
          set(next);
        }}
      />
    );
  }
  render(<Field />);
  const field = screen.getByLabelText("Opens") as HTMLInputElement;
  await user.clear(field);
  await user.type(field, "6.30 pm");
  expect(told).toEqual([]);
  await user.tab();
  expect(told).toEqual(["18:30"]);
  expect(field.value).toBe("18:30");
  await user.clear(field);
  await user.type(field, "noon");
  await user.tab();
  expect(field.value).toBe("noon");
  expect(screen.getByRole("alert").textContent).toBe("A time of day such as 06:30. 18:30 is used until then.");
});
