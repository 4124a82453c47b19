import { addElement, addLink, emptyStudy } from "../src/state/edits.ts";
import { startHistory } from "../src/state/history.ts";
import { useStudy } from "../src/state/study.ts";
import { toast } from "sonner";
import { readStudy } from "@busy-harbor/core";
import { buildCommands } from "../src/build/buildCommands.ts";
import { copySelection, pasteFromClipboard } from "../src/build/selection.ts";
import { allCommands, perform, useCommands } from "../src/commands/commandStore.ts";

const kept = new Map<string, string>();
let room = Infinity;
const setSystemClipboard = (clipboard: object | undefined) =>
  Object.defineProperty(globalThis, "navigator", { value: { clipboard }, configurable: true });
const design = () => useStudy.getState().history!.present.designs[0];
const last = () => toast.getToasts().at(-1) as { title?: string; action?: { onClick(): void } } | undefined;
const said = () => last()?.title;
const command = (id: string) => buildCommands.find((c) => c.id === id)!;

beforeEach(() => {
  kept.clear();
  room = Infinity;
  globalThis.localStorage = {
    getItem: (k: string) => kept.get(k) ?? null,
    setItem(k: string, v: string) {
      if (v.length > room) throw new DOMException("full", "QuotaExceededError");
      kept.set(k, v);
    },
    removeItem: (k: string) => void kept.delete(k),
  } as Storage;
  setSystemClipboard(undefined);
  const read = readStudy(emptyStudy("Quay 3"));
  if (!read.ok) throw new Error("bad study");
  const [d] = read.study.designs;
  const [a, b, c] = [
    addElement(d, "arrivals", [0, 0]),
    addElement(d, "station", [5, 1]),
    addElement(d, "departures", [9, 2]),
  ];
  addLink(d, a.id, b.id);
  addLink(d, b.id, c.id);
  useStudy.setState({ id: undefined, history: startHistory(read.study), designId: d.id, selection: [] });
});

const selectKinds = (...kinds: string[]) =>
  useStudy.getState().select(
    design()
      .elements.filter((e) => kinds.includes(e.kind))
      .map((e) => e.id),
  );

test("a command that cannot be done says why, and does nothing", () => {
  const before = design();
  perform(command("delete"));
  expect(said()).toBe("Select something first.");
  selectKinds("station");
  perform(command("distribute-across"));
  expect(said()).toBe("Select 3 elements or more first.");
  expect(design()).toBe(before);
});

test("arranging and deleting by command are single steps that undo takes back", () => {
  const before = design();
  selectKinds("arrivals", "station", "departures");
  perform(command("align-row"));
  expect(new Set(design().elements.map((e) => e.at[1])).size).toBe(1);
  useStudy.getState().undo();
  expect(design()).toEqual(before);
  selectKinds("station");
  perform(command("delete"));
  expect(said()).toBe("Deleted. Arrivals now leads to Departures.");
  expect(useStudy.getState().history!.past).toHaveLength(1);
  useStudy.getState().undo();
  expect(design()).toEqual(before);
});

test("what is copied here is pasted, without asking for the system's clipboard; the cut links are offered", async () => {
  setSystemClipboard({
    writeText: () => Promise.reject(new Error("no")),
    readText: () => Promise.reject(new Error("must not be asked")),
  });
  selectKinds("station");
  expect(copySelection()).toBe(true);
  expect(said()).toBe("1 element copied.");
  await pasteFromClipboard();
  expect(design().elements.map((e) => e.name)).toContain("Station 2");
  expect(said()).toBe("1 element pasted. 2 links led out of the original.");
  last()!.action!.onClick();
  expect(design().links).toHaveLength(4);
});

test("a part too large for the browser's store goes by the system's clipboard", async () => {
  let system = "";
  room = 10;
  setSystemClipboard({ writeText: async (text: string) => void (system = text), readText: async () => system });
  selectKinds("station");
  copySelection();
  await Promise.resolve();
  expect(said()).toBe("1 element copied.");
  await pasteFromClipboard();
  expect(design().elements).toHaveLength(4);
});

test("where neither will take it, that is said instead of copied", async () => {
  room = 10;
  const denied = () => Promise.reject(new Error("denied"));
  setSystemClipboard({ writeText: denied, readText: denied });
  selectKinds("station");
  copySelection();
  await new Promise((resolve) => setTimeout(resolve));
  expect(said()).toMatch(/could not be copied/);
  await pasteFromClipboard();
  expect(said()).toMatch(/holds no elements/);
  expect(design().elements).toHaveLength(3);
});

test("every command has a name and an id of its own, and no two share a key", () => {
  useCommands.setState({ sources: [() => buildCommands] });
  const commands = allCommands();
  expect(new Set(commands.map((c) => c.id)).size).toBe(commands.length);
  expect(commands.every((c) => c.label.trim() !== "" && c.group.trim() !== "")).toBe(true);
  const keys = commands.flatMap((c) => c.keys ?? []);
  expect(new Set(keys.map((k) => k.toLowerCase())).size).toBe(keys.length);
});
