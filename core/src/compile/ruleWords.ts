import type { DesignOf } from "../document/design.ts";
import { type RuleOf, type StepBase, SYSTEM_EVENTS } from "../document/logic.ts";
import { eventsOf, kindOf } from "../elements/index.ts";
import { stepText } from "../logic/sentence.ts";

/** A whole rule as one sentence: when, if, and what is then done. */
export function ruleSentence(rule: RuleOf, design: DesignOf): string {
  const condition = rule.condition.trim();
  const done = rule.steps.filter(({ off }) => !off).map((step) => stepSentence(step, design));
  return `When ${ruleEvent(rule, design)}${condition === "" ? "" : `, if ${condition}`}: ${done.join("; ") || "nothing"}.`;
}

/** A step with those under it, in words. */
function stepSentence(step: StepBase, design: DesignOf): string {
  const words = stepText(step, design);
  const own = words.charAt(0).toLowerCase() + words.slice(1);
  const inner = (step.steps ?? []).filter(({ off }) => !off).map((one) => stepSentence(one, design));
  return inner.length === 0 ? own : `${own} (${inner.join("; ")})`;
}

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
    if (event === "at dates") return `it is ${times.trim() || "a date"}`;
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
