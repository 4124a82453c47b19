import type { MeasureInfo } from "../measures/info.ts";
import { type MeasureSpec, type MeasureSpecs, meanTime, QUANTILES } from "../measures/spec.ts";
import { CUSTOM_MEASURES, GROUP_MEASURES } from "./custom.ts";
import { allKinds } from "./index.ts";
import { WAITING_MEASURES } from "../logic/waits.ts";
import { LINK_MEASURES } from "../lowering/settingOut.ts";
import { ROAD_MEASURES } from "../lowering/traffic.ts";
import { CONVEYOR_MEASURES } from "../lowering/conveyor.ts";
import { TYPE_MEASURES } from "../lowering/typeMeter.ts";

export const RUN_MEASURES = {
  length: meanTime("Length of the replication", "From the start to what ended the replication.", {
    parts: undefined,
    formula: "time of the end",
  }),
  ...WAITING_MEASURES,
} as const satisfies MeasureSpecs;

/** Everything of which something is measured, in the order of results, with its measures. */
export const measureRegistry: ReadonlyMap<string, MeasureSpecs> = new Map<string, MeasureSpecs>([
  ["run", RUN_MEASURES],
  ["custom", CUSTOM_MEASURES],
  ["group", GROUP_MEASURES],
  ["family", GROUP_MEASURES],
  ["entity type", TYPE_MEASURES],
  ...allKinds.map(({ kind, measures }) => [kind, measures] as const),
  ["link", LINK_MEASURES],
  ["conveyor", CONVEYOR_MEASURES],
  ["way", ROAD_MEASURES],
]);

/** Figures in the order of results; those of one kind of owner stay as they are. */
export function inOrder<T extends MeasureInfo>(measures: readonly T[]): T[] {
  const ranks = new Map([...measureRegistry.keys()].map((kind, rank) => [kind, rank]));
  return [...measures].sort((a, b) => ranks.get(a.ownerKind)! - ranks.get(b.ownerKind)!);
}

/** The measure that a figure is of; undefined for one that this version does not know. */
export const specOf = ({ ownerKind, measure }: Pick<MeasureInfo, "ownerKind" | "measure">): MeasureSpec | undefined =>
  measureRegistry.get(ownerKind)?.[measure];

/**
 * The id of what every observation, or every change of a level, can be kept of, for a figure of it: the owner and the
 * measure, and what it is for alone. Undefined for what is worked out of others.
 */
export function sourceOf(info: Pick<MeasureInfo, "ownerKind" | "ownerId" | "measure" | "each">): string | undefined {
  const { ownerKind, ownerId, measure, each } = info;
  const { statistic, keeps = statistic === "tally" || statistic === "level" } = specOf(info) ?? {};
  // Shares of time of several elements together are weighed from their figures.
  const isTogether = ownerKind === "group" || ownerKind === "family";
  if (!keeps || (isTogether && statistic === "share")) return undefined;
  return `${ownerId}/${measure}${each === undefined ? "" : `.${each}`}`;
}

/** What a figure means, in words. */
export function definitionOf(info: Pick<MeasureInfo, "ownerKind" | "measure" | "part">): string {
  const spec = specOf(info);
  if (!spec) return "";
  const { part } = info;
  const definition = (part === undefined ? undefined : spec.definitions?.[part]) ?? spec.definition;
  const quantile = QUANTILES.find((p) => part === `p${p}`);
  if (part === "max") return `${definition} The largest value.`;
  if (part === "end") return `${definition} The value when the run ends.`;
  if (quantile !== undefined)
    return `${definition} The smallest value that ${quantile} % stay at or below: exact up to 4096 observations above 0 in a replication, beyond that off by at most 0.8 %, which the half-width holds.`;
  return definition;
}

/**
 * The measure and part of a figure of a run that was kept before figures told them: the longest name of a measure of
 * its kind of owner with which its own begins.
 */
export function placeFigure(ownerKind: string, id: string): Pick<MeasureInfo, "measure" | "part" | "each"> {
  const specs = measureRegistry.get(ownerKind) ?? {};
  const found = Object.keys(specs)
    .filter((name) => id === name || id.startsWith(`${name}.`))
    .sort((a, b) => b.length - a.length)[0];
  if (found === undefined) return { measure: id };
  const [first, ...rest] = id.slice(found.length + 1).split(".");
  const spec = specs[found];
  const hasPart = first !== "" && spec.parts !== undefined && first in spec.parts;
  const each = (hasPart ? rest : first === "" ? [] : [first, ...rest]).join(".");
  return { measure: found, ...(hasPart ? { part: first } : {}), ...(each === "" ? {} : { each }) };
}
