import { type EntityType, type Frame, type Look, type Model, PHASE } from "@busy-harbor/core";
import { COLOURS } from "../floor/colours.ts";
import type { Shade } from "../floor/symbols/entities.ts";

/** What an entity may be doing, in the order of a legend, and the colour it then has. */
const STATES: ReadonlyArray<readonly [phase: number, words: string, colour: () => string]> = [
  [PHASE.waiting, "waiting", () => COLOURS.amber],
  [PHASE.working, "worked on", () => COLOURS.busy],
  [PHASE.settingUp, "set up for", () => COLOURS.setting],
  [PHASE.needing, "waiting for a resource", () => COLOURS.needing],
  [PHASE.moving, "moving", () => COLOURS.soft],
  [PHASE.dwelling, "dwelling", () => COLOURS.waterLine],
  [PHASE.blocked, "blocked", () => COLOURS.blocked],
];

/** The colours that entities of a type may have; a frame's shade says which. */
export function paletteOf({ colouring, colour, bands }: EntityType): readonly string[] {
  if (colouring === "state")
    return Array.from(
      { length: Math.max(...STATES.map(([phase]) => phase)) + 1 },
      (_, phase) => STATES.find(([p]) => p === phase)?.[2]() ?? colour,
    );
  return colouring === "attribute" ? [colour, ...bands.map((band) => band.colour)] : [colour];
}

/** The same, and behind them the looks that steps give, with the shape where that is another. */
export const paletteWith = (type: EntityType, looks: readonly Look[]): readonly Shade[] => [
  ...paletteOf(type).map((colour) => ({ colour })),
  ...looks.map(({ colour, shape }) => (shape === "own" ? { colour } : { colour, shape })),
];

/** Which colour of its palette the i-th entity of a frame has. */
export function shadeOf(frame: Frame, i: number, type: EntityType): number {
  if (frame.look[i] > 0) return paletteOf(type).length + frame.look[i] - 1;
  return type.colouring === "state" ? frame.phase[i] : frame.shade[i];
}

/** What the colours of a type mean, for the legend; none when it has but one. */
export function legendOf({ type }: Model["types"][number]): ReadonlyArray<readonly [words: string, colour: string]> {
  if (type.colouring === "state") return STATES.map(([, words, colour]) => [words, colour()]);
  if (type.colouring !== "attribute" || type.bands.length === 0) return [];
  return [
    [`${type.colourAttribute} below ${type.bands[0].from}`, type.colour],
    ...type.bands.map(({ from, colour }) => [`from ${from}`, colour] as const),
  ];
}
