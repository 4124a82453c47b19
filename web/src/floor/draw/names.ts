import type { Design, Element } from "@busy-harbor/core";
import { COLOURS, FONT } from "../colours.ts";
import { widthOf } from "../labels.ts";
import { type Measure, placeBelow, placeNames, type PlacedName } from "../names.ts";
import type { Scene } from "../scene.ts";
import { type Canvas, text } from "../symbols/shared.ts";
import { symbolScale, toScreen } from "../view.ts";

const NAME = { size: 12, weight: 550 };

/** Pixels between the middle of a name and that of its note. */
const NOTE_APART = 15;

const found = new WeakMap<Design, { readonly scale: number; readonly names: ReadonlyMap<string, PlacedName> }>();

const measureOn = (ctx: Canvas): Measure => {
  ctx.font = `${NAME.weight} ${NAME.size}px ${FONT}`;
  return (words) => widthOf(ctx, words);
};

/** Places of the names of a whole design; kept for as long as neither the design nor the scale changes. */
export function namesOf(ctx: Canvas, design: Design, scale: number): ReadonlyMap<string, PlacedName> {
  let kept = found.get(design);
  if (kept?.scale !== scale)
    found.set(design, (kept = { scale, names: placeNames(design.elements, design, scale, measureOn(ctx)) }));
  return kept!.names;
}

/** Names where they have found a place; those of `always` whole, and below where there is none. */
export function drawNames(ctx: Canvas, elements: readonly Element[], scene: Scene, always = false): void {
  const { design, rested, view, size } = scene;
  const names = namesOf(ctx, rested ?? design, view.scale);
  const k = symbolScale(view);
  for (const element of elements) {
    const [x, y] = toScreen(view, size, element.at);
    const found = names.get(element.id);
    const isWhole = found !== undefined && found.words === found.name;
    if (found && (isWhole || !always))
      text(ctx, found.name === element.name ? found.words : element.name, x + found.x, y + found.y, NAME);
    else if (always) text(ctx, element.name, x, y + placeBelow(element, k)[1], NAME);
  }
}

/** Words under the names of elements, over those that stand above; under the symbols of those that have no place. */
export function drawNotes(ctx: Canvas, { design, view, size }: Scene, notes: ReadonlyMap<string, string>): void {
  const names = namesOf(ctx, design, view.scale);
  const k = symbolScale(view);
  for (const element of design.elements) {
    const note = notes.get(element.id);
    if (!note) continue;
    const [x, y] = toScreen(view, size, element.at);
    const name = names.get(element.id);
    const [dx, dy] = name ? [name.x, name.y < 0 ? name.y - NOTE_APART : name.y + NOTE_APART] : placeBelow(element, k);
    text(ctx, note, x + dx, y + dy, { size: 12, weight: 400, colour: COLOURS.soft });
  }
}
