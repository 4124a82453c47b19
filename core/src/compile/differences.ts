import type { EntityType } from "../document/entityType.ts";
import type { ProcedureOf, RuleOf } from "../document/logic.ts";
import { type Link, LINK_SETTINGS } from "../document/link.ts";
import { type Road, ROAD_SETTINGS } from "../document/road.ts";
import { type Variable, variablesOf } from "../document/variable.ts";
import { type Element, kindOf } from "../elements/index.ts";
import { ruleTitle } from "./ruleWords.ts";
import { type Setting, settingsIn } from "../settings/setting.ts";
import type { Design } from "../study/schema.ts";

type Item = Element | Link | Road | EntityType | ProcedureOf | RuleOf;
type List = "elements" | "links" | "roads" | "entityTypes" | "procedures" | "rules";
type AnyList = List | "variables";

/** One way in which a design differs from another. */
export interface Difference {
  /** The same for the same difference, for as long as it is one. */
  readonly key: string;
  readonly list: AnyList;
  /** Id of the element, link, entity type or variable. */
  readonly id: string;
  /** What `to` has and `from` has not, or the other way round, or one setting that differs. */
  readonly change: "added" | "removed" | { readonly field: string };
  /** In words, from `from` to `to`: "Desk: time 4 min becomes 3 min." */
  readonly sentence: string;
}

/**
 * What never counts: identity, streams (they make designs meet the same randomness) and what is only told by place or
 * name of a group.
 */
const PASSED_OVER = new Set(["id", "streams", "group", "locked"]);
/** A remark on steps changes nothing of them. */
const REMARKS = new Set(["note"]);

/** How parts of elements, links and entity types are called that are no settings of a kind. */
const LABELS: Readonly<Record<string, string>> = {
  at: "place",
  takes: "who takes it",
  kind: "kind",
  from: "start",
  to: "end",
  bends: "bends",
  name: "name",
  speed: "speed",
  look: "look",
  colour: "colour",
  picture: "picture",
  colouring: "colouring",
  colourAttribute: "colouring attribute",
  bands: "colours",
  attributes: "attributes",
  family: "members",
  among: "member it leads to",
  member: "member",
  steps: "steps",
  parameters: "parameters",
  event: "event",
  condition: "condition",
  every: "time between",
  first: "time of the first",
  times: "times",
  value: "what is followed",
  off: "switched off",
  points: "points",
  by: "vehicles or crew",
  how: "how somebody is escorted",
  oneWay: "one way",
  width: "width",
};
const PLURALS = new Set(["bends", "points", "bands", "attributes", "family", "steps", "parameters", "times"]);

/**
 * How `to` differs from `from`, things being the same by their ids, which copies of
 * designs keep: what was added, what was removed, and each setting that differs.
 */
export function differences(from: Design, to: Design, variables: readonly Variable[] = []): Difference[] {
  const ofVariables = variables.flatMap(({ id, name }, i): Difference[] => {
    const [a, b] = [from, to].map((design) => variablesOf(variables, design.variables)[i].value);
    const sentence = `${name}: ${a} becomes ${b}.`;
    return a === b
      ? []
      : [{ key: `variables/${id}/value`, list: "variables", id, change: { field: "value" }, sentence }];
  });
  return [
    ...(["entityTypes", "elements", "links", "roads", "procedures", "rules"] as const).flatMap((list) =>
      differencesIn(list, from, to),
    ),
    ...ofVariables,
  ];
}

function differencesIn(list: List, from: Design, to: Design): Difference[] {
  const [before, after] = [from, to].map((design) => new Map(itemsOf(design, list).map((item) => [item.id, item])));
  const found: Difference[] = [];
  for (const [id, item] of after) {
    const old = before.get(id);
    if (!old || ("kind" in old && list === "elements" && "kind" in item && old.kind !== item.kind)) {
      found.push({
        key: `${list}/${id}/added`,
        list,
        id,
        change: "added",
        sentence: `${title(item, list, to)} is added.`,
      });
      continue;
    }
    const fields = new Set(
      [...Object.keys(old), ...Object.keys(item)].filter(
        (f) => !PASSED_OVER.has(f) && !("steps" in item && REMARKS.has(f)),
      ),
    );
    for (const field of fields) {
      const [a, b] = [get(old, field), get(item, field)];
      if (JSON.stringify(a) === JSON.stringify(b)) continue;
      found.push({
        key: `${list}/${id}/${field}`,
        list,
        id,
        change: { field },
        sentence: sentence(item, list, field, words(old, field, from), words(item, field, to), to),
      });
    }
  }
  for (const [id, item] of before) {
    if (!after.has(id))
      found.push({
        key: `${list}/${id}/removed`,
        list,
        id,
        change: "removed",
        sentence: `${title(item, list, from)} is removed.`,
      });
  }
  return found;
}

const itemsOf = (design: Design, list: List): readonly Item[] => design[list] ?? [];

const get = (item: Item, field: string): unknown => (item as unknown as Record<string, unknown>)[field];

function title(item: Item, list: List, design: Design): string {
  if ("event" in item) return `Rule "${ruleTitle(item, design)}"`;
  if ("steps" in item) return `Procedure ${item.name}`;
  if ("oneWay" in item) return roadTitle(item);
  if ("from" in item) return `The link from ${nameOf(item.from, design)} to ${nameOf(item.to, design)}`;
  return list === "entityTypes" ? `Entity type ${item.name}` : item.name;
}

/** A way by its name, or by what it is. */
export const roadTitle = ({ name, kind }: Road): string => name || (kind === "road" ? "A road" : "A walkway");

const nameOf = (id: string, { elements, entityTypes }: Design): string =>
  elements.find((e) => e.id === id)?.name ?? entityTypes.find((t) => t.id === id)?.name ?? "nowhere";

function sentence(
  item: Item,
  list: List,
  field: string,
  before: string | undefined,
  after: string | undefined,
  design: Design,
): string {
  const name = title(item, list, design);
  if (field === "name") return `${before} is called ${after}.`;
  const setting = settingOf(item, field);
  const label = setting?.told ?? setting?.label.toLowerCase() ?? LABELS[field] ?? field;
  return before === undefined || after === undefined
    ? `${name}: ${label} ${(setting?.many ?? PLURALS.has(field)) ? "differ" : "differs"}.`
    : `${name}: ${label} ${before} becomes ${after}.`;
}

function settingOf(item: Item, field: string): Setting | undefined {
  const settings =
    "oneWay" in item ? ROAD_SETTINGS : "from" in item ? LINK_SETTINGS : "kind" in item ? kindOf(item).settings : {};
  return settingsIn(settings).find(({ name }) => name === field);
}

/** A value in words; undefined for those that are better drawn than told. */
function words(item: Item, field: string, design: Design): string | undefined {
  const value = get(item, field);
  const setting = settingOf(item, field);
  if (field === "at" || field === "picture" || typeof value === "object") return undefined;
  if (value === "" || value === undefined) return field === "family" ? undefined : "nothing";
  // Long lists, and calendars, which are the study's, are better looked at.
  if (setting?.form === "text") return undefined;
  if (setting?.form === "reference")
    return setting.to === "element" || setting.to === "entity type" ? nameOf(String(value), design) : undefined;
  if ("from" in item && ["from", "to", "by"].includes(field)) return nameOf(String(value), design);
  return typeof value === "boolean" ? (value ? "yes" : "no") : String(value);
}

const copyOf = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T;

/** Makes one difference good in a draft: `target`, which differs from `source` by it, gets what `source` has. */
export function takeOver(difference: Difference, source: Design, target: Design): void {
  const { list, id, change } = difference;
  if (list === "variables") return takeValue(id, source, target);
  const items = (target[list] ??= []) as Item[];
  const at = items.findIndex((item) => item.id === id);
  const given = itemsOf(source, list).find((item) => item.id === id);
  if (typeof change === "object") {
    if (at >= 0 && given) Object.assign(items[at], { [change.field]: copyOf(get(given, change.field)) });
  } else if (!given) {
    if (at >= 0) items.splice(at, 1);
    if (list === "elements") target.links = target.links.filter((l) => l.from !== id && l.to !== id);
  } else if (at < 0) items.push(copyOf(given));
  else items[at] = copyOf(given);
}

/** Gives a design the first value of a variable that another has: its own, or the study's. */
function takeValue(variable: string, source: Design, target: Design): void {
  const own = source.variables?.find((o) => o.variable === variable);
  const others = (target.variables ?? []).filter((o) => o.variable !== variable);
  target.variables = own ? [...others, copyOf(own)] : others;
}
