/** @jest-environment jsdom */
import "./setup.ts";
import { EditorView } from "@codemirror/view";
import type { Problem } from "@busy-harbor/core";
import { act, fireEvent, render, screen, waitFor } from "@testing-library/react";
import { useState } from "react";
import { ExpressionInput } from "../src/expressions/ExpressionInput.tsx";

const TOO_FEW: Problem = {
  code: "unit",
  severity: "error",
  path: [],
  message: "This is a number; a time is wanted.",
  start: 0,
  end: 1,
  fix: "4 min",
};

let change: (text: string) => void = () => undefined;
const told: string[] = [];

function Field({ problems = [] }: { problems?: readonly Problem[] }) {
  const [text, setText] = useState("4");
  change = setText;
  return (
    <>
      <span id="label">Time</span>
      <ExpressionInput
        ref={null}
        id="time"
        value={text}
        of={{ words: ["auto"] }}
        problems={problems}
        labelledBy="label"
        describedBy={undefined}
        placeholder="never"
        onChange={(next) => {
          told.push(next);
          setText(next);
        }}
        onEnter={undefined}
      />
      <button>elsewhere</button>
    </>
  );
}

/** The editor, once it has taken the field's place. */
async function edit(): Promise<EditorView> {
  act(() => document.getElementById("time")!.focus());
  return waitFor(() => {
    const view = EditorView.findFromDOM(document.querySelector<HTMLElement>(".cm-editor")!);
    expect(view).not.toBeNull();
    return view!;
  });
}
const type = (view: EditorView, text: string) =>
  act(() => view.dispatch({ ...view.state.replaceSelection(text), userEvent: "input.type" }));

beforeEach(() => void (told.length = 0));

test("at rest it is a plain field; where the keys go, the editor takes its text and its caret, and gives both back", async () => {
  render(<Field />);
  const plain = document.getElementById("time") as HTMLTextAreaElement;
  expect(plain.tagName).toBe("TEXTAREA");
  expect(plain.placeholder).toBe("never");
  plain.setSelectionRange(1, 1);
  const view = await edit();
  expect(document.getElementById("time")).toBe(view.contentDOM);
  expect(view.contentDOM.getAttribute("aria-labelledby")).toBe("label");
  type(view, " min");
  expect(told).toEqual(["4 min"]);
  act(() => screen.getByRole("button").focus());
  await waitFor(() => expect((document.getElementById("time") as HTMLTextAreaElement).value).toBe("4 min"));
});

test("what changes elsewhere is shown, and is no change of the editor's own", async () => {
  render(<Field />);
  const view = await edit();
  act(() => change("exponential(5 min)"));
  expect(view.state.doc.toString()).toBe("exponential(5 min)");
  expect(told).toEqual([]);
});

test("a problem is marked where it is, and a key writes what it offers", async () => {
  render(<Field problems={[TOO_FEW]} />);
  const view = await edit();
  expect(view.contentDOM.getAttribute("aria-invalid")).toBe("true");
  expect(view.contentDOM.querySelector(".cm-lintRange-error")?.textContent).toBe("4");
  fireEvent.keyDown(view.contentDOM, { key: "Enter", altKey: true });
  expect(told).toEqual(["4 min"]);
});

test("it stays on one line: line ends of what is pasted become spaces", async () => {
  render(<Field />);
  const view = await edit();
  type(view, "max(1 min,\n  2 min) + ");
  expect(told.at(-1)).not.toContain("\n");
  expect(told.at(-1)).toContain("max(1 min, 2 min) + ");
});
