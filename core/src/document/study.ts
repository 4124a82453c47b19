import { z } from "zod";
import { fileId, name } from "../settings/parts.ts";
import { calendarSchema } from "./calendar.ts";
import { type DesignOf, designSchemaOf } from "./design.ts";
import { drawingSchema } from "./drawing.ts";
import type { ElementBase } from "./element.ts";
import type { StepBase } from "./logic.ts";
import { frameSchema } from "./frame.ts";
import { experimentSchema } from "./experiment.ts";
import { fittedSchema } from "./fitted.ts";
import { planShapeSchema } from "./plan.ts";
import { runSettingsSchema } from "./runSettings.ts";
import { streamSettingsSchema } from "./streamSettings.ts";
import { tableSchema } from "./table.ts";
import { variableSchema } from "./variable.ts";

export const FORMAT = "busy-harbor-study";
export const VERSION = 1;

/**
 * The study file, version 1, whose elements and steps are as `element` and `step` say: one definition for types,
 * validation, defaults and the published JSON Schema. Lengths are metres; every quantity a person types is kept as the
 * text they typed. Unknown keys are refused, so a typing slip in a hand-written file is named rather than ignored.
 */
export const studySchemaOf = <E, S>(element: z.ZodType<E>, step: z.ZodType<S>) =>
  z.strictObject({
    format: z.literal(FORMAT),
    version: z.literal(VERSION),
    name,
    question: z.string().max(4000).default(""),
    frame: frameSchema.optional().describe("Boundary, assumptions and deciding measures."),
    units: z
      .strictObject({
        time: z.enum(["s", "min", "h", "d"]).default("min"),
        length: z.enum(["m", "ft", "in"]).default("m"),
      })
      .prefault({})
      .describe("Units figures are shown in; never changes what is stored."),
    run: runSettingsSchema.prefault({}),
    comparison: z
      .strictObject({ designs: z.array(z.string()).default([]), measures: z.array(z.string()).default([]) })
      .prefault({})
      .describe("What the Compare stage shows: design ids, the first being the baseline, and measure keys."),
    plan: z.array(planShapeSchema).max(20_000).default([]).describe("The drawing under the elements."),
    calendars: z
      .array(calendarSchema)
      .max(500)
      .default([])
      .describe("Shift calendars and demand profiles, for all designs."),
    streams: z
      .array(streamSettingsSchema)
      .max(10_000)
      .default([])
      .describe("Random streams that have a name or a seed of their own, or are the same in every replication."),
    tables: z
      .array(tableSchema)
      .max(500)
      .default([])
      .describe("Tables, for all designs that have no version of theirs."),
    variables: z.array(variableSchema).max(1000).optional().describe("Values of the system as a whole."),
    fits: z.array(fittedSchema).max(5000).optional().describe("Expressions that were fitted to observations."),
    experiments: z.array(experimentSchema).max(200).optional().describe("Scenarios that are run and compared."),
    drawings: z.array(drawingSchema).max(100).default([]).describe("Background drawings, the lowest first."),
    designs: z.array(designSchemaOf(element, step)).min(1, "A study needs at least one design.").max(500),
    files: z
      .record(fileId, z.base64())
      .default({})
      .describe(
        "Contents of the drawings' files, so that a study file is whole by itself. An open study keeps them apart.",
      ),
  });

type Whole<E, S> = z.output<ReturnType<typeof studySchemaOf<E, S>>>;
/** A study; its elements are of any kind unless told. */
export type StudyOf<E = ElementBase, S = StepBase> = Omit<Whole<E, S>, "designs"> & { designs: DesignOf<E, S>[] };
