import type { LogicModel, ProcedureModel, RuleModel, StepModel } from "../../model/logic.ts";
import type { Node } from "../../model/model.ts";

type Sends = LogicModel["sends"];

/** Between which elements steps send entities, and where they make which: what links alone do not tell. */
export function sendsOf(
  rules: readonly RuleModel[],
  procedures: readonly ProcedureModel[],
  nodes: readonly Node[],
  typeAt: (id: string) => number,
): Sends {
  const found: Sends[number][] = [];
  const anywhere = nodes.filter(({ traits }) => traits.hasWayIn).map(({ index }) => index);
  const walk = (steps: readonly StepModel[], from: readonly number[], seen: ReadonlySet<string>): void => {
    for (const { step, fields, steps: inner } of steps) {
      const values = step as unknown as { procedure?: string; at?: string; type?: string };
      if (step.do === "send" || step.do === "copy" || step.do === "set down") {
        const to = fields.get("to")?.constant;
        for (const target of to === undefined ? anywhere : [to])
          for (const one of step.do === "set down" ? nodes.map(({ index }) => index) : from)
            if (nodes[target]) found.push({ from: one, to: target });
      }
      if (step.do === "make") {
        const to = nodes.findIndex(({ element }) => element.id === values.at);
        if (to >= 0) found.push({ from: -1, to, type: typeAt(values.type ?? "") });
      }
      if (step.do === "call" && !seen.has(values.procedure ?? "")) {
        const called = procedures.find(({ procedure }) => procedure.id === values.procedure);
        if (called) walk(called.steps, from, new Set([...seen, called.procedure.id]));
      }
      walk(inner, from, seen);
    }
  };
  for (const { rule, steps, nodes: at } of rules) if (!rule.off) walk(steps, at.length > 0 ? at : [], new Set());
  return found;
}
