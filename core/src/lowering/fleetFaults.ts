import type { RunFailure } from "../kernel/failure.ts";

/** Why a fleet ends a run, each as it is told; `id` is that of the fleet. */
type Fault = Omit<RunFailure, "time">;

export const noHome = (id: string, value: number): Fault => ({
  code: "step-failed",
  message: "named no element at which a vehicle is at home.",
  hint: "Give each row of its table one; of a family, name a member.",
  id,
  field: "homeAt",
  value,
});

export const noLimit = (id: string, value: number): Fault => ({
  code: "over-limit",
  message: `gave ${value}, and the load limit of a vehicle is above 0.`,
  hint: "Give each row of its table one.",
  id,
  field: "limit",
  value,
});

export const noWorth = (id: string, value: number): Fault => ({
  code: "bad-rank",
  message: "gave no number by which one of the vehicles would answer.",
  hint: "Look for a division of 0 by 0, or an empty cell.",
  id,
  field: "worth",
  value,
});

/** It takes more than the most that any of them carries, or less than nothing. */
export const tooMuch = (id: string, value: number, most: number): Fault => ({
  code: "over-limit",
  message: `gave ${value}, and one carries from 0 to ${most}.`,
  hint: "Raise the load limit, or have such go another way.",
  id,
  field: "takes",
  value,
});

/** The battery or tank of one, by its name, is empty on the way: it has gone `range` metres. */
export const runOut = (id: string, name: string, range: number): Fault => ({
  code: "out-of-charge",
  message: `${name} has run out on the way: it has gone ${range} m since it was full.`,
  hint: "Have it refill earlier, give it a longer range, or a place to refill that is nearer.",
  id,
  field: "range",
});
