import type { SearchRead } from "@busy-harbor/core/experiments";
import type { SearchState } from "@busy-harbor/core/contract";
import type { SearchStep } from "@busy-harbor/core/inference";
import { z } from "zod";

/** What is kept of a search: what it goes through, and the hash of the study that it keeps to. */
export const keptSearchSchema = z.object({
  plan: z.string(),
  hash: z.string(),
  measure: z.string(),
  bounded: z.string().nullable(),
  stopped: z.boolean().default(false),
  // Written by this program alone, from what was read with care.
  search: z.custom<SearchRead>((value) => typeof value === "object" && value !== null),
});
export type KeptSearch = z.infer<typeof keptSearchSchema>;

/** How a search stands, as it is told. */
export const searchStateOf = (
  { measure, bounded, search, stopped }: KeptSearch,
  { phase, best, path, finalists, holds }: SearchStep,
): SearchState => ({
  phase,
  best: best ?? null,
  path: [...path],
  finalists: [...finalists],
  holds,
  budget: search.settings.budget,
  measure,
  bounded,
  also: (search.also ?? []).map((one) => one.measure),
  isFront: search.settings.front !== undefined,
  stopped,
});
