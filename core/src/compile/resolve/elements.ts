import type { Calendar } from "../../document/calendar.ts";
import type { ElementBase } from "../../document/element.ts";
import type { StudyOf } from "../../document/study.ts";
import { isClaimable, kindOf } from "../../elements/index.ts";
import { type Checked, withRow } from "../../expression/index.ts";
import type { AtHand } from "../../model/atHand.ts";
import type { Node } from "../../model/model.ts";
import type { WayNetwork } from "../../movement/network.ts";
import { checkWalkers } from "./walkers.ts";
import { resourcesOf } from "../../settings/references.ts";
import { fieldsOf, occurrencesOf } from "../../settings/settingsOf.ts";
import type { Report } from "../../elements/kind.ts";
import type { Unfolded } from "../families/unfold.ts";
import { checkField } from "./field.ts";
import { checkFromTo } from "./fromTo.ts";
import { knowingMember } from "./members.ts";
import { knowingWho } from "./who.ts";
import type { Network } from "./links.ts";
import type { Path, Problems } from "./problems.ts";
import type { Scopes, ScopesWithTables } from "./scopes.ts";

/** The elements of a design with their ways, their settings checked by themselves and against each other. */
export function readElements(
  study: StudyOf,
  { design, members }: Unfolded,
  network: Network,
  scopes: ScopesWithTables & { readonly texts: readonly string[] },
  roads: WayNetwork | undefined,
  problems: Problems,
): { readonly nodes: Node[]; readonly carries: boolean } {
  const carries = design.elements.some((element) => kindOf(element).carries?.(element));
  const resources = new Set(design.elements.filter((e) => isClaimable(e)).map(({ id }) => id));
  const tables = new Set(scopes.tables.map(({ id }) => id));
  const nodes = design.elements.map((element, index): Node => {
    const path = ["elements", index];
    const kind = kindOf(element);
    const rows = rowsAt(element, scopes);
    const member = members.get(element.id);
    const known = member ? knowingMember(scopes, member) : scopes;
    const who = { at: -1 };
    const from = { scopes: rows ? knowingRow(known, rows) : known, elements: design.elements, tables: scopes.tables };
    const settings = readSettings(element, from, who, problems, path);
    const report = reporter(element, problems, path);
    kind.check?.({ element, settings }, report, design, { carries });
    checkMentions(element, study.calendars, resources, tables, report);
    return {
      index,
      element,
      traits: kind,
      resources: resourcesOf(element, kind.settings),
      ...network.waysOf(index),
      settings,
      ...(member && { member }),
      ...(rows && { rows }),
      who,
    };
  });
  checkWalkers(nodes, roads, problems);
  checkFromTo(nodes, scopes.tables, scopes.texts, roads, problems);
  return { nodes, carries };
}

/** The table a row of which is at hand at an element, if there is one. */
function rowsAt({ table }: ElementBase, { tables }: ScopesWithTables): Node["rows"] {
  const found = table ? tables.find(({ id }) => id === table) : undefined;
  return found && { table: found, at: -1 };
}

function knowingRow(scopes: Scopes, rows: NonNullable<Node["rows"]>): Scopes {
  const [withEntity, withoutEntity] = [scopes.withEntity, scopes.withoutEntity].map((scope) =>
    withRow(scope, rows.table, () => rows.at),
  );
  return { ...scopes, withEntity, withoutEntity };
}

function readSettings(
  element: ElementBase,
  {
    scopes,
    elements,
    tables,
  }: { readonly scopes: Scopes; readonly elements: readonly ElementBase[] } & Pick<ScopesWithTables, "tables">,
  who: AtHand,
  problems: Problems,
  path: Path,
): ReadonlyMap<string, Checked> {
  const settings = new Map<string, Checked>();
  for (const occurrence of fieldsOf(element, kindOf(element).settings)) {
    const { key, field, text, path: within, used } = occurrence;
    if (!used) continue;
    const known = knowingWho(scopes, occurrence, elements, tables, who, problems, { id: element.id, path });
    const checked = known && checkField(text, field, known, problems, [...path, ...within], element.id, key);
    if (checked) settings.set(key, checked);
  }
  return settings;
}

/** Reports problems of an element's settings, under their labels where they are expressions, else its name. */
const reporter =
  (element: ElementBase, problems: Problems, path: Path): Report =>
  (code, field, message, hint, severity = "error") => {
    const label = fieldsOf(element, kindOf(element).settings).find(({ key }) => key === field)?.field.label;
    problems.add(
      code,
      [...path, ...field.split(".")],
      { id: element.id, field },
      `${label ?? element.name}: ${message}`,
      hint,
      severity,
    );
  };

/** Calendars and resources that an element names are there, and of the kind that is wanted. */
function checkMentions(
  element: ElementBase,
  calendars: readonly Calendar[],
  resources: ReadonlySet<string>,
  tables: ReadonlySet<string>,
  report: Report,
): void {
  for (const { key, setting, value, used } of occurrencesOf(element, kindOf(element).settings)) {
    if (!used) continue;
    if (setting.form === "resources")
      checkResources(value as string[], key, setting.required ?? false, resources, element.id, report);
    else if (setting.form === "reference" && value !== "" && setting.to === "shift calendar")
      checkCalendar(String(value), key, "capacity", calendars, report);
    else if (setting.form === "reference" && value !== "" && setting.to === "table" && !tables.has(String(value)))
      report("missing-table", key, "the table it names does not exist.", "Choose another on its card.");
    else if (setting.form === "reference" && value !== "" && setting.to === "demand profile")
      checkCalendar(String(value), key, "rate", calendars, report);
  }
}

function checkCalendar(
  id: string,
  field: string,
  gives: Calendar["gives"],
  calendars: readonly Calendar[],
  report: Report,
): void {
  const calendar = calendars.find((c) => c.id === id);
  if (!calendar)
    report("missing-calendar", field, "the calendar it keeps does not exist.", "Choose another on its card.");
  else if (calendar.gives !== gives) {
    report(
      "wrong-calendar",
      field,
      gives === "rate"
        ? `${calendar.name} gives capacity, and a demand profile gives a rate.`
        : `${calendar.name} gives a rate, and a shift calendar gives capacity.`,
      "Choose another on its card, or change what it gives.",
    );
  }
}

function checkResources(
  ids: readonly string[],
  field: string,
  required: boolean,
  resources: ReadonlySet<string>,
  self: string,
  report: Report,
): void {
  if (required && ids.length === 0)
    report("missing-resource", field, "nothing says which resource is needed.", "Choose a crew or equipment.");
  if (ids.some((id) => !resources.has(id)))
    report("missing-resource", field, "a resource that it needs does not exist.", "Choose another on its card.");
  if (ids.includes(self) && resources.has(self))
    report("needs-itself", field, "its repair would need itself.", "Choose another resource.");
  if (new Set(ids).size !== ids.length)
    report("resource-twice", field, "a resource is named twice.", "Name each once.");
}
