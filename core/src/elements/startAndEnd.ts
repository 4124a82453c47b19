import type { Node } from "../model/model.ts";
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

/**
 * What has those in a queue or station at the start come in there, as far as there is room; undefined where nothing
 * is.
 */
export function initialContents(node: Node, lowering: Lowering): (() => void) | undefined {
  const { element, index } = node;
  if (!("initial" in element) || element.initial.length === 0) return undefined;
  const { kernel, model, entries } = lowering;
  const groups = element.initial.map(({ id, entityType }) => ({
    bear: lowering.birth(model.types.findIndex((t) => t.type.id === entityType)),
    count: node.settings.get(`initial.${id}.count`)?.constant ?? 0,
  }));
  const room = lowering.roomOf(index);
  return () => {
    for (const { bear, count } of groups) {
      for (let i = 0; i < count; i++) {
        if (room && !room.tryClaim()) {
          kernel.fail({
            code: "no-room-at-start",
            message: `More are in ${element.name} at the start than it has room for.`,
            hint: "Let fewer be there, or give it more room.",
            id: element.id,
            field: "initial",
          });
          return;
        }
        lowering.come(index);
        if (bear(entries[index]) < 0) return;
      }
    }
  };
}
