import { compile, measuresOf, type Problem, readStudy, run, type ReplicationResult, type Study } from "../src/index.ts";
import { chain } from "./study.ts";

type Loose = Record<string, unknown>;

/** A design with logic, from the few parts that a test cares about. */
export interface LogicParts {
  readonly elements: Loose[];
  readonly links: Loose[];
  readonly types?: Loose[];
  readonly measures?: Loose[];
  readonly procedures?: Loose[];
  readonly rules?: Loose[];
  readonly variables?: Loose[];
  readonly tables?: Loose[];
  readonly calendars?: Loose[];
  readonly run?: Loose;
}

/** Steps with ids of their own, those under them too. */
export const numbered = (steps: Loose[], prefix = "s"): Loose[] =>
  steps.map((step, i) => ({
    id: `${prefix}${i + 1}`,
    ...step,
    ...(Array.isArray(step.steps) ? { steps: numbered(step.steps as Loose[], `${prefix}${i + 1}.`) } : {}),
  }));

const withSteps = (items: Loose[] | undefined, kind: string) =>
  items?.map((item, i) => ({
    id: `${kind}${i + 1}`,
    name: "",
    ...item,
    steps: numbered((item.steps ?? []) as Loose[]),
  }));

export function logicStudy(parts: LogicParts): Study {
  const { variables, tables, calendars, elements, links, types, measures, run: settings } = parts;
  const result = readStudy({
    format: "busy-harbor-study",
    version: 1,
    name: "Test",
    run: { length: "100 min", ...settings },
    ...(variables ? { variables } : {}),
    ...(tables ? { tables } : {}),
    ...(calendars ? { calendars } : {}),
    designs: [
      {
        id: "d1",
        name: "Base",
        entityTypes: types ?? [{ id: "t1", name: "Crate" }],
        elements: elements.map((e, i) => ({
          name: String(e.id),
          at: [i * 10, 0],
          ...(e.kind === "arrivals" ? { entityType: "t1" } : {}),
          ...e,
        })),
        links: links.map((l, i) => ({ id: `l${i}`, ...l })),
        ...(measures ? { measures } : {}),
        ...(parts.procedures ? { procedures: withSteps(parts.procedures, "p") } : {}),
        ...(parts.rules ? { rules: withSteps(parts.rules, "r") } : {}),
      },
    ],
  });
  if (!result.ok) throw new Error(JSON.stringify(result.problems, null, 1));
  return result.study;
}

export const problemsOf = (parts: LogicParts): Problem[] => [...compile(logicStudy(parts)).problems];

export interface Ran {
  readonly result: ReplicationResult;
  value(key: string): number;
}

/** One replication, with its figures by key. */
export function ran(parts: LogicParts | Study, options: { seed?: number; replication?: number } = {}): Ran {
  const study = "designs" in parts ? parts : logicStudy(parts);
  const { program, problems } = compile(study);
  if (!program) throw new Error(JSON.stringify(problems, null, 1));
  const result = run(program, { seed: 1, replication: 1, ...options })!;
  return {
    result,
    value(key) {
      const at = measuresOf(program).findIndex((m) => m.key === key);
      if (at < 0)
        throw new Error(
          `No measure ${key}: ${measuresOf(program)
            .map((m) => m.key)
            .join(" ")}`,
        );
      return result.values[at];
    },
  };
}

/** The same, where nothing may go wrong. */
export function values(parts: LogicParts | Study): (key: string) => number {
  const { result, value } = ran(parts);
  if (result.failure) throw new Error(`${result.failure.message} ${result.failure.field ?? ""}`);
  return value;
}

/** Arrivals every 10 minutes from the first minute on, over a junction to departures. */
export const line = (more: Loose = {}) => ({
  elements: [
    { id: "in", kind: "arrivals", between: "10 min", first: "1 min" },
    { id: "j", kind: "junction" },
    { id: "out", kind: "departures" },
  ],
  links: chain("in", "j", "out"),
  run: { length: "100 min" },
  ...more,
});
export const at = (id: string, event: string, steps: Loose[], more: Loose = {}) => ({
  of: "element",
  at: id,
  event,
  steps,
  ...more,
});
export const system = (event: string, steps: Loose[], more: Loose = {}) => ({ of: "system", event, steps, ...more });
export const set = (...pairs: [string, string][]) => ({
  do: "set",
  values: pairs.map(([what, to], i) => ({ id: `v${i}`, what, to })),
});
export const ended = (id: string, value: string) => ({ id, name: id, kind: "average", value });
export const N = [{ id: "n", name: "N", value: "0" }];
