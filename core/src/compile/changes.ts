import type { RunSettings } from "../document/runSettings.ts";
import { type Table, tablesOf } from "../document/table.ts";
import { variablesOf } from "../document/variable.ts";
import type { Study } from "../study/schema.ts";
import { differences } from "./differences.ts";

/** Run settings that make a run's numbers, as they are called. */
const SETTINGS = {
  start: "Start",
  length: "Length",
  warmUp: "Warm-up",
  seed: "Seed",
  kind: "Type of run",
  ends: "What ends a replication",
  endDate: "End",
  count: "Departures",
  condition: "Ends when",
  nights: "Nights",
  opens: "Opens",
  closes: "Closes",
  mostEntities: "Entities above",
  mostEvents: "Events above",
} as const satisfies Partial<Record<keyof RunSettings, string>>;

interface Named {
  readonly id: string;
  readonly name: string;
}

/**
 * What a run of a design would be made with now that it was not made with then, in sentences: settings of the run,
 * the design, and what it takes from the study.
 */
export function changesSince(then: Study, now: Study, designId: string): string[] {
  const [before, after] = [then, now].map(({ designs }) => designs.find(({ id }) => id === designId));
  if (!before || !after) return ["The design is not there any more."];
  const [variablesThen, variablesNow] = [
    variablesOf(then.variables, before.variables),
    variablesOf(now.variables, after.variables),
  ];
  const streams = (of: Study) => JSON.stringify([...of.streams].sort((a, b) => a.stream - b.stream));
  return [
    ...settingsChanged(then.run, now.run),
    ...differences(before, after).map(({ sentence }) => sentence),
    ...listChanged("The variable", variablesThen, variablesNow, (a, b) =>
      a.value === b.value ? undefined : `${b.name}: ${a.value} becomes ${b.value}.`,
    ),
    ...listChanged("The calendar", then.calendars, now.calendars, (a, b) =>
      isSame(a, b) ? undefined : `The calendar ${b.name} is another.`,
    ),
    ...listChanged("The table", tablesOf(then.tables, before.tables), tablesOf(now.tables, after.tables), tableChanged),
    ...listChanged("The measure", before.measures, after.measures, (a, b) =>
      isSame(a, b) ? undefined : `The measure ${b.name} is another.`,
    ),
    ...(streams(then) === streams(now) ? [] : ["Random sources are set otherwise."]),
  ];
}

const isSame = (a: unknown, b: unknown): boolean => JSON.stringify(a) === JSON.stringify(b);

function settingsChanged(then: RunSettings, now: RunSettings): string[] {
  const told = (Object.keys(SETTINGS) as (keyof typeof SETTINGS)[]).flatMap((key) =>
    then[key] === now[key] ? [] : [`${SETTINGS[key]}: ${then[key] || "none"} becomes ${now[key] || "none"}.`],
  );
  // Replications only make a run longer; batches are cut from one.
  const isCut = then.kind === "long" && now.kind === "long" && then.replications !== now.replications;
  return isCut ? [...told, `Batches: ${then.replications} becomes ${now.replications}.`] : told;
}

function listChanged<T extends Named>(
  what: string,
  then: readonly T[],
  now: readonly T[],
  changed: (a: T, b: T) => string | undefined,
): string[] {
  const old = new Map(then.map((one) => [one.id, one]));
  const kept = new Set(now.map(({ id }) => id));
  return [
    ...now.flatMap((one) => {
      const before = old.get(one.id);
      return before ? (changed(before, one) ?? []) : [`${what} ${one.name} is added.`];
    }),
    ...then.flatMap(({ id, name }) => (kept.has(id) ? [] : [`${what} ${name} is taken away.`])),
  ];
}

function tableChanged(a: Table, b: Table): string | undefined {
  if (isSame([a.columns, a.key], [b.columns, b.key])) {
    if (isSame(a.rows, b.rows)) return undefined;
    const rows = Math.min(a.rows.length, b.rows.length);
    let cells = 0;
    for (let r = 0; r < rows; r++) a.rows[r].forEach((cell, c) => (cells += Number(cell !== b.rows[r][c])));
    const more = b.rows.length - a.rows.length;
    const parts = [
      ...(cells > 0 ? [`${cells} ${cells === 1 ? "cell is another" : "cells are others"}`] : []),
      ...(more === 0
        ? []
        : [`${Math.abs(more)} ${Math.abs(more) === 1 ? "row" : "rows"} ${more > 0 ? "more" : "fewer"}`]),
    ];
    return `The table ${b.name}: ${parts.join(", ")}.`;
  }
  return `The table ${b.name} has other columns.`;
}
