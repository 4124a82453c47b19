import type { Checked, Read } from "../expression/index.ts";
import { WaitList } from "../kernel/claims.ts";
import { EventClass } from "../kernel/kernel.ts";
import { NEXT, STRIDE_BITS } from "../kernel/pool.ts";
import type { StepModel } from "../model/logic.ts";
import { type MeasureSpecs, ratio } from "../measures/spec.ts";
import type { Lowering } from "../lowering/lowering.ts";

/** What is measured of steps that wait for something to become so. */
export const WAITING_MEASURES = {
  stillWaiting: ratio(
    "Still waiting there at the end",
    "How many wait at this step when the run ends: where that is many, or what they wait for can come no more, something is missing.",
    "n(T)",
    { each: "step", better: "less" },
  ),
} as const satisfies MeasureSpecs;

/** Who waits in steps, for a condition or a signal, and for how long at most. */
export class Waits {
  private readonly counts = new Map<string, (() => number)[]>();
  /** Who waits for a time at most and has been given what it waited for, with nothing pending any more. */
  private readonly served = new Set<number>();

  constructor(
    private readonly lowering: Lowering,
    /** A step of a procedure or a rule, by its id, in words. */
    private readonly say: (id: string, step: StepModel) => string,
  ) {
    lowering.replication.atStart(() => this.served.clear());
  }

  /** A waiting token has been given what it waited for: if it waits for a time at most, that is over without effect. */
  serve(token: number): void {
    const { calendar } = this.lowering.kernel;
    if (Number.isNaN(calendar.timeOf(token))) return;
    calendar.cancel(token);
    this.served.add(token);
  }

  /**
   * Who waits until a condition holds: gives what has a token wait, which goes on at the step it has when it may. All
   * for whom it holds go on, who came first before the others, when all else at that instant is done.
   */
  until(
    checked: Checked,
    holds: Read,
  ): { readonly waiting: WaitList; join(token: number): void; leave(token: number): void } {
    const { kernel, replication, expressions } = this.lowering;
    const waiting = new WaitList();
    replication.atStart(() => waiting.reset());
    const look = (): void => {
      for (let token = waiting.head; token >= 0;) {
        const after = kernel.pool.ints[(token << STRIDE_BITS) + NEXT];
        if (holds(token) !== 0) {
          waiting.remove(kernel, token);
          kernel.resume(token);
        }
        token = after;
      }
    };
    const ask = expressions.onChangeOf(checked, look, () => waiting.length > 0);
    return {
      waiting,
      join(token) {
        waiting.append(kernel, token);
        ask();
      },
      leave: (token) => waiting.remove(kernel, token),
    };
  }

  /** Has it measured how many still wait at a step when the run ends; several lists may be of one. */
  measure(id: string, step: StepModel, count: () => number): void {
    const key = `${id}.${step.step.id}`;
    const known = this.counts.get(key);
    // The steps of one rule are there for each element that it is of.
    if (known) return void known.push(count);
    const counts = [count];
    this.counts.set(key, counts);
    const { meters } = this.lowering;
    meters
      .of({ id: "run", name: "Run" }, "run", WAITING_MEASURES)
      .add("stillWaiting", () => counts.reduce((sum, read) => sum + read(), 0), {
        each: { id: key, name: this.say(id, step) },
      });
  }

  /**
   * Gives a waiting token so long at most: `out` is told of it when that is over. What it returns is to be asked by the
   * step with which the token goes on: whether it goes on because its time was over.
   */
  limited(
    patience: Read,
    id: string,
    field: string,
    leave: (token: number) => void,
  ): { begin(token: number): void; isOver(token: number): boolean } {
    const { kernel } = this.lowering;
    const { calendar } = kernel;
    const { served } = this;
    return {
      begin(token) {
        kernel.delay(token, patience(token), EventClass.lines, id, field);
      },
      isOver(token) {
        if (served.delete(token)) return false;
        // What was waited for has come where the end of patience is still ahead.
        if (!Number.isNaN(calendar.timeOf(token))) {
          calendar.cancel(token);
          return false;
        }
        leave(token);
        return true;
      },
    };
  }
}
