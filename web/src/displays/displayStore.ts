import { type Design, type Display, displaySchema, kindOf, type Point } from "@busy-harbor/core";
import { newId } from "../state/edits.ts";
import { useShown } from "../state/shown.ts";
import { useStudy } from "../state/study.ts";
import { announce } from "../ui/announce.ts";

export type DisplayKind = Display["kind"];

export const DISPLAY_LABELS: Readonly<Record<DisplayKind, string>> = {
  clock: "Clock",
  text: "Text",
  number: "Number",
  gauge: "Gauge",
  bar: "Bar",
  people: "People",
  table: "Small table",
  chart: "Live chart",
  picture: "Picture",
};

/** Opens the card of a display, and lets go of what is selected. */
export function showDisplay(id: string): void {
  useStudy.getState().select([]);
  useShown.getState().show({ kind: "display", id });
}

/** Changes one display of the design on screen, as one step to undo. */
export function changeDisplay(id: string, name: string, recipe: (display: Display) => void, mergeKey?: string): void {
  useStudy.getState().changeDesign(
    name,
    (design) => {
      const display = design.displays.find((d) => d.id === id);
      if (display) recipe(display);
    },
    mergeKey && `${id}/${mergeKey}`,
  );
}

/** Something of the design to begin with: how many stand in its first line. */
function firstReading(design: Design): { label: string; value: string } {
  for (const element of design.elements) {
    const { hasLine, properties } = kindOf(element);
    const property = hasLine && ["length", "busy"].find((name) => name in properties);
    if (property) return { label: element.name, value: `\`${element.name}\`.${property}` };
  }
  return { label: "", value: "" };
}

/** Puts a display on the floor and opens its card. A picture brings its file. */
export function addDisplay(
  kind: DisplayKind,
  at: Point,
  picture?: { readonly file: string; readonly format: string; readonly width: number },
): void {
  const { changeDesign, history, designId } = useStudy.getState();
  const design = history?.present.designs.find((d) => d.id === designId);
  if (!design) return;
  const { label, value } = firstReading(design);
  const own =
    kind === "table" || kind === "chart"
      ? { rows: [{ label, value }] }
      : kind === "number" || kind === "gauge" || kind === "bar" || kind === "people"
        ? { title: label, value }
        : (picture ?? {});
  const display = displaySchema.parse({ kind, id: newId("display"), at, ...own });
  changeDesign(`Add ${DISPLAY_LABELS[kind].toLowerCase()}`, (d) => void d.displays.push(display));
  showDisplay(display.id);
  announce(`${DISPLAY_LABELS[kind]} placed.`);
}

export function deleteDisplay(id: string): void {
  const { changeDesign, undo } = useStudy.getState();
  changeDesign("Delete display", (d) => void (d.displays = d.displays.filter((display) => display.id !== id)));
  useShown.getState().show(undefined);
  announce("Display deleted.", false, { label: "Undo", run: undo });
}
