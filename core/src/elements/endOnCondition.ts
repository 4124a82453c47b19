import type { Lowering } from "./lowering.ts";

/** Ends a replication before its length when the model's condition for that holds. */
export function endOnCondition(lowering: Lowering): void {
  const { condition } = lowering.model.stop;
  if (!condition) return;
  const holds = condition.compile(lowering.environment(0));
  lowering.onChangeOf(condition, () => {
    if (holds(-1) !== 0) lowering.endRun();
  });
}
