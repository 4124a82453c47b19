import type { StudyFrame } from "@busy-harbor/core";

/** Changes what a study is about, as a step to undo; `key` is that of what is typed. */
export type EditFrame = (what: string, recipe: (frame: StudyFrame) => void, key?: string) => void;
