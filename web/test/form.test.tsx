/** @jest-environment jsdom */
import { compile, type Element, readStudy } from "@busy-harbor/core";
import { act, render, screen, waitFor, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { MemoryRouter } from "react-router";
import { formOf } from "../src/build/settings/forms.tsx";
import { makeKit } from "../src/build/settings/kit.tsx";
import { startHistory } from "../src/state/history.ts";
import { useStudy } from "../src/state/study.ts";
import { EditorView } from "@codemirror/view";
import { toast } from "sonner";

/** The form of the design's first element, as its card shows it: every change draws it anew. */
function Form() {
  const study = useStudy((s) => s.history!.present);
  const [design] = study.designs;
  const { model, problems } = compile(study);
  const [element] = design.elements;
  return formOf(
    makeKit(
      element,
      design,
      study,
      model.nodes[0],
      problems.filter((p) => p.id === element.id),
    ),
  );
}

function show(element: object): { readonly element: () => Element; readonly user: ReturnType<typeof userEvent.setup> } {
  const read = readStudy({
    format: "busy-harbor-study",
    version: 1,
    name: "Quay",
    designs: [
      {
        id: "d",
        name: "D",
        entityTypes: [
          { id: "crate", name: "Crate", attributes: [{ name: "size", value: "3" }] },
          { id: "pallet", name: "Pallet" },
        ],
        elements: [
          { name: "Bench", at: [0, 0], ...element },
          { kind: "crew", id: "fitters", name: "Fitters", at: [5, 0] },
          { kind: "equipment", id: "crane", name: "Crane", at: [9, 0] },
        ],
      },
    ],
  });
  if (!read.ok) throw new Error(JSON.stringify(read.problems));
  useStudy.setState({ id: undefined, history: startHistory(read.study), designId: "d", selection: [] });
  render(
    <MemoryRouter>
      <Form />
    </MemoryRouter>,
  );
  return { element: () => useStudy.getState().history!.present.designs[0].elements[0], user: userEvent.setup() };
}

test("a section is folded while all in it is as at first, and open when it says something", () => {
  show({ kind: "station", id: "s", patience: "5 min" });
  const isOpen = (title: string) => screen.getByRole("button", { name: title }).getAttribute("aria-expanded");
  expect(isOpen("Order and patience of its line")).toBe("true");
  expect(isOpen("Breakdowns")).toBe("false");
  expect(screen.getByLabelText("Patience")).toHaveProperty("value", "5 min");
});

test("a setting without use is not shown, and comes with what gives it one", async () => {
  const { user, element } = show({ kind: "gate", id: "g" });
  expect(screen.queryByLabelText("When one enters")).toBeNull();
  await user.click(screen.getByLabelText("By"));
  await user.click(screen.getByRole("option", { name: "a signal" }));
  expect(screen.getByLabelText("When one enters")).toBeTruthy();
  expect(screen.queryByLabelText("Open while")).toBeNull();
  expect(element()).toMatchObject({ opens: "signal" });
});

test("a new need names a resource, and is for one phase at least", async () => {
  const { user, element } = show({ kind: "station", id: "s" });
  await user.click(screen.getByRole("button", { name: "Resources" }));
  await user.click(screen.getByRole("button", { name: "Need" }));
  // Where a hand comes to the list, what moves its rows takes the place of what shows them.
  await user.hover(screen.getByText("Fitters"));
  const need = within(screen.getByRole("group", { name: "need 1" }));
  expect(need.getByText("Fitters")).toBeTruthy();
  await user.click(need.getByLabelText("setup"));
  expect(element()).toMatchObject({ needs: [{ anyOf: ["fitters"], count: "1", phases: ["setup", "work"] }] });
  await user.click(need.getByLabelText("setup"));
  await user.click(need.getByLabelText("work"));
  expect(element()).toMatchObject({ needs: [{ phases: ["work"] }] });
  expect((toast.getToasts().at(-1) as { title?: string } | undefined)?.title).toContain("one of these at least");
});

test("a new row of a mix begins with the entity type that arrived, and hides the choice of one", async () => {
  const { user, element } = show({ kind: "arrivals", id: "in", entityType: "pallet" });
  expect(screen.getByLabelText("Entity type").textContent).toBe("Pallet");
  await user.click(screen.getByRole("button", { name: "Mix of entity types" }));
  await user.click(screen.getByRole("button", { name: "Entity type" }));
  expect(element()).toMatchObject({ mix: [{ entityType: "pallet", share: "50 %" }] });
  expect(screen.getAllByLabelText("Entity type")).toHaveLength(1);
});

test("what an element names and is gone is to be chosen anew, by keyboard too", async () => {
  const { user, element } = show({ kind: "join", id: "j", gathers: "onto a carrier", carrier: "lorry" });
  const carrier = screen.getByLabelText("Carrier");
  expect(carrier.textContent).toBe("choose …");
  carrier.focus();
  await user.keyboard("{Enter}");
  expect(screen.getAllByRole("option").map((o) => o.textContent)).toEqual(["choose …", "Crate", "Pallet"]);
  await user.keyboard("{ArrowDown}{ArrowDown}{Enter}");
  expect(element()).toMatchObject({ carrier: "pallet" });
});

test("undo takes back what was typed as one step, in the editor that takes the field's place", async () => {
  const { user, element } = show({ kind: "dwell", id: "w" });
  await user.click(screen.getByLabelText("Time"));
  await waitFor(() => expect(document.querySelector(".cm-focused")).toBeTruthy());
  const editor = EditorView.findFromDOM(document.querySelector<HTMLElement>(".cm-editor")!)!;
  for (const text of ["1", "12", "12 min"])
    act(() => editor.dispatch({ changes: { from: 0, to: editor.state.doc.length, insert: text }, userEvent: "input" }));
  expect(element()).toMatchObject({ time: "12 min" });
  await user.keyboard("{Control>}z{/Control}");
  expect(element()).toMatchObject({ time: "uniform(10 min, 20 min)" });
  expect(editor.state.doc.toString()).toBe("uniform(10 min, 20 min)");
  // The keys go elsewhere: the plain field is back, with its label.
  await user.click(document.body);
  expect(screen.getByLabelText("Time")).toHaveProperty("value", "uniform(10 min, 20 min)");
});
