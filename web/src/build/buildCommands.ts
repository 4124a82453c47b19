import { type Drawing, elementKinds, type ElementKindName, type Point, ROAD_KINDS } from "@busy-harbor/core";
import type { Command } from "../commands/command.ts";
import { addDrawing, showDrawing, useDrawings } from "../drawings/drawingStore.ts";
import { useDrawingFiles } from "../drawings/files.ts";
import { cornersOf } from "../drawings/outline.ts";
import { drawnDesign } from "../floor/members.ts";
import { fit, gridStep, type Insets, panBy, toScreen, zoomAt } from "../floor/view.ts";
import { extentPoints, useView } from "../floor/viewStore.ts";
import { align, distribute, group, move, turn, ungroup } from "../state/arrange.ts";
import { useStudy } from "../state/study.ts";
import { announce } from "../ui/announce.ts";
import { chooseFile } from "../ui/chooseFile.ts";
import { DISPLAY_LABELS, type DisplayKind } from "../displays/displayStore.ts";
import { placeDisplay } from "./placeDisplay.ts";
import { useLedger } from "../ledger/ledgerStore.ts";
import { useBuild } from "./buildStore.ts";
import { giveUpDrag } from "./gestures.ts";
import { endLaying, joinSelected, startLaying, unlayPoint, useLaying } from "./layRoad.ts";
import { addAt } from "./putOnFloor.ts";
import {
  copySelection,
  deleteSelection,
  duplicateSelection,
  pasteFromClipboard,
  selectAlike,
  selected,
  setLocked,
} from "./selection.ts";

/** Air around what is fitted, and room for the rulers. */
const AIR = 24;
const RULER = 20;

/** Room that the rulers, the card, the dock and the view control take from the floor, as they stand now. */
export function covered(): Insets {
  const floor = document.querySelector("[data-testid=floor]")?.getBoundingClientRect();
  const boxOf = (name: string) => document.querySelector(`[data-covers=${name}]`)?.getBoundingClientRect();
  const [card, controls] = [boxOf("right"), boxOf("bottom")];
  return {
    top: RULER + AIR,
    left: RULER + AIR,
    right: AIR + (floor && card && card.height > floor.height / 4 ? floor.right - card.left : 0),
    bottom: AIR + (floor && controls ? floor.bottom - controls.top : 0),
  };
}

/** Words marked on the page are what a person means to copy. */
const textIsSelected = () => window.getSelection()?.isCollapsed === false;

const count = () => selected()?.elements.length ?? 0;
const needs = (least: number) => () =>
  count() >= least ? undefined : least === 1 ? "Select an element first." : `Select ${least} elements or more first.`;
const needsAny = () => ((selected()?.ids.size ?? 0) > 0 ? undefined : "Select something first.");

/** Does an edit of the selected elements; locked ones stay. */
function arrange(name: string, edit: typeof turn, mergeKey?: string): void {
  const now = selected();
  if (!now) return;
  const locked = now.elements.filter((e) => e.locked).length;
  useStudy.getState().changeDesign(name, (d) => edit(d, now.ids), mergeKey);
  if (locked > 0) announce(`${locked === 1 ? "One is" : `${locked} are`} locked and stayed.`);
}

const ARROWS: ReadonlyArray<readonly [key: string, words: string, by: Point]> = [
  ["ArrowLeft", "left", [-1, 0]],
  ["ArrowRight", "right", [1, 0]],
  ["ArrowUp", "up", [0, -1]],
  ["ArrowDown", "down", [0, 1]],
];

/** Steps of the grid in one press. */
const STRIDE = 5;

const moves: readonly Command[] = ARROWS.flatMap(([key, words, [dx, dy]]) =>
  (
    [
      ["", 1],
      ["Shift ", STRIDE],
    ] as const
  ).map(([shift, steps]): Command => ({
    id: `move-${words}-${steps}`,
    label: steps === 1 ? `Move ${words}, or pan with nothing selected` : `Move ${words} by ${STRIDE}`,
    group: "Move",
    keys: [`${shift}${key}`],
    run() {
      const { view, setView } = useView.getState();
      const by = gridStep(view) * steps;
      if (count() > 0) arrange("Move", (d, ids) => move(d, ids, dx * by, dy * by), "keyboard-move");
      else setView(panBy(view, -dx * 60, -dy * 60));
    },
  })),
);

const aligning: readonly Command[] = (
  [
    ["left", "Line up at the leftmost", 0, "least"],
    ["column", "Line up in a column", 0, "middle"],
    ["right", "Line up at the rightmost", 0, "most"],
    ["top", "Line up at the topmost", 1, "least"],
    ["row", "Line up in a row", 1, "middle"],
    ["bottom", "Line up at the lowest", 1, "most"],
  ] as const
).map(([id, label, axis, where]): Command => ({
  id: `align-${id}`,
  label,
  group: "Arrange",
  refusal: needs(2),
  run: () => arrange(label, (d, ids) => align(d, ids, axis, where)),
}));

const zoom = (factor: number) => () => {
  const { view, size, setView } = useView.getState();
  setView(zoomAt(view, size, [size.width / 2, size.height / 2], factor));
};

export function fitEverything(): void {
  const { history, id } = useStudy.getState();
  const now = selected();
  if (now && history && id)
    useView
      .getState()
      .fitAll(
        id,
        drawnDesign(history.present, now.design),
        history.present.plan,
        covered(),
        drawnCorners(history.present.drawings),
      );
}

/** Corners of the drawings that are shown, as far as they have been read. */
export function drawnCorners(drawings: readonly Drawing[]): Point[] {
  const { files } = useDrawingFiles.getState();
  return drawings.flatMap((drawing) => {
    const file = files[drawing.file];
    return drawing.visible && file?.state === "ready" ? cornersOf(drawing, file.info) : [];
  });
}

/** Takes a file as a background drawing, and shows all of it. */
export async function takeDrawing(file: File): Promise<void> {
  if (await addDrawing(file)) fitEverything();
}

/** Lets a person choose a file to take as a background drawing. */
export async function chooseDrawing(): Promise<void> {
  const file = await chooseFile(".dxf,.svg,.png,.jpg,.jpeg");
  if (file) await takeDrawing(file);
}

function fitSelection(): void {
  const now = selected();
  if (!now) return;
  const links = now.links.flatMap((l) => now.design.elements.filter((e) => e.id === l.from || e.id === l.to));
  const { setView, size } = useView.getState();
  const study = useStudy.getState().history?.present;
  const part = { ...now.design, elements: [...now.elements, ...links], links: [...now.links] };
  setView(fit(extentPoints(study ? drawnDesign(study, part) : part, []), size, covered()));
}

/** Brings an element to the middle of the floor and selects it. */
export function goToElement(id: string): void {
  const now = selected();
  const element = now?.design.elements.find((e) => e.id === id);
  if (!element) return;
  const { view, size, setView } = useView.getState();
  useStudy.getState().select([id]);
  const [sx, sy] = toScreen(view, size, element.at);
  const room = covered();
  const visible = sx > room.left && sy > room.top && sx < size.width - room.right && sy < size.height - room.bottom;
  if (!visible)
    setView({
      ...view,
      x: element.at[0] + (room.right - room.left) / 2 / view.scale,
      y: element.at[1] + (room.bottom - room.top) / 2 / view.scale,
    });
  document.querySelector<HTMLElement>("[data-testid=floor]")?.focus();
}

/** What can be done on the Build stage. */
export const buildCommands: readonly Command[] = [
  {
    id: "delete",
    label: "Delete",
    group: "Edit",
    keys: ["Delete", "Backspace"],
    menu: true,
    refusal: () => (useLaying.getState().kind ? undefined : needsAny()),
    run: () => unlayPoint() || deleteSelection(),
  },
  {
    id: "copy",
    label: "Copy",
    group: "Edit",
    keys: ["Ctrl C"],
    menu: true,
    refusal: needs(1),
    yields: textIsSelected,
    run: () => void copySelection(),
  },
  {
    id: "cut",
    label: "Cut",
    group: "Edit",
    keys: ["Ctrl X"],
    refusal: needs(1),
    run: () => copySelection() && deleteSelection(),
  },
  {
    id: "paste",
    label: "Paste",
    group: "Edit",
    keys: ["Ctrl V"],
    menu: true,
    run: () => void pasteFromClipboard(),
  },
  {
    id: "duplicate",
    label: "Duplicate",
    group: "Edit",
    keys: ["Ctrl D"],
    menu: true,
    refusal: needs(1),
    run: duplicateSelection,
  },
  {
    id: "select-all",
    label: "Select all elements",
    group: "Select",
    keys: ["Ctrl A"],
    run: () => useStudy.getState().select(selected()?.design.elements.map((e) => e.id) ?? []),
  },
  {
    id: "select-kind",
    label: "Select all of this kind",
    group: "Select",
    menu: true,
    refusal: needs(1),
    run: () => selectAlike("kind"),
  },
  {
    id: "select-settings",
    label: "Select all with the same settings",
    group: "Select",
    menu: true,
    refusal: needs(1),
    run: () => selectAlike("settings"),
  },
  {
    id: "let-go",
    label: "Give up dragging or placing, or select nothing",
    group: "Select",
    keys: ["Escape"],
    run() {
      if (giveUpDrag() || endLaying()) return;
      if (useDrawings.getState().picked) useDrawings.setState({ picked: undefined });
      else if (useBuild.getState().placing) useBuild.getState().stopPlacing();
      else if (useStudy.getState().selection.length > 0) useStudy.getState().select([]);
      else showDrawing(undefined);
    },
  },
  {
    id: "end-way",
    label: "End the way that is being drawn",
    group: "Add",
    keys: ["Enter"],
    refusal: () => (useLaying.getState().kind ? undefined : "No way is being drawn."),
    // Enter presses the button that has the focus.
    yields: () => useLaying.getState().kind === undefined,
    run: () => void endLaying(),
  },
  ...ROAD_KINDS.flatMap((kind): Command[] => [
    {
      id: `draw-${kind}`,
      label: `Draw a ${kind}`,
      group: "Add",
      keys: kind === "walkway" ? ["W"] : ["Shift W"],
      run: () => startLaying(kind),
    },
    {
      id: `join-by-${kind}`,
      label: `Join the selected elements by a ${kind}`,
      group: "Add",
      refusal: needs(2),
      run: () => joinSelected(kind),
    },
  ]),
  ...moves,
  ...aligning,
  {
    id: "distribute-across",
    label: "Space evenly across",
    group: "Arrange",
    refusal: needs(3),
    run: () => arrange("Space evenly across", (d, ids) => distribute(d, ids, 0)),
  },
  {
    id: "distribute-down",
    label: "Space evenly down",
    group: "Arrange",
    refusal: needs(3),
    run: () => arrange("Space evenly down", (d, ids) => distribute(d, ids, 1)),
  },
  {
    id: "turn",
    label: "Turn a quarter clockwise",
    group: "Arrange",
    keys: ["R"],
    menu: true,
    refusal: needs(1),
    run: () => arrange("Turn", turn),
  },
  {
    id: "group",
    label: "Group",
    group: "Arrange",
    keys: ["Ctrl G"],
    refusal: needs(2),
    run: () => arrange("Group", group),
  },
  {
    id: "ungroup",
    label: "Ungroup",
    group: "Arrange",
    keys: ["Ctrl Shift G"],
    refusal: needs(1),
    run: () => arrange("Ungroup", ungroup),
  },
  { id: "lock", label: "Lock in place", group: "Arrange", menu: true, refusal: needs(1), run: () => setLocked(true) },
  {
    id: "unlock",
    label: "Unlock",
    group: "Arrange",
    menu: true,
    refusal: () => (selected()?.elements.some((e) => e.locked) ? undefined : "Nothing selected is locked."),
    run: () => setLocked(false),
  },
  {
    id: "add",
    label: "Add an element at the pointer",
    group: "Add",
    keys: ["A"],
    run() {
      const { size } = useView.getState();
      const { openQuickAdd, pointer } = useBuild.getState();
      openQuickAdd(pointer ?? [size.width / 2, size.height / 2]);
    },
  },
  {
    id: "link",
    label: "Link the selected element to …",
    group: "Add",
    keys: ["L"],
    menu: true,
    refusal: () => (count() === 1 ? undefined : "Select one element first."),
    run() {
      const [element] = selected()!.elements;
      const { view, size } = useView.getState();
      useBuild.getState().openQuickAdd(toScreen(view, size, element.at), element.id, true);
    },
  },
  ...(Object.keys(elementKinds) as ElementKindName[]).map((kind): Command => ({
    id: `add-${kind}`,
    label: `Add ${elementKinds[kind].label.toLowerCase()}`,
    group: "Add",
    run() {
      const { size } = useView.getState();
      addAt(kind, [size.width / 2, size.height / 2]);
    },
  })),
  { id: "add-drawing", label: "Add a background drawing", group: "Add", run: () => void chooseDrawing() },
  ...(Object.keys(DISPLAY_LABELS) as DisplayKind[]).map((kind): Command => ({
    id: `add-display-${kind}`,
    label: `Add display: ${DISPLAY_LABELS[kind].toLowerCase()}`,
    group: "Add",
    run: () => void placeDisplay(kind),
  })),
  { id: "fit", label: "Fit all", group: "View", keys: ["F"], run: fitEverything },
  {
    id: "fit-selection",
    label: "Fit the selection",
    group: "View",
    keys: ["Shift F"],
    refusal: needsAny,
    run: fitSelection,
  },
  {
    id: "save-picture",
    label: "Save the floor as a picture (PNG), or print it",
    group: "View",
    keys: ["Ctrl P"],
    run: () => useBuild.setState({ savingPicture: true }),
  },
  {
    id: "ledger",
    label: "Open or close the ledger",
    group: "View",
    keys: ["T"],
    run: () => useLedger.getState().toggle(),
  },
  { id: "zoom-in", label: "Zoom in", group: "View", keys: ["+", "="], run: zoom(1.25) },
  { id: "zoom-out", label: "Zoom out", group: "View", keys: ["-"], run: zoom(0.8) },
];
