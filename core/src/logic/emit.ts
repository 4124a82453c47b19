import type { Checked } from "../expression/index.ts";
import type { StepModel, StepsModel } from "../model/logic.ts";
import type { Node } from "../model/model.ts";
import type { Emitting, Parts } from "./emitting.ts";
import { stepKindOf } from "./steps/index.ts";

/** Whose steps they are, and where they lead. */
interface Whose {
  readonly id: string;
  readonly node: Node | undefined;
  readonly end: number;
}

/**
 * Emits steps as steps of the kernel, the last first, so that each knows the number of the one that it leads to. Gives
 * the first.
 */
export function emitSteps(parts: Parts, { steps }: Pick<StepsModel, "steps">, { id, node, end }: Whose): number {
  const { expressions } = parts.lowering;
  const { kernel } = parts.lowering;

  const emit = (list: readonly StepModel[], last: number, leaveLoop: number): number => {
    let next = last;
    // What is gone to where a step did not come about: the chain of "otherwise" that stands right behind it.
    let otherwise: number | undefined;
    for (let i = list.length - 1; i >= 0; i--) {
      const step = list[i];
      const kind = stepKindOf(step.step);
      const own = kind.lower(step, at(next, otherwise ?? next, leaveLoop));
      const first = step.step.pause ? stopping(step, own) : own;
      if (kind.after) otherwise = first;
      else {
        next = first;
        otherwise = undefined;
      }
    }
    return next;
  };

  /** Where a step stops the watch, one before it tells of it. */
  const stopping = (step: StepModel, first: number) =>
    kernel.emit((token) => {
      parts.reached(id, step, token);
      return first;
    });
  const environment = (step: StepModel, field: string) =>
    expressions.environment(step.step.streams[field] ?? 0, id, `${step.step.id}.${field}`);
  const readOf = (step: StepModel, field: string, checked: Checked) => checked.compile(environment(step, field));
  const optional: Emitting["optional"] = (step, field) => {
    const checked = step.fields.get(field);
    return checked && readOf(step, field, checked);
  };
  const at = (next: number, otherwise: number, leaveLoop: number): Emitting => ({
    ...parts,
    id,
    node,
    next,
    otherwise,
    leaveLoop,
    end,
    under: (inner, after, more = {}) => emit(inner, after, more.leaveLoop ?? leaveLoop),
    read: (step, field, fallback = 0) => optional(step, field) ?? (() => fallback),
    optional,
    readOf,
    write: (step, field) => step.targets.get(field)!.compile(environment(step, field)),
    fail: (step, field, code, message, hint, value) =>
      kernel.fail({ code, message, hint, id, field: `${step.step.id}.${field}`, value }),
  });
  return emit(steps, end, end);
}
