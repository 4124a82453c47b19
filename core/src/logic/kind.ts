import { z } from "zod";
import { type StepBase, stepFrame } from "../document/logic.ts";
import type { ValueType } from "../expression/index.ts";
import type { StepModel } from "../model/logic.ts";
import { type SettingsSpec, settings, shapeOf } from "../settings/setting.ts";
import type { Emitting } from "./emitting.ts";

/** What steps are about: how they are sorted where one is chosen. */
export const STEP_GROUPS = [
  ["values", "Values"],
  ["time", "Time and conditions"],
  ["choice", "Choices and loops"],
  ["resources", "Resources"],
  ["entities", "Entities"],
  ["stock", "Stock"],
  ["record", "Measures and records"],
  ["calls", "Procedures"],
] as const;

/** A name that a step gives to a value, and the setting that tells what kind of value it is. */
export interface Declared {
  /** The setting that holds the name. */
  readonly field: string;
  /** The setting whose value it is … */
  readonly of?: string;
  /** … of which it is one of the values, or a row … */
  readonly each?: boolean;
  /** … or what it is in any case. */
  readonly type?: ValueType;
  /** It is known under this step alone, not after it. */
  readonly inside?: boolean;
  /** It is known in the settings of the step itself too. */
  readonly own?: boolean;
}

interface Definition<S extends SettingsSpec> {
  readonly kind: string;
  /** Where a step is chosen. */
  readonly label: string;
  readonly group: (typeof STEP_GROUPS)[number][0];
  /** What it does, in a sentence or two. */
  readonly help: string;
  /** How it may read, filled in. */
  readonly example: string;
  /** The sentence it is shown as: `Wait {time}`; a part in brackets that holds no filled-in setting is left out. */
  readonly sentence: string;
  readonly settings: S;
  /** Steps may stand under it. */
  readonly holdsSteps?: boolean;
  /** It stands directly behind one of these alone, and is gone to where that did not come about. */
  readonly after?: readonly string[];
  /** It stands under one of these alone. */
  readonly under?: readonly string[];
  /** It is about the entity at hand, so there must be one. */
  readonly ofEntity?: boolean;
  /** Time may pass in it, or the entity goes elsewhere: see `StepsModel.takesTime`. */
  takesTime?(step: StepBase & Readonly<Record<string, unknown>>): boolean;
  /** It looks through a line, or has somebody leave it or stand elsewhere in it. */
  readonly usesLines?: boolean;
  /** Entities carry others from it on. */
  carries?(step: StepBase & Readonly<Record<string, unknown>>): boolean;
  readonly declares?: readonly Declared[];
  /** It draws without an expression that does, under this name of its stream. */
  readonly drawsAs?: string;
  /** Emits its steps for the kernel, and gives the first: afterwards `next` is gone to, else `otherwise`. */
  lower(step: StepModel, at: Emitting): number;
}

/** A kind of step as it is used. */
export interface StepKind<S extends SettingsSpec = SettingsSpec> extends Definition<S> {
  readonly schemaOf: (steps: z.ZodType) => z.ZodType;
}

/** A kind of step: what stands in the document is made of its settings. */
export function stepKind<const S extends SettingsSpec>(
  kind: Omit<Definition<S>, "settings"> & { settings: S },
): StepKind {
  const named = settings(kind.settings);
  return {
    ...kind,
    settings: named,
    schemaOf: (steps) =>
      z.strictObject({
        do: z.literal(kind.kind),
        ...stepFrame,
        ...shapeOf(named),
        ...(kind.holdsSteps ? { steps: z.array(steps).max(2000).default([]) } : {}),
      }),
  };
}
