import { PLAIN, YES_NO } from "../expression/index.ts";
import { WaitList } from "../kernel/claims.ts";
import { EventClass, type Kernel, SUSPEND } from "../kernel/kernel.ts";
import { NEXT, STRIDE_BITS } from "../kernel/pool.ts";
import { count } from "../measures/spec.ts";
import { choice, condition, reference, settings } from "../settings/setting.ts";
import type { Counter } from "../lowering/counter.ts";
import { moveIn } from "../lowering/lines.ts";
import type { Lowering } from "../lowering/lowering.ts";
import { COMES_IN } from "../lowering/network.ts";
import type { Node } from "../model/model.ts";
import { elementKind, type ElementWith, type Phrase } from "./kind.ts";
import { JOINS, Line, LINE_MEASURES } from "./line.ts";
import { WAY_OUT } from "./wayOut.ts";
import { fromWhere, strong, whereTo } from "./words.ts";

const GATE = settings({
  opens: choice(
    "By",
    "What lets entities through.",
    [
      ["condition", "a condition"],
      ["signal", "a signal"],
      ["calendar", "a calendar"],
      ["steps", "steps of procedures and rules"],
    ],
    { told: "what opens it", column: "Opens by" },
  ),
  condition: condition(
    "Open while",
    "Condition, such as Dock.queue.length < 3; it may read entity, the one that would pass, and is looked at again when what it reads changes.",
    { entity: true, steady: true, used: ({ opens }) => opens === "condition" },
  ),
  signal: reference("element", "When one enters", "The element whose every entity that comes in is a signal.", {
    told: "signal",
    of: "enterable",
    used: ({ opens }) => opens === "signal",
  }),
  atFirst: choice(
    "At first",
    "Whether it is open when the run starts.",
    [
      ["shut", "shut"],
      ["open", "open"],
    ],
    { used: ({ opens }) => opens === "steps" },
  ),
  calendar: reference("shift calendar", "Open in", "The hours in which it is open.", {
    told: "calendar",
    used: ({ opens }) => opens === "calendar",
  }),
  release: choice(
    "Lets pass",
    "How many pass when the gate opens: the first in line, or all that wait.",
    [
      ["one", "one, then looks again"],
      ["all", "all that wait"],
    ],
    { initial: "all", told: "how many it lets pass", used: ({ opens }) => opens !== "calendar" && opens !== "steps" },
  ),
  ...WAY_OUT,
});
type Gate = ElementWith<"gate", typeof GATE>;

/**
 * Holds entities until a condition holds, a signal comes, or by the hours of a calendar. A condition is looked
 * at when an entity comes, and when something it reads changes: after everything else at that instant.
 */
export const gate = elementKind({
  kind: "gate",
  label: "Gate",
  plural: "Gates",
  summary: "Holds entities until something is so.",
  group: "flow",
  hasWayIn: true,
  hasWayOut: true,
  hasLine: true,
  counts: "held",
  settings: GATE,
  sections: [{ title: "Opens", of: ["opens", "condition", "signal", "calendar", "atFirst", "release"] }],
  properties: { length: PLAIN, passed: PLAIN, open: YES_NO },
  settable: ({ opens }) => (opens === "steps" ? ["open"] : []),
  events: JOINS,
  measures: { ...LINE_MEASURES, passed: count("Passed", "Entities that were let through.") },

  check({ element, settings }, report, design) {
    if (element.opens === "signal" && !design.elements.some((e) => e.id === element.signal))
      report(
        "missing-element",
        "signal",
        "nothing says whose entities are the signal.",
        "Choose an element on its card.",
      );
    if (element.opens === "calendar" && element.calendar === "")
      report("missing-calendar", "calendar", "nothing says when it is open.", "Choose a calendar on its card.");
    const condition = settings.get("condition");
    if (condition?.sources.some(({ ofTime }) => ofTime)) {
      report(
        "condition-of-time",
        "condition",
        "a gate does not watch the clock: it looks again when something else changes.",
        "Let it open by a calendar, or have entities wait in a dwell.",
      );
    }
  },

  follows: ({ element, settings }) => (element.opens === "condition" ? settings.get("condition") : undefined),

  prepare(node, lowering, measured) {
    const { element } = node;
    const line = new Line(lowering, node);
    const waiting = new WaitList();
    const passed = lowering.meters.counter();
    line.measures(measured);
    measured.add("passed", () => passed.n);
    lowering.shown.count(node, () => line.length.value);
    const held: Held = { line, waiting, passed, isOpen: false };
    const opens = {
      condition: lowerByCondition,
      signal: lowerBySignal,
      calendar: lowerByCalendar,
      steps: lowerBySteps,
    }[element.opens];
    if (element.opens === "signal")
      lowering.events.listenAhead(element.signal, COMES_IN, () => letPass(lowering.kernel, node, held));
    return {
      readers: {
        length: () => line.length.value,
        passed: () => passed.total,
        // By a condition or a signal nobody says that it is open: it is as long as it holds nobody.
        open: () => ((["steps", "calendar"].includes(element.opens) ? held.isOpen : line.length.value === 0) ? 1 : 0),
      },
      writers: {
        open(_, value) {
          held.isOpen = value !== 0;
          if (held.isOpen) while (waiting.head >= 0) letGo(lowering.kernel, held, waiting.head);
        },
      },
      lower: () => opens(node, lowering, held, lowerWaiting(node, lowering, held)),
    };
  },

  readBack: (node, { nodes, study }) => {
    const { element } = node;
    const through: Phrase[] =
      element.opens === "condition"
        ? ["while ", strong(element.condition.trim() || "nothing yet")]
        : element.opens === "signal"
          ? [
              "when an entity comes into ",
              strong(nodes.find((n) => n.element.id === element.signal)?.element.name ?? "nothing yet"),
            ]
          : [
              "in the hours of ",
              strong(study.calendars.find((c) => c.id === element.calendar)?.name ?? "no calendar yet"),
            ];
    return [
      "Holds entities from ",
      ...fromWhere(node, nodes),
      " and lets them through ",
      ...through,
      element.release === "one" && element.opens !== "calendar" ? ", one at a time." : ".",
      ...whereTo(node, nodes),
    ];
  },

  takesTime: () => true,
});

/** Entities that wait at a gate, and what is measured of them. */
interface Held {
  readonly line: Line;
  readonly waiting: WaitList;
  readonly passed: Counter;
  /** As steps or the calendar have it. */
  isOpen: boolean;
}

/** What an entity does that waits, and the step of those who pass. */
interface Waiting {
  readonly join: (token: number) => void;
  readonly away: number;
}

function lowerWaiting(node: Node<Gate>, lowering: Lowering, { line, waiting, passed }: Held): Waiting {
  const { kernel, network } = lowering;
  const place = lowering.places.of(node, "waiting");
  const away = network.leave(node, { release: () => void (passed.total += 1), ...network.blocking(node) });
  const pass = kernel.emit((token) => {
    line.leave(token);
    return away;
  });
  lowering.replication.atStart(() => waiting.reset());
  lowering.lines.add(node.index, {
    each: (visit) => waiting.each(kernel, visit),
    takeOut(token) {
      waiting.remove(kernel, token);
      line.leave(token);
    },
    move: (token, to) => moveIn(kernel, waiting, token, to, undefined),
  });
  const join = (token: number): void => {
    line.join(token, place, pass);
    waiting.append(kernel, token);
  };
  return { join, away };
}

const letGo = (kernel: Kernel, { waiting }: Held, token: number): void => {
  waiting.remove(kernel, token);
  kernel.resume(token);
};

/** Lets the first in line pass, or all that wait. */
function letPass(kernel: Kernel, { element }: Node<Gate>, held: Held): void {
  while (held.waiting.head >= 0) {
    letGo(kernel, held, held.waiting.head);
    if (element.release === "one") break;
  }
}

function lowerBySignal(node: Node<Gate>, { kernel, network }: Lowering, _held: Held, { join }: Waiting): void {
  const enter = kernel.emit((token) => {
    join(token);
    return SUSPEND;
  });
  network.enterBy(node, enter);
}

function lowerByCalendar(node: Node<Gate>, lowering: Lowering, held: Held, { join, away }: Waiting): void {
  const { kernel, network } = lowering;
  const { line, waiting } = held;
  const timetable = lowering.model.timetables.get(node.element.calendar);
  let open = true;
  const change = kernel.emit((token) => {
    const now = kernel.now;
    open = held.isOpen = (timetable?.at(now) ?? 1) > 0;
    while (open && waiting.head >= 0) letGo(kernel, held, waiting.head);
    const next = timetable?.nextChange(now) ?? Infinity;
    if (next < Infinity) kernel.schedule(token, next - now, EventClass.capacityChange);
    return SUSPEND;
  });
  lowering.replication.atStart(() => {
    open = held.isOpen = (timetable?.at(0) ?? 1) > 0;
    const next = timetable?.nextChange(0) ?? Infinity;
    if (next < Infinity) kernel.startProcess(change, next, EventClass.capacityChange);
  });
  const enter = kernel.emit((token) => {
    if (open && waiting.head < 0) {
      line.wait.addZero();
      return away;
    }
    join(token);
    return SUSPEND;
  });
  network.enterBy(node, enter);
}

function lowerBySteps(
  node: Node<Gate>,
  { kernel, network, replication }: Lowering,
  held: Held,
  { join, away }: Waiting,
) {
  const { line, waiting } = held;
  replication.atStart(() => (held.isOpen = node.element.atFirst === "open"));
  const enter = kernel.emit((token) => {
    if (held.isOpen && waiting.head < 0) {
      line.wait.addZero();
      return away;
    }
    join(token);
    return SUSPEND;
  });
  network.enterBy(node, enter);
}

function lowerByCondition(node: Node<Gate>, lowering: Lowering, held: Held, { join }: Waiting): void {
  const { kernel, network, expressions } = lowering;
  const { pool } = kernel;
  const { waiting } = held;
  const one = node.element.release === "one";
  const checked = node.settings.get("condition");
  const holds = expressions.read(node, "condition", 1);
  const recheck = (): void => {
    for (let token = waiting.head; token >= 0;) {
      const next = pool.ints[(token << STRIDE_BITS) + NEXT];
      if (holds(token) !== 0) {
        letGo(kernel, held, token);
        if (one) {
          // It goes on first; then whether the next may pass is another question.
          ask();
          break;
        }
      }
      token = next;
    }
  };
  const ask: () => void = checked ? expressions.onChangeOf(checked, recheck, () => waiting.head >= 0) : recheck;
  const enter = kernel.emit((token) => {
    join(token);
    ask();
    return SUSPEND;
  });
  network.enterBy(node, enter);
}
