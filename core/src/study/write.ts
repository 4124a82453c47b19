import type { Study } from "./schema.ts";
import { studySchema } from "./schema.ts";

/**
 * The text of a study file: the schema's key order, two spaces, one value a
 * line, but a point or other list of plain values on one line. The same study
 * always gives the same text, so files differ only where studies do.
 */
export function writeStudy(study: Study): string {
  return `${write(inOrder(studySchema.parse(study)), "")}\n`;
}

/** Values by factor have no order of their own: they are written by the ids of the factors. */
function inOrder(study: Study): Study {
  if (!study.experiments) return study;
  const sorted = <T>(of: Record<string, T>): Record<string, T> =>
    Object.fromEntries(Object.entries(of).sort(([a], [b]) => (a < b ? -1 : 1)));
  const experiments = study.experiments.map((experiment) => ({
    ...experiment,
    scenarios: experiment.scenarios.map((scenario) => ({ ...scenario, values: sorted(scenario.values) })),
    ...(experiment.search ? { search: { ...experiment.search, ranges: sorted(experiment.search.ranges) } } : {}),
  }));
  return { ...study, experiments };
}

function write(value: unknown, indent: string): string {
  if (Array.isArray(value)) {
    if (value.length === 0) return "[]";
    if (value.every((item) => typeof item !== "object" || item === null))
      return `[${value.map((item) => JSON.stringify(item)).join(", ")}]`;
    const inner = `${indent}  `;
    return `[\n${value.map((item) => inner + write(item, inner)).join(",\n")}\n${indent}]`;
  }
  if (typeof value === "object" && value !== null) {
    const entries = Object.entries(value).filter(([, item]) => item !== undefined);
    if (entries.length === 0) return "{}";
    // An open set of numbers, such as streams by setting, has no order of its own.
    if (entries.every(([, item]) => typeof item === "number"))
      return `{ ${entries
        .sort(([a], [b]) => (a < b ? -1 : 1))
        .map(([key, item]) => `${JSON.stringify(key)}: ${JSON.stringify(item)}`)
        .join(", ")} }`;
    const inner = `${indent}  `;
    return `{\n${entries.map(([key, item]) => `${inner}${JSON.stringify(key)}: ${write(item, inner)}`).join(",\n")}\n${indent}}`;
  }
  return JSON.stringify(value);
}
