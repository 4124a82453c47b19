import type { Model } from "../model/model.ts";
import type { Expressions } from "./expressions.ts";
import type { Replication } from "./replication.ts";

/** Ends a replication before its length when the model's condition for that holds. */
export function endOnCondition({ stop }: Model, expressions: Expressions, replication: Replication): void {
  const { condition } = stop;
  if (!condition) return;
  const holds = condition.compile(expressions.environment(0));
  expressions.onChangeOf(condition, () => {
    if (holds(-1) !== 0) replication.end();
  });
}
