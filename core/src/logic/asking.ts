import type { Read } from "../expression/index.ts";
import { EventClass, SUSPEND } from "../kernel/kernel.ts";
import { PART } from "../kernel/pool.ts";
import type { Asker } from "../lowering/requests.ts";
import type { StepModel } from "../model/logic.ts";
import type { Emitting } from "./emitting.ts";

/**
 * Has tokens ask for resources at a step, by its settings of priority and patience, and wait where they are; given them
 * they go on as `granted` says, and where their patience is over to the otherwise of the step.
 */
export function asking(
  step: StepModel,
  { lowering: { kernel }, claims, id, otherwise, optional, read, standingAt }: Emitting,
  asker: Asker,
  granted: Read,
): Read {
  const { pool, clock } = kernel;
  const stand = standingAt("needing");
  const priority = read(step, "priority");
  const patience = optional(step, "patience");
  const begin = (token: number) =>
    kernel.delay(token, patience!(token), EventClass.lines, id, `${step.step.id}.patience`);
  const decided = kernel.emit((token) => {
    if (pool.typeOf(token) >= 0) pool.credit(token, PART.waiting, clock);
    return patience && claims.hasGivenUp(token) ? otherwise : granted(token);
  });
  return (token) => {
    stand(token);
    pool.setPc(token, decided);
    if (patience) claims.beginPatience(token, begin);
    claims.ask(token, asker, priority(token));
    return SUSPEND;
  };
}
