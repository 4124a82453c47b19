import { everyStep, type StepBase } from "../document/logic.ts";
import { LINK_SETTINGS } from "../document/link.ts";
import { ROAD_SETTINGS } from "../document/road.ts";
import { TYPE_SETTINGS } from "../document/entityType.ts";
import { kindOf } from "../elements/index.ts";
import { stepKindOf } from "../logic/steps/index.ts";
import { LAST_STREAM } from "../settings/parts.ts";
import { type Setting, settingsIn, type SettingsSpec } from "../settings/setting.ts";
import { fieldsOf } from "../settings/settingsOf.ts";
import type { Design, Study } from "./schema.ts";

/** Keys of the settings of a thing that have a stream of their own, in the order in which streams are given out. */
function drawingKeys(thing: object, spec: SettingsSpec): string[] {
  const inOrder = (settings: readonly Setting[]) =>
    settings.filter((s) => s.draws !== undefined).sort((a, b) => a.draws! - b.draws!);
  const all = settingsIn(spec);
  const lists = all
    .flatMap((list) => (list.form === "rows" ? [{ list, drawing: inOrder(settingsIn(list.row)) }] : []))
    .filter(({ drawing }) => drawing.length > 0)
    .sort((a, b) => a.drawing[0].draws! - b.drawing[0].draws!);
  return [
    ...inOrder(all)
      .filter(({ drawsWhere }) => drawsWhere?.(thing as Record<string, unknown>) ?? true)
      .map(({ name }) => name),
    ...lists.flatMap(({ list, drawing }) =>
      ((thing as Record<string, unknown>)[list.name] as readonly { readonly id: string }[]).flatMap((row) =>
        drawing.map(({ name }) => `${list.name}.${row.id}.${name}`),
      ),
    ),
  ];
}

interface Drawer {
  readonly id: string;
  streams?: Record<string, number>;
}

/** Something that draws, the settings of it that do, and by what it is known in all designs, if not by its id. */
type Drawing = readonly [drawer: Drawer, settings: readonly string[], owner?: string];

/** A number, with its unit or none, or a single name. */
const PLAIN_TEXT = /^\s*[\d.]*\s*[\p{L}_]*\s*$/u;

/** Steps have a stream for each setting that may draw, where it says more than a number or a name. */
function* drawersOfSteps(owner: string, steps: readonly StepBase[]): Generator<Drawing> {
  for (const step of everyStep(steps)) {
    const kind = stepKindOf(step);
    const filled = fieldsOf(step, kind.settings).filter(({ text }) => !PLAIN_TEXT.test(text));
    const keys = new Set(filled.map(({ key }) => key));
    const drawing = drawingKeys(step, kind.settings).filter((key) => keys.has(key));
    if (kind.drawsAs) drawing.push(kind.drawsAs);
    if (drawing.length > 0) yield [step, drawing, `${owner}/${step.id}`];
  }
}

/** All that draws in a design; the study's variables are those of each. */
function* drawers(design: Design, { variables }: Study): Generator<Drawing> {
  for (const variable of variables ?? []) yield [variable, ["value"]];
  for (const type of design.entityTypes)
    yield [type, [...drawingKeys(type, TYPE_SETTINGS), ...type.attributes.map((a) => `attribute ${a.name}`)]];
  for (const element of design.elements) yield [element, drawingKeys(element, kindOf(element).settings)];
  for (const link of design.links) yield [link, drawingKeys(link, LINK_SETTINGS)];
  for (const road of design.roads ?? []) {
    const keys = drawingKeys(road, ROAD_SETTINGS);
    if (keys.length > 0) yield [road, keys];
  }
  for (const { id, steps } of design.procedures ?? []) yield* drawersOfSteps(id, steps);
  for (const rule of design.rules ?? []) {
    if (rule.of === "system" && rule.event === "every") yield [rule, ["every", "first"]];
    yield* drawersOfSteps(rule.id, rule.steps);
  }
}

/**
 * Gives every place that may draw a random stream of its own, where it has none.
 * Numbers already given stay; an element that a copied design shares by its id
 * takes the number it has in the other design, so the designs meet the same
 * randomness. Returns the study itself when nothing was missing.
 */
export function assignStreams(study: Study): Study {
  const taken = new Set<number>();
  let next = 1;
  let missing = false;
  const known = new Map<string, number>();
  for (const design of study.designs) {
    for (const [drawer, settings, owner = drawer.id] of drawers(design, study)) {
      for (const setting of settings) {
        const stream = drawer.streams?.[setting];
        if (stream === undefined) missing = true;
        else if (!known.has(`${owner}/${setting}`)) known.set(`${owner}/${setting}`, stream);
      }
      for (const stream of Object.values(drawer.streams ?? {})) {
        taken.add(stream);
        if (stream < LAST_STREAM) next = Math.max(next, stream + 1);
      }
    }
  }
  if (!missing) return study;
  /** After the largest; where that is the largest there is, whatever is free. */
  const give = (): number => {
    if (next > LAST_STREAM) next = 1;
    while (taken.has(next)) next += 1;
    taken.add(next);
    return next++;
  };
  const copy = JSON.parse(JSON.stringify(study)) as Study;
  for (const design of copy.designs) {
    for (const [drawer, settings, owner = drawer.id] of drawers(design, copy)) {
      for (const setting of settings) {
        const streams = (drawer.streams ??= {});
        if (streams[setting] !== undefined) continue;
        const key = `${owner}/${setting}`;
        if (!known.has(key)) known.set(key, give());
        streams[setting] = known.get(key)!;
      }
    }
  }
  return copy;
}
