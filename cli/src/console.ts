/** Where the command line writes. */
export interface Console {
  out(text: string): void;
  err(text: string): void;
}

/** Exit codes of the command line. */
export const EXIT = { ok: 0, problems: 1, usage: 2 } as const;

/** A call that cannot be carried out as it was written. */
export class UsageError extends Error {}
