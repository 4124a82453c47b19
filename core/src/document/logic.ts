import { z } from "zod";
import { expression, id, name, streams } from "../settings/parts.ts";

/** One sentence of a procedure or a rule, as all that knows no kinds of steps sees it. */
export interface StepBase {
  id: string;
  /** Which kind of step it is. */
  do: string;
  note?: string;
  /** It is left out. */
  off?: boolean;
  /** While watching: time stands still when an entity comes to it. */
  pause?: boolean;
  streams: Record<string, number>;
  /** What stands under it, indented. */
  steps?: StepBase[];
}

/** What every step has, whatever its kind. */
export const stepFrame = {
  id,
  note: z.string().max(1000).optional().describe("A remark beside the step."),
  off: z.boolean().optional().describe("It is left out."),
  pause: z.boolean().optional().describe("While watching: time stands still when it is come to."),
  streams,
};

/** Most steps in one procedure or rule, those under others included. */
export const MOST_STEPS = 2000;
/** Most levels of steps under steps. */
export const MOST_LEVELS = 20;

const PARAMETER_KINDS = ["number", "text", "yes or no", "entity", "element", "entity type", "row"] as const;

export const parameterSchema = z.strictObject({
  id,
  name,
  is: z.enum(PARAMETER_KINDS).default("number"),
  unit: z.string().max(40).default("").describe("Of a number: its unit, such as min; empty: none."),
  table: z.string().max(60).default("").describe("Of a row: the id of its table."),
});

export type Parameter = z.output<typeof parameterSchema>;

export const procedureSchemaOf = <S>(step: z.ZodType<S>) =>
  z.strictObject({
    id,
    name,
    note: z.string().max(4000).default(""),
    parameters: z.array(parameterSchema).max(30).default([]),
    steps: z.array(step).max(MOST_STEPS).default([]),
  });

export type ProcedureOf<S = StepBase> = Omit<z.output<ReturnType<typeof procedureSchemaOf<S>>>, "steps"> & {
  steps: S[];
};

/** Whose events a rule hears. */
export const RULE_PLACES = ["system", "element", "group", "entity type"] as const;

/** Events of the system as a whole, to which rules may listen. */
export const SYSTEM_EVENTS = [
  ["start", "the run starts"],
  ["end", "the run ends"],
  ["every", "time and again"],
  ["at times", "at times of day"],
  ["at dates", "it is a date"],
  ["once", "once, after a time"],
  ["shift begins", "a shift begins"],
  ["shift ends", "a shift ends"],
  ["changes", "a value changes"],
] as const;

export const ruleSchemaOf = <S>(step: z.ZodType<S>) =>
  z.strictObject({
    id,
    name: z.string().trim().max(80).default(""),
    note: z.string().max(4000).default(""),
    off: z.boolean().optional().describe("It is left out."),
    of: z.enum(RULE_PLACES).default("element").describe("Whose events it hears."),
    at: z.string().max(200).default("").describe("Id of the element or entity type, or name of the group."),
    event: z.string().max(60).describe("Name of the event, such as `comes in`, or of the system `every`."),
    every: expression.default("").describe("Of `every`: the time between two."),
    first: expression.default("").describe("Of `every` and `once`: the time of the first, from the start."),
    times: z
      .string()
      .max(400)
      .default("")
      .describe(
        "Of `at times`: times of day, such as `08:00, 12:30`. Of `at dates`: dates with times of day, such as `2026-06-05 14:00`.",
      ),
    calendar: z.string().max(60).default("").describe("Of `shift begins` and `shift ends`: id of the shift calendar."),
    value: expression.default("").describe("Of `changes`: what is followed."),
    condition: expression.default("").describe("It acts only where this holds; empty: always."),
    streams,
    steps: z.array(step).max(MOST_STEPS).default([]),
  });

export type RuleOf<S = StepBase> = Omit<z.output<ReturnType<typeof ruleSchemaOf<S>>>, "steps"> & { steps: S[] };

/** Every step under these, each before those under it. */
export function* everyStep<S extends StepBase>(steps: readonly S[]): Generator<S> {
  for (const step of steps) {
    yield step;
    if (step.steps) yield* everyStep(step.steps as S[]);
  }
}
