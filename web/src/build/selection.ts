import type { Design, Element, Link, Road } from "@busy-harbor/core";
import { cutOut, type Part, paste, type Pasted, readPart, writePart } from "../state/parts.ts";
import { lock, sameSettings, withGroups } from "../state/arrange.ts";
import { placed, remove } from "../state/edits.ts";
import { useStudy } from "../state/study.ts";
import { gridStep, toFloor } from "../floor/view.ts";
import { useView } from "../floor/viewStore.ts";
import { announce } from "../ui/announce.ts";
import { useBuild } from "./buildStore.ts";

/** What can be done with the selection, whoever asks: keys, palette, menu or card. */

export interface Selected {
  readonly design: Design;
  readonly elements: readonly Element[];
  readonly links: readonly Link[];
  readonly roads: readonly Road[];
  readonly ids: ReadonlySet<string>;
}

export function selected(): Selected | undefined {
  const { history, designId, selection } = useStudy.getState();
  const design = history?.present.designs.find((d) => d.id === designId);
  if (!design) return undefined;
  // Asked for many times a frame, by every command that says whether it can be done.
  if (known?.of !== selection || known.selected.design !== design) {
    const ids = new Set(selection);
    known = {
      of: selection,
      selected: {
        design,
        ids,
        elements: design.elements.filter((e) => ids.has(e.id)),
        links: design.links.filter((l) => ids.has(l.id)),
        roads: (design.roads ?? []).filter((r) => ids.has(r.id)),
      },
    };
  }
  return known.selected;
}

/** The latest answer, good while neither the design nor the selection has changed. */
let known: { readonly of: readonly string[]; readonly selected: Selected } | undefined;

const counted = (n: number, one: string, many = `${one}s`) => `${n} ${n === 1 ? one : many}`;
const undoAction = { label: "Undo", run: () => useStudy.getState().undo() };

export function deleteSelection(): void {
  const now = selected();
  if (!now || now.ids.size === 0) return;
  const title = now.ids.size === 1 ? (now.elements[0]?.name ?? now.roads[0]?.kind ?? "link") : String(now.ids.size);
  let said = "";
  useStudy.getState().changeDesign(`Delete ${title}`, (d) => {
    const { removed, locked, mended } = remove(d, now.ids);
    said = [
      removed > 0 ? "Deleted." : "",
      mended.length === 1
        ? `${mended[0][0]} now leads to ${mended[0][1]}.`
        : mended.length > 1
          ? `${mended.length} links were led on over what is gone.`
          : "",
      locked > 0 ? `${locked === 1 ? "One is" : `${locked} are`} locked and stayed.` : "",
    ]
      .join(" ")
      .trim();
  });
  announce(said, false, undoAction);
}

/**
 * The last part copied, shared by the tabs of this browser. Reading the system's clipboard
 * needs a permission, so it is asked only where nothing was copied here.
 */
const CLIPBOARD_KEY = "busy-harbor-clipboard";

export function copySelection(): boolean {
  const now = selected();
  const part = now && cutOut(now.design, now.ids, useStudy.getState().history?.present.calendars);
  if (!part) return false;
  const text = writePart(part);
  const inSystem = navigator.clipboard?.writeText(text) ?? Promise.reject(new Error("no clipboard"));
  const copied = () => announce(`${counted(part.elements.length, "element")} copied.`);
  try {
    localStorage.setItem(CLIPBOARD_KEY, text);
    inSystem.catch(() => undefined);
    copied();
  } catch {
    // Too large for the browser's store: the system's clipboard must do.
    localStorage.removeItem(CLIPBOARD_KEY);
    inSystem.then(copied, () =>
      announce(
        "These could not be copied: they are too many for this browser's store, and it keeps the clipboard closed.",
        true,
      ),
    );
  }
  return true;
}

export async function pasteFromClipboard(): Promise<void> {
  const part = readPart(
    localStorage.getItem(CLIPBOARD_KEY) ?? (await navigator.clipboard?.readText().catch(() => "")) ?? "",
  );
  if (!part) return announce("The clipboard holds no elements. Select some and press Ctrl C.");
  const { view, size } = useView.getState();
  const { pointer } = useBuild.getState();
  const step = gridStep(view);
  const [x, y] = part.elements[0].at;
  const target = pointer && toFloor(view, size, pointer);
  const by = target
    ? [Math.round((target[0] - x) / step) * step, Math.round((target[1] - y) / step) * step]
    : [2 * step, 2 * step];
  pastePart("Paste", part, placed([by[0], by[1]]));
}

export function duplicateSelection(): void {
  const now = selected();
  const part = now && cutOut(now.design, now.ids, useStudy.getState().history?.present.calendars);
  if (!part) return;
  const step = gridStep(useView.getState().view) * 3;
  pastePart("Duplicate", part, [step, step]);
}

function pastePart(name: string, part: Part, by: [number, number]): void {
  const { change, changeDesign, designId, select } = useStudy.getState();
  let pasted: Pasted | undefined;
  change(
    `${name} ${part.elements.length === 1 ? part.elements[0].name : counted(part.elements.length, "element")}`,
    (s) => {
      const design = s.designs.find((d) => d.id === designId);
      if (design) pasted = paste(design, part, by, s.calendars);
    },
  );
  if (!pasted) return;
  const { ids, reconnectable } = pasted;
  select(ids);
  const links = part.links.length > 0 ? ` and ${counted(part.links.length, "link")}` : "";
  const words = `${counted(ids.length, "element")}${links} ${name === "Paste" ? "pasted" : "duplicated"}.`;
  if (reconnectable.length === 0) return announce(words);
  announce(`${words} ${counted(reconnectable.length, "link")} led out of the original.`, false, {
    label: `Reconnect ${counted(reconnectable.length, "link")}`,
    run: () => changeDesign("Reconnect", (d) => void d.links.push(...structuredClone(reconnectable as Link[]))),
  });
}

export function setLocked(locked: boolean): void {
  const now = selected();
  if (!now) return;
  useStudy.getState().changeDesign(locked ? "Lock" : "Unlock", (d) => lock(d, now.ids, locked));
  announce(`${counted(now.elements.length, "element")} ${locked ? "locked: they stay where they are" : "unlocked"}.`);
}

export function selectAlike(alike: "kind" | "settings"): void {
  const now = selected();
  if (!now || now.elements.length === 0) return;
  const ids = now.design.elements
    .filter((e) => now.elements.some((s) => (alike === "kind" ? s.kind === e.kind : sameSettings(s, e))))
    .map((e) => e.id);
  useStudy.getState().select(ids);
  announce(`${counted(ids.length, "element")} selected.`);
}

/** Adds an element, with its group, to the selection, or takes it away again. */
export function toggleSelected(id: string): void {
  const now = selected();
  if (!now) return;
  const mates = withGroups(now.design, [id]);
  useStudy.getState().select(now.ids.has(id) ? [...now.ids].filter((i) => !mates.includes(i)) : [...now.ids, ...mates]);
}

/** Selects with the groups that the ids belong to. */
export function selectGrouped(ids: readonly string[]): void {
  const now = selected();
  useStudy.getState().select(now ? withGroups(now.design, ids) : ids);
}
