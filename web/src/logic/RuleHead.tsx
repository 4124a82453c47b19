import {
  type Design,
  eventsOf,
  kindOf,
  type Problem,
  type RuleOf,
  RULE_PLACES,
  ruleTitle,
  type Study,
  SYSTEM_EVENTS,
  TYPE_EVENTS,
} from "@busy-harbor/core";
import { ChoiceRow, TextRow } from "../build/fields.tsx";
import { isRule, type Owner } from "./edits.ts";

type Place = (typeof RULE_PLACES)[number];

const PLACES: ReadonlyArray<readonly [Place, string]> = [
  ["element", "an element"],
  ["group", "a group of elements"],
  ["entity type", "an entity type"],
  ["system", "the system"],
];

interface Props {
  readonly rule: RuleOf;
  readonly study: Study;
  readonly design: Design;
  readonly problems: readonly Problem[];
  readonly edit: (what: string, key: string, recipe: (owner: Owner) => void) => void;
}

/** When a rule acts: at which event, of what, and under which condition. */
export function RuleHead({ rule, study, design, problems, edit }: Props) {
  const of = (field: string) => problems.filter((p) => p.field === field);
  const set = (what: string, values: Partial<RuleOf>) =>
    edit(what, Object.keys(values).join(), (owner) => void (isRule(owner) && Object.assign(owner, values)));
  const events = eventsAt(rule, design);
  /** Another place has other events: the same where it has that too, else its first. */
  const put = (place: Place, at: string) => {
    const known = eventsAt({ ...rule, of: place, at }, design).map(([event]) => event);
    set("Change what a rule belongs to", {
      of: place,
      at,
      event: known.includes(rule.event) ? rule.event : (known[0] ?? rule.event),
    });
  };
  const text = (
    field: "every" | "first" | "times" | "value" | "condition",
    label: string,
    help: string,
    placeholder = "",
  ) => (
    <TextRow
      label={label}
      name={field}
      help={help}
      value={rule[field]}
      placeholder={placeholder}
      expression={field === "times" ? undefined : { entity: field === "condition" && rule.of !== "system" }}
      problems={of(field)}
      onChange={(value) => set(`Change ${label.toLowerCase()}`, { [field]: value })}
    />
  );
  const { event } = rule;
  return (
    <div className="max-w-2xl">
      <TextRow
        label="Rule"
        name="rule-name"
        mono={false}
        value={rule.name}
        placeholder={ruleTitle({ ...rule, name: "" }, design)}
        problems={of("name")}
        onChange={(name) => set("Rename rule", { name: name.slice(0, 80) })}
      />
      <div className="grid grid-cols-2 gap-x-6">
        <ChoiceRow
          label="Belongs to"
          name="of"
          value={rule.of}
          choices={PLACES}
          problems={[]}
          onChange={(place) => put(place, placesOf(place, design)[0]?.[0] ?? "")}
        />
        {rule.of !== "system" && (
          <ChoiceRow
            label="Which"
            name="at"
            value={rule.at}
            choices={placesOf(rule.of, design)}
            problems={of("at")}
            onChange={(at) => put(rule.of, at)}
          />
        )}
        <ChoiceRow
          label="When"
          name="event"
          value={event}
          choices={events}
          problems={of("event")}
          onChange={(next) => set("Change event", { event: next })}
        />
        {rule.of === "system" && event.startsWith("shift ") && (
          <ChoiceRow
            label="Of"
            name="calendar"
            value={rule.calendar}
            choices={[
              ...(rule.calendar === "" ? [["", "choose …"] as const] : []),
              ...study.calendars.filter(({ gives }) => gives === "capacity").map(({ id, name }) => [id, name] as const),
            ]}
            problems={of("calendar")}
            onChange={(calendar) => set("Change calendar", { calendar })}
          />
        )}
        {rule.of === "system" &&
          event === "every" &&
          text("every", "Every", "The time between two, such as 1 d.", "1 d")}
        {rule.of === "system" &&
          (event === "every" || event === "once") &&
          text(
            "first",
            "First after",
            "The time of the first, from the start of the run. Empty: after one period.",
            "8 h",
          )}
        {rule.of === "system" &&
          event === "at times" &&
          text("times", "Times", "Times of day, such as 08:00, 12:30.", "08:00, 12:30")}
        {rule.of === "system" &&
          event === "at dates" &&
          text(
            "times",
            "Dates",
            "Dates with times of day, such as 2026-06-05 14:00, with commas between.",
            "2026-06-05 14:00",
          )}
        {rule.of === "system" &&
          event === "changes" &&
          text("value", "Follows", "A value, such as Dock.queue.length or a variable.", "Dock.queue.length")}
      </div>
      {text("condition", "If", "It acts only where this holds. Empty: always.", "always")}
      {WHAT_IT_SEES[event] && <p className="pb-1 pl-[116px] text-xs text-soft">{WHAT_IT_SEES[event]}</p>}
    </div>
  );
}

/** What a rule finds at an event, where that could be taken otherwise. */
const WHAT_IT_SEES: Readonly<Record<string, string>> = {
  "comes in":
    "The entity has come, and nothing has been done with it here yet: it is in no line and is not counted. Where its steps take time it is held until they are done.",
  "joins the line": "It has to wait, and does not stand in the line yet. No time can pass in its steps.",
  "gives up": "Its patience is over, and it still stands in the line. No time can pass in its steps.",
  "setup starts": "It has a slot, and setup is about to begin. No time can pass in its steps.",
  "is blocked": "It is done here and finds no room ahead. No time can pass in its steps.",
  "goes on": "What was to be done here is done, and there is room ahead. No time can pass in its steps.",
  arrives: "The entity is born, with the attributes that its type has at birth. No time can pass in its steps.",
  "work starts": "It has left the line and has a slot; setup, if any, is still to come. No time can pass in its steps.",
  "work ends": "The work is done, and the entity is still in its slot. No time can pass in its steps.",
  end: "All else is over: what is recorded counts, and no time can pass.",
};

/** What a rule may belong to. */
function placesOf(of: Place, design: Design): (readonly [string, string])[] {
  if (of === "system") return [];
  if (of === "entity type") return design.entityTypes.map(({ id, name }) => [id, name] as const);
  if (of === "group")
    return [...new Set(design.elements.map(({ group }) => group))].filter((g) => g !== "").map((g) => [g, g] as const);
  return design.elements
    .filter((e) => Object.keys(eventsOf(kindOf(e))).length > 0)
    .map(({ id, name }) => [id, name] as const);
}

/** The events of what a rule belongs to, in words. */
function eventsAt({ of, at }: Pick<RuleOf, "of" | "at">, design: Design): (readonly [string, string])[] {
  if (of === "system") return SYSTEM_EVENTS.map(([event, words]) => [event, words] as const);
  if (of === "entity type") return Object.values(TYPE_EVENTS).map((event) => [event, `an entity ${event}`] as const);
  const elements = design.elements.filter((e) => (of === "group" ? e.group === at : e.id === at));
  const found = new Map<string, string>();
  for (const element of elements)
    for (const [event, { label }] of Object.entries(eventsOf(kindOf(element))))
      found.set(event, label.charAt(0).toLowerCase() + label.slice(1));
  return [...found];
}
