import fc from "fast-check";
import { edit, type History, redo, startHistory, undo } from "../src/state/history.ts";

interface Doc {
  list: number[];
  name: string;
}
const begin = (): History<Doc> => startHistory({ list: [], name: "" });

test("undo and redo lead through the same states, whatever was done", () => {
  const act = fc.oneof(
    fc.record({ do: fc.constant("push" as const), value: fc.integer() }),
    fc.record({ do: fc.constant("name" as const), value: fc.string() }),
    fc.record({ do: fc.constant("clear" as const) }),
  );
  fc.assert(
    fc.property(fc.array(act, { maxLength: 30 }), (acts) => {
      let history = begin();
      const states = [history.present];
      for (const a of acts) {
        const next = edit(history, a.do, (d) => {
          if (a.do === "push") d.list.push(a.value);
          else if (a.do === "name") d.name = a.value;
          else d.list = [];
        });
        if (next !== history) states.push(next.present);
        history = next;
      }
      for (let i = states.length - 1; i >= 0; i--) {
        expect(history.present).toEqual(states[i]);
        history = undo(history);
      }
      for (const state of states) {
        expect(history.present).toEqual(state);
        history = redo(history);
      }
    }),
    { numRuns: 200, seed: 8 },
  );
});

test("typing in one field is one step; another field, or a pause, begins a new one", () => {
  let history = begin();
  history = edit(history, "type", (d) => void (d.name = "a"), "name", 1000);
  history = edit(history, "type", (d) => void (d.name = "ab"), "name", 1500);
  expect(history.past).toHaveLength(1);
  history = edit(history, "push", (d) => void d.list.push(1), "list", 1600);
  history = edit(history, "type", (d) => void (d.name = "abc"), "name", 9000);
  expect(history.past).toHaveLength(3);
  expect(undo(undo(undo(history))).present).toEqual({ list: [], name: "" });
});

test("an edit that changes nothing is no step, and a new edit ends what could be redone", () => {
  const first = edit(begin(), "push", (d) => void d.list.push(1));
  expect(edit(first, "nothing", () => undefined)).toBe(first);
  const other = edit(undo(first), "name", (d) => void (d.name = "x"));
  expect(other.future).toEqual([]);
  expect(redo(other)).toBe(other);
  expect(undo(begin()).past).toEqual([]);
});
