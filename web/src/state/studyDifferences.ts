import { differences, type Study } from "@busy-harbor/core";

/** What a study has besides its designs, in words. */
const PARTS: Readonly<Partial<Record<keyof Study, string>>> = {
  name: "The study's name",
  question: "The question",
  units: "The units",
  run: "The run settings",
  comparison: "What is compared",
  plan: "The plan",
  calendars: "The calendars",
  drawings: "The drawings",
  variables: "The variables",
  tables: "The tables",
};

/**
 * How a study differs from another version of it, in sentences: what `to` has that `from` has not, or has otherwise.
 */
export function studyDifferences(from: Study, to: Study): string[] {
  const sentences: string[] = [];
  const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b);
  for (const [part, words] of Object.entries(PARTS) as [keyof Study, string][])
    if (!same(from[part], to[part]))
      sentences.push(`${words} ${/s$/.test(words) && words !== "The study's name" ? "differ" : "differs"}.`);
  for (const design of from.designs)
    if (!to.designs.some((d) => d.id === design.id)) sentences.push(`The design ${design.name} is not there.`);
  for (const design of to.designs) {
    const before = from.designs.find((d) => d.id === design.id);
    if (!before) {
      sentences.push(`The design ${design.name} is new.`);
      continue;
    }
    const found = differences(before, design, to.variables).map((d) => d.sentence);
    sentences.push(...found.map((sentence) => (to.designs.length > 1 ? `${design.name}: ${sentence}` : sentence)));
    if (found.length === 0 && !same(before, design))
      sentences.push(`${design.name} differs in its displays, measures, groups or notes.`);
  }
  return sentences;
}
