import type { SearchPlan } from "@busy-harbor/core";

/** Changes the search of an experiment as one step; steps with one key are undone together. */
export type EditSearch = (what: string, recipe: (search: SearchPlan) => void, key?: string) => void;
