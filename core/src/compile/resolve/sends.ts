import { nameKey } from "../../expression/index.ts";
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
  const lined = nodes.filter(({ traits }) => traits.hasLine).map(({ index }) => index);
  // In which lines those are whom steps have given names.
  const inLines = new Map<string, readonly number[]>();
  const walk = (steps: readonly StepModel[], from: readonly number[], seen: ReadonlySet<string>): void => {
    for (const { step, fields, steps: inner } of steps) {
      const values = step as unknown as {
        procedure?: string;
        at?: string;
        type?: string;
        who?: string;
        name?: string;
      };
      if (step.do === "send" || step.do === "copy" || step.do === "set down") {
        const to = fields.get("to")?.constant;
        for (const target of to === undefined ? anywhere : [to])
          for (const one of step.do === "set down" ? nodes.map(({ index }) => index) : from)
            if (nodes[target]) found.push({ from: one, to: target });
      }
      if (step.do === "take out" && fields.has("to")) {
        const to = fields.get("to")!.constant;
        const lines = inLines.get(nameKey(values.who ?? "")) ?? lined;
        for (const target of to === undefined ? anywhere : [to])
          for (const one of lines) if (nodes[target]) found.push({ from: one, to: target });
      }
      const line = step.do === "find" ? fields.get("at") : step.do === "each" ? fields.get("what") : undefined;
      if (line?.type.kind === "element")
        inLines.set(nameKey(values.name ?? ""), nodes[line.constant ?? -1] ? [line.constant!] : lined);
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
