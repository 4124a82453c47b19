import type { DesignOf } from "../document/design.ts";
import { type RuleOf, SYSTEM_EVENTS } from "../document/logic.ts";
import { eventsOf, kindOf } from "../elements/index.ts";

/** When a rule acts, in words: its name, or what it hears. */
export const ruleTitle = (rule: RuleOf, design: Pick<DesignOf, "elements" | "entityTypes">): string =>
  rule.name === "" ? `When ${ruleEvent(rule, design)}` : rule.name;

/** The event that a rule hears, in words, with where that is. */
export function ruleEvent(rule: RuleOf, design: Pick<DesignOf, "elements" | "entityTypes">): string {
  const { of, at } = rule;
  const what = eventWords(rule, design);
  if (of === "group") return `${what} at an element of ${at}`;
  return of === "element" ? `${what} at ${design.elements.find(({ id }) => id === at)?.name ?? "an element"}` : what;
}

/** The event alone. */
export function eventWords(
  { of, at, event, every, times, value }: RuleOf,
  { elements, entityTypes }: Pick<DesignOf, "elements" | "entityTypes">,
): string {
  if (of === "system") {
    if (event === "every") return `${every.trim() || "some time"} has passed, again and again`;
    if (event === "at times") return `it is ${times.trim() || "a time of day"}`;
    if (event === "changes") return `${value.trim() || "a value"} changes`;
    return SYSTEM_EVENTS.find(([name]) => name === event)?.[1] ?? event;
  }
  if (of === "entity type") {
    const name = entityTypes.find((type) => type.id === at)?.name ?? "an entity";
    return `${/^[aeiou]/i.test(name) ? "an" : "a"} ${name} ${event}`;
  }
  const element = elements.find((e) => (of === "group" ? e.group === at : e.id === at));
  const label = element && eventsOf(kindOf(element))[event]?.label;
  return label === undefined ? event : label.charAt(0).toLowerCase() + label.slice(1);
}
