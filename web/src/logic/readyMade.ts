import {
  customMeasureSchema,
  type Design,
  eventsOf,
  freshName,
  kindOf,
  type RuleOf,
  type StepBase,
  writeName,
} from "@busy-harbor/core";
import { newId } from "../state/edits.ts";
import { addRule, freshStep, resourcesOf } from "./edits.ts";

/** A common wish, as a rule that has only to be filled in. */
export interface Ready {
  readonly label: string;
  readonly about: string;
  /** Makes the rule in a draft, at an element where one is given; gives its id. */
  make(design: Design, at?: string): string;
}

type Values = Record<string, unknown>;

const step = (design: Design, kind: string, values: Values = {}): StepBase => {
  const made = freshStep(kind, design);
  for (const [name, value] of Object.entries(values)) (made as unknown as Values)[name] = value;
  return made;
};

const setting = (what: string, to: string) => ({ values: [{ id: newId("row"), what, to }] });

/** The first element that entities come into, such as a queue or a station. */
const entered = (design: Design, at?: string) =>
  at ?? (design.elements.find((e) => kindOf(e).hasWayIn && kindOf(e).hasWayOut) ?? design.elements[0])?.id ?? "";

function ofElement(
  design: Design,
  at: string | undefined,
  steps: readonly StepBase[],
  more: Partial<RuleOf> = {},
): string {
  const element = entered(design, at);
  const kind = design.elements.find(({ id }) => id === element);
  const events = kind ? Object.keys(eventsOf(kindOf(kind))) : [];
  const { event = "comes in", ...rest } = more;
  return addRule(design, {
    of: "element",
    at: element,
    event: events.includes(event) ? event : (events[0] ?? event),
    steps: [...steps],
    ...rest,
  });
}

/** The name of an element with a line, as expressions have it. */
const lineAt = (design: Design, at?: string): string => {
  const found =
    design.elements.find((e) => e.id === at && kindOf(e).hasLine) ?? design.elements.find((e) => kindOf(e).hasLine);
  return found ? writeName(found.name) : "";
};

/** A case that the entities of a design may be told by: an attribute that is yes or no, a type, or else their age. */
function caseOf({ entityTypes }: Design): string {
  const flags = entityTypes.flatMap(({ attributes }) =>
    attributes.filter(({ value }) => /^(yes|no)$|bernoulli/i.test(value.trim())),
  );
  if (flags.length > 0 && entityTypes.every(({ attributes }) => attributes.some(({ name }) => name === flags[0].name)))
    return `entity.${flags[0].name}`;
  if (entityTypes.length > 1) return `entity.type is ${writeName(entityTypes[0].name)}`;
  return "entity.age > 10 min";
}

const ofSystem = (design: Design, event: string, steps: readonly StepBase[], more: Partial<RuleOf> = {}): string =>
  addRule(design, { of: "system", event, steps: [...steps], ...more });

/** A measure that steps record into, made with the rule. */
function measureFor(design: Design, name: string): string {
  const id = newId("measure");
  design.measures.push(customMeasureSchema.parse({ kind: "recorded", id, name: freshName(name, design.measures) }));
  return id;
}

export const READY_MADE: readonly Ready[] = [
  {
    label: "Set an attribute",
    about: "When an entity comes in, an attribute of it gets a value.",
    make: (design, at) => ofElement(design, at, [step(design, "set", setting("", ""))]),
  },
  {
    label: "Colour by case",
    about: "When an entity comes in, it gets a colour by what it is, which is seen while watching.",
    make: (design, at) =>
      ofElement(design, at, [
        {
          ...step(design, "if", { condition: caseOf(design) }),
          steps: [step(design, "look", { colour: "#D9512C", means: caseOf(design).replace("entity.", "") })],
        } as StepBase,
        { ...step(design, "else"), steps: [step(design, "look", { colour: "#0B6E8A", means: "others" })] } as StepBase,
      ]),
  },
  {
    label: "Shape by case",
    about: "When an entity comes in, it gets a shape by what it is, which is seen while watching.",
    make: (design, at) =>
      ofElement(design, at, [
        {
          ...step(design, "if", { condition: caseOf(design) }),
          steps: [
            step(design, "look", {
              colour: "#D9512C",
              shape: "parcel",
              means: caseOf(design).replace("entity.", ""),
            }),
          ],
        } as StepBase,
      ]),
  },
  {
    label: "Count",
    about: "When an entity comes in, a measure of yours counts one more.",
    make(design, at) {
      const measure = measureFor(design, "Counted");
      const made = design.measures.at(-1)!;
      if (made.kind === "recorded") made.as = "count";
      return ofElement(design, at, [step(design, "record", { value: "1", measure })]);
    },
  },
  {
    label: "Record a time",
    about: "When an entity leaves, how long it has been in the system is recorded in a measure of yours.",
    make: (design, at) =>
      ofElement(design, at, [step(design, "record", { value: "entity.age", measure: measureFor(design, "Recorded") })]),
  },
  {
    label: "Hold for a time",
    about: "When an entity comes in, it waits before it goes on.",
    make: (design, at) => ofElement(design, at, [step(design, "wait", { time: "1 min" })]),
  },
  {
    label: "Send elsewhere",
    about: "When an entity comes in, and something is so, it goes to another element.",
    make: (design, at) => ofElement(design, at, [{ ...step(design, "if"), steps: [step(design, "send")] } as StepBase]),
  },
  {
    label: "Change the place in line",
    about: "When something is so, the one in line for whom something is most goes before all others.",
    make(design, at) {
      const line = lineAt(design, at);
      return ofSystem(
        design,
        "every",
        [
          step(design, "find", { which: "most", by: "waiting.age", at: line, name: "waiting" }),
          { ...step(design, "else"), steps: [step(design, "end")] } as StepBase,
          step(design, "place", { who: "waiting", to: "first" }),
        ],
        { every: "10 min" },
      );
    },
  },
  {
    label: "Change the capacity",
    about: "When a line grows long or short, more or fewer places are open.",
    make(design, at) {
      const station = design.elements.find((e) =>
        at ? e.id === at : kindOf(e).isWork && kindOf(e).units === "capacity",
      );
      const name = station ? writeName(station.name) : "Desk";
      return ofSystem(
        design,
        "changes",
        [
          {
            ...step(design, "if", { condition: `${name}.queue.length > 5` }),
            steps: [step(design, "set", setting(`${name}.capacity`, "1"))],
          } as StepBase,
        ],
        { value: `${name}.queue.length` },
      );
    },
  },
  {
    label: "Take from stock",
    about: "When an entity comes in, it takes units of an item, and waits for them where there are too few.",
    make: (design, at) => ofElement(design, at, [step(design, "take from stock", { amount: "1" })]),
  },
  {
    label: "Put to stock",
    about: "When an entity comes in, units of an item are added.",
    make: (design, at) => ofElement(design, at, [step(design, "put to stock", { amount: "1" })]),
  },
  {
    label: "Write a row",
    about: "When an entity comes in, a row is written into a table that is there beside the results.",
    make: (design, at) =>
      ofElement(design, at, [
        step(design, "write", {
          table: "Rows",
          values: [
            { id: newId("row"), column: "type", to: "entity.type" },
            { id: newId("row"), column: "age", to: "entity.age" },
          ],
        }),
      ]),
  },
  {
    label: "Claim and free",
    about: "When an entity comes in, it claims a resource, keeps it for a time, and frees it.",
    make: (design, at) =>
      ofElement(design, at, [
        step(design, "claim"),
        step(design, "wait", { time: "5 min" }),
        step(design, "free", {
          what: resourcesOf(design)
            .slice(0, 1)
            .map(({ id }) => id),
        }),
      ]),
  },
  {
    label: "Give a signal",
    about: "When an entity comes in, all who wait for a signal go on.",
    make: (design, at) => ofElement(design, at, [step(design, "signal", { signal: "go" })]),
  },
  {
    label: "Note in the log",
    about: "When an entity comes in, a line is written into the log while watching.",
    make: (design, at) => ofElement(design, at, [step(design, "log", { text: "came in" })]),
  },
  {
    label: "Review time and again",
    about: "Every day, steps are done for the system as a whole.",
    make: (design) => ofSystem(design, "every", [step(design, "if")], { every: "1 d", first: "8 h" }),
  },
  {
    label: "Stop the run",
    about: "When a value changes, and something is so, the run ends.",
    make: (design) => ofSystem(design, "changes", [step(design, "stop")]),
  },
  {
    label: "Another rule",
    about: "A rule without steps.",
    make: (design, at) => ofElement(design, at, []),
  },
];
