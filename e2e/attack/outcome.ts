/** What came of one part of the attack: counts by name, and what went wrong, in words. */
export interface Outcome {
  readonly counts: Readonly<Record<string, number>>;
  readonly failures: readonly string[];
}
