import type { DesignOf } from "../document/design.ts";
import { SUSPEND } from "../kernel/kernel.ts";
import { NO_TYPE } from "../kernel/pool.ts";
import type { Lowering } from "../lowering/lowering.ts";
import type { Phase } from "../lowering/places.ts";
import { valueText } from "../model/cells.ts";
import type { Local, LogicModel, RuleModel, StepModel } from "../model/logic.ts";
import { LOCALS } from "../model/sources.ts";
import type { Checked } from "../expression/index.ts";
import { Claims } from "./claims.ts";
import { emitSteps } from "./emit.ts";
import type { Parts } from "./emitting.ts";
import { Holdings } from "./holdings.ts";
import { Locals } from "./locals.ts";
import { Movements } from "./movements.ts";
import { Recorders } from "./recorders.ts";
import { stepText } from "./sentence.ts";
import { Signals } from "./signals.ts";
import { fireSystemRule } from "./systemRules.ts";
import { Waits } from "./waits.ts";

/** Most steps that are done at one event. */
const MOST_AT_ONCE = 1_000_000;

/** A line that a step writes into the log. */
export interface LogLine {
  /** Seconds from the start. */
  readonly at: number;
  readonly text: string;
  /** NaN where there is none. */
  readonly value: number;
  /** Number of the entity; 0 for a process of the system. */
  readonly entity: number;
}

/** A step at which watching has stopped. */
export interface ReachedStep {
  /** Ids of the rule or procedure, and of the step. */
  readonly owner: string;
  readonly step: string;
  /** Number of the entity; 0 for a process of the system. */
  readonly entity: number;
  /** What is called by names there. */
  readonly values: readonly (Local & { readonly value: number })[];
}

/** Who is told of what steps do, while watching. */
export interface StepWatcher {
  log(line: LogLine): void;
  reached(step: ReachedStep): void;
}

/** Told of a row that steps write into a table of results, by its number: when, and the values of its columns. */
export type Wrote = (table: number, at: number, values: Float64Array) => void;

/** Expressions that the logic of a model is told of the changes of. */
export function* followedBy({ procedures, rules }: LogicModel): Generator<Checked> {
  const within = function* (steps: readonly StepModel[]): Generator<Checked> {
    for (const { step, fields, steps: inner } of steps) {
      const condition = step.do === "wait until" ? fields.get("condition") : undefined;
      if (condition) yield condition;
      yield* within(inner);
    }
  };
  for (const { steps } of procedures) yield* within(steps);
  for (const { steps, value } of rules) {
    if (value) yield value;
    yield* within(steps);
  }
}

/** A step of a procedure or a rule in words, with the name of the procedure. */
function saidOf(document: DesignOf, id: string, { step }: StepModel): string {
  const procedure = document.procedures?.find((one) => one.id === id)?.name;
  return procedure === undefined ? stepText(step, document) : `${procedure}: ${stepText(step, document)}`;
}

/**
 * The logic of a running model: procedures and rules as steps of the kernel. Rules say what they listen to before
 * elements are lowered; their steps are emitted when elements are.
 */
export class Logic {
  private readonly parts: Parts;
  /** What each rule does at once where it is heard, in a cell that is filled when it is emitted. */
  private readonly acts: ((token: number) => void)[];
  watcher: StepWatcher | undefined;
  /** Told of each row that steps write, by the number of its table. */
  wrote: Wrote | undefined;

  constructor(
    private readonly model: LogicModel,
    private readonly lowering: Lowering,
  ) {
    const { kernel, expressions, replication, places } = lowering;
    const { pool, clock } = kernel;
    const slots = Math.max(0, ...[...model.procedures, ...model.rules].map((one) => one.slots));
    const locals = new Locals(slots);
    expressions.provide(LOCALS, locals);
    replication.atStart(() => locals.reset());
    const nodeOf = (token: number) => (pool.typeOf(token) < 0 ? -1 : places.get(pool.placeOf(token)).at);
    const standing = new Map<string, Int32Array>();
    /** Numbers of places by the index of the element, in one phase; found when first stood at. */
    const placesIn = (phase: Phase): Int32Array => {
      let known = standing.get(phase);
      if (!known) standing.set(phase, (known = new Int32Array(lowering.model.nodes.length).fill(-1)));
      return known;
    };
    const claims = new Claims(lowering);
    const procedures = new Int32Array(model.procedures.length).fill(SUSPEND);
    this.parts = {
      lowering,
      locals,
      claims,
      signals: new Signals(lowering),
      waits: new Waits(lowering, (id, step) => saidOf(lowering.model.document, id, step)),
      holdings: new Holdings(lowering),
      movements: new Movements(lowering),
      recorders: new Recorders(),
      procedures,
      standingAt: (phase: Exclude<Phase, "moving">) => {
        const known = placesIn(phase);
        return (token: number) => {
          const at = nodeOf(token);
          // Who is under way, or nowhere yet, stays so; a process of the system is nowhere.
          if (at < 0 || at >= known.length) return;
          if (known[at] < 0) known[at] = places.of({ index: at }, phase);
          pool.begin(token, known[at], clock);
        };
      },
      nodeOf,
      stops: lowering.model.nodes.some(({ element, traits }) => {
        const { calendar, breakdowns } = element as { calendar?: string; breakdowns?: readonly unknown[] };
        return traits.group === "resources" && ((calendar ?? "") !== "" || (breakdowns ?? []).length > 0);
      }),
      startProcess: (pc) => {
        const token = pool.take(NO_TYPE, pc, clock);
        kernel.resume(token);
        return token;
      },
      procedureIndex: (id) => model.procedures.findIndex(({ procedure }) => procedure.id === id),
      parametersOf: (index) => model.procedures[index].parameters,
      reached: (owner, step, token) =>
        this.watcher?.reached({
          owner,
          step: step.step.id,
          entity: pool.typeOf(token) < 0 ? 0 : pool.serial[token],
          values: step.locals.map((local) => ({ ...local, value: locals.read(token, local.slot) })),
        }),
      wrote: (table, values, token) => {
        this.wrote?.(table, kernel.now, values);
        if (!this.watcher) return;
        const { name, columns } = model.written[table];
        const said = columns.map((column, i) => `${column.name} ${valueText(lowering.model, values[i], column.type)}`);
        this.parts.log?.(`${name}: ${said.join(", ")}`, Number.NaN, token);
      },
      log: (text, value, token) =>
        this.watcher?.log({
          at: kernel.now,
          text,
          value,
          entity: token < 0 || pool.typeOf(token) < 0 ? 0 : pool.serial[token],
        }),
    };
    this.acts = model.rules.map(() => () => undefined);
    for (const [i, rule] of model.rules.entries()) this.listen(rule, i);
    pool.onRelease = (token) => this.ends(token);
    kernel.onEnd.push(() => this.tellStuck());
  }

  /** Measures into which steps record. */
  get recorders(): Recorders {
    return this.parts.recorders;
  }

  /** At the end: who is in each other's way, and would have waited for ever. */
  private tellStuck(): void {
    const { lowering, claims, nodeOf } = this.parts;
    const requests = lowering.resources.keptRequests;
    if (!requests) return;
    const stuck = requests.stuck().filter((token) => claims.keptBy(token).length > 0);
    if (stuck.length === 0) return;
    const said = stuck.slice(0, 3).map((token) => {
      const name = lowering.model.nodes[nodeOf(token)]?.element.name;
      const who = name === undefined ? "a procedure of the system" : `an entity at ${name}`;
      return `${who} holds ${claims.keptBy(token).join(" and ")} and waits for ${requests.waitsFor(token).join(" and ")}`;
    });
    lowering.kernel.fail({
      code: "step-failed",
      message: `Steps are in each other's way, and none of them could ever go on: ${said.join("; ")}.`,
      hint: "Claim all that is needed in one step, or in the same order everywhere.",
      id: stuck.flatMap((token) => lowering.model.nodes[nodeOf(token)]?.element.id ?? [])[0],
    });
  }

  /** Nothing is kept, and nothing left to be done, when an entity or a process ends. */
  private ends(token: number): void {
    const { claims, locals, lowering } = this.parts;
    const kept = claims.keptBy(token);
    if (kept.length > 0) {
      const names = [...new Set(kept)].join(" and ");
      const at = this.parts.nodeOf(token);
      const { element } = at >= 0 ? (lowering.model.nodes[at] ?? {}) : { element: undefined };
      lowering.kernel.fail({
        code: "step-failed",
        message: `${element ? `An entity ended at ${element.name}` : "A procedure of the system ended"} and still held ${names}.`,
        hint: "Free what was claimed on every way that leads there.",
        id: element?.id,
      });
    }
    locals.drop(token);
    if (this.model.reserves) lowering.shelves.forget(token);
  }

  /** Listens to the event of a rule, or puts its steps before those of the element. */
  private listen(rule: RuleModel, i: number): void {
    const { lowering } = this;
    const act = (token: number) => this.acts[i](token);
    for (const index of rule.nodes) {
      const node = lowering.model.nodes[index];
      if (rule.rule.event === "comes in") lowering.network.putBefore(index, (next) => this.held(rule, index, next));
      else lowering.events.listen(node.element.id, rule.rule.event, act);
    }
    for (const type of rule.types) {
      const meter = lowering.population.typeMeters[type];
      const name = rule.rule.event === "is born" ? "onBirth" : "onLeave";
      const before = meter[name];
      meter[name] = before
        ? (token) => {
            before(token);
            act(token);
          }
        : act;
    }
  }

  /** Emits all steps but those that stand before elements, which are emitted with those. */
  lower(): void {
    const { model, parts } = this;
    const { kernel } = this.lowering;
    for (const { index, procedure, steps } of model.procedures) {
      const end = kernel.emit((token) => parts.locals.end(token));
      parts.procedures[index] = emitSteps(parts, { steps }, { id: procedure.id, node: undefined, end });
    }
    for (const [i, rule] of model.rules.entries()) {
      if (rule.rule.event === "comes in" && rule.nodes.length > 0) continue;
      // Where no entity is at hand, what takes time is done by a process of its own.
      this.acts[i] = rule.takesTime ? this.alongside(rule) : this.atOnce(rule);
      if (rule.rule.of === "system") fireSystemRule(rule, this.lowering, () => this.acts[i](-1));
    }
  }

  /** Emits the steps of a rule, which lead to `next`; gives the first. */
  private program(rule: RuleModel, index: number | undefined, next: number): number {
    const { parts, lowering } = this;
    const { kernel, expressions } = lowering;
    const { locals } = parts;
    const { id, streams } = rule.rule;
    const node = index === undefined ? undefined : lowering.model.nodes[index];
    const framed = rule.slots > 0;
    const end = framed ? kernel.emit((token) => locals.end(token)) : next;
    const first = emitSteps(parts, rule, { id, node, end });
    const holds = rule.condition?.compile(expressions.environment(streams.condition ?? 0, id, "condition"));
    return kernel.emit((token) => {
      if (holds && holds(token) === 0) return next;
      if (framed && !locals.begin(token, next)) {
        kernel.fail({
          code: "step-failed",
          message: "The rule is set off by itself without end.",
          hint: "Let what it does not set it off again.",
          id,
        });
        return next;
      }
      return first;
    });
  }

  /** A rule whose steps stand before those of an element: the entity is held there as long as they take. */
  private held(rule: RuleModel, index: number, next: number): number {
    const { kernel, places } = this.lowering;
    const { pool, clock } = kernel;
    const first = this.program(rule, index, next);
    if (!rule.takesTime) return first;
    const here = places.of({ index }, "waiting");
    return kernel.emit((token) => {
      pool.begin(token, here, clock);
      return first;
    });
  }

  /** A rule whose steps are all done within the instant, before what set it off goes on. */
  private atOnce(rule: RuleModel): (token: number) => void {
    const { kernel } = this.lowering;
    const { steps } = kernel;
    const over = kernel.emit(() => SUSPEND);
    const first = this.program(rule, rule.nodes.length === 1 ? rule.nodes[0] : undefined, over);
    const { replication } = this.lowering;
    // Steps that a process of the system does need a token, for what they call by names.
    let system = -1;
    replication.atStart(() => (system = kernel.pool.take(NO_TYPE, over, kernel.clock)));
    return (entity) => {
      const token = entity >= 0 ? entity : system;
      let left = MOST_AT_ONCE;
      for (let pc = first; pc >= 0 && !kernel.ended; pc = steps[pc](token))
        if (--left < 0) {
          kernel.fail({
            code: "instant-loop",
            message: "Its steps go on without end at one instant, and no time passes.",
            hint: "Let the loop end, or wait in it.",
            id: rule.rule.id,
          });
          return;
        }
    };
  }

  /** A rule whose steps are done by a process of their own. */
  private alongside(rule: RuleModel): (token: number) => void {
    const { kernel } = this.lowering;
    const over = kernel.emit((token) => {
      kernel.pool.release(token);
      return SUSPEND;
    });
    const first = this.program(rule, undefined, over);
    return () => void this.parts.startProcess(first);
  }
}
