/** Why a replication stopped before its end. Figures up to `time` are kept and marked partial. */
export interface RunFailure {
  readonly code:
    | "negative-duration"
    | "non-finite-duration"
    | "invalid-count"
    | "nobody-can"
    | "instant-loop"
    | "too-many-entities"
    | "event-budget"
    | "bad-share"
    | "bad-rank"
    | "no-such-way"
    | "no-room-at-start"
    | "bad-room"
    | "no-route"
    | "jam"
    | "out-of-charge"
    | "over-limit"
    | "no-row"
    | "no-value"
    | "no-such-position"
    | "no-such-resource"
    | "not-written"
    | "step-failed";
  readonly message: string;
  readonly hint?: string;
  /** Where: an element, link or entity type of the design, and the setting of it. */
  readonly id?: string;
  readonly field?: string;
  /** Seconds from the start. */
  readonly time: number;
  readonly value?: number;
}
