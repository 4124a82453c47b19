import type { Design, Element, Point } from "@busy-harbor/core";
import { LabelSpace } from "./labels.ts";
import { drawnLinks, queueLine } from "./paths.ts";
import { extentOf, hasCount } from "./symbols/index.ts";
import { symbolScale } from "./view.ts";

/** Where an element's name stands: the middle of its words, in pixels from the middle of the element. */
export interface PlacedName {
  /** The whole name. */
  readonly name: string;
  /** As much of it as finds room. */
  readonly words: string;
  readonly x: number;
  readonly y: number;
}

/** Width of words in pixels. */
export type Measure = (words: string) => number;

/** Pixels from a symbol's edge to the middle of its name below or above, and to its first letter beside. */
const BELOW = 14;
const ABOVE = 12;
const BESIDE = 8;
/** Height of a count above a symbol, at a symbol scale of 1. */
const COUNT = 13;

/** Shares of its letters that a name is shortened to, in turn, where the whole finds no place. */
const SHORTENED = [0.7, 0.45];
/** Fewest letters that still tell something. */
const FEWEST = 4;

/**
 * Finds a place for the names of `elements` in a design seen at `scale` (pixels a metre): below the symbol, above it,
 * right or left of it, wherever the words cover no symbol, no line and no name placed before; else shortened; else
 * none.
 */
export function placeNames(
  elements: readonly Element[],
  design: Design,
  scale: number,
  measure: Measure,
): ReadonlyMap<string, PlacedName> {
  const k = symbolScale({ x: 0, y: 0, scale });
  const space = takenSpace(design, scale, k);
  const placed = new Map<string, PlacedName>();
  for (const element of elements) {
    const name = placeName(element, scale, k, measure, space);
    if (name) placed.set(element.id, name);
  }
  return placed;
}

function placeName(
  element: Element,
  scale: number,
  k: number,
  measure: Measure,
  space: LabelSpace,
): PlacedName | undefined {
  for (const words of [element.name, ...SHORTENED.flatMap((share) => shortened(element.name, share))]) {
    const width = measure(words);
    for (const [x, y] of placesFor(element, k, width))
      if (space.take(element.at[0] * scale + x, element.at[1] * scale + y, width))
        return { name: element.name, words, x, y };
  }
  return undefined;
}

/** The place below a symbol, where names stand as long as nothing is in their way. */
export const placeBelow = (element: Element, k: number): Point => [0, extentOf(element).h * k + BELOW];

function placesFor(element: Element, k: number, width: number): Point[] {
  const { w, h } = extentOf(element);
  const aside = w * k + BESIDE + width / 2;
  const above = h * k + ABOVE + (hasCount(element) ? COUNT * k : 0);
  return [placeBelow(element, k), [0, -above], [aside, 0], [-aside, 0]];
}

function shortened(name: string, share: number): string[] {
  const letters = Math.floor(name.length * share);
  return letters >= FEWEST ? [`${name.slice(0, letters).trimEnd()}…`] : [];
}

/** What symbols, links and the lines of queues take. */
function takenSpace(design: Design, scale: number, k: number): LabelSpace {
  const space = new LabelSpace();
  for (const element of design.elements) {
    const [x, y] = [element.at[0] * scale, element.at[1] * scale];
    const { w, h } = extentOf(element);
    space.block(x - w * k, x + w * k, y - h * k, y + h * k);
    if ("line" in element) space.blockLine(onPlan(queueLine(element), scale));
  }
  for (const line of drawnLinks(design).values()) space.blockLine(onPlan(line, scale));
  return space;
}

const onPlan = (points: readonly Point[], scale: number): Point[] => points.map(([x, y]) => [x * scale, y * scale]);
