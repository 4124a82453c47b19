/** The stages of a study, in the order of work. */
export const STAGES = ["Frame", "Build", "Watch", "Check", "Measure", "Compare", "Tell"] as const;
