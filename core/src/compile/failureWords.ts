import type { ElementBase } from "../document/element.ts";
import { LINK_SETTINGS } from "../document/link.ts";
import { ROAD_SETTINGS } from "../document/road.ts";
import { kindOf } from "../elements/index.ts";
import type { RunFailure } from "../kernel/failure.ts";
import type { Model } from "../model/model.ts";
import { expressionsIn, fieldsOf } from "../settings/settingsOf.ts";
import { ruleTitle } from "./ruleWords.ts";

/** A failure with a message that begins with the name of its place, and of the setting that it comes from. */
export function withPlace(failure: RunFailure, model: Model): RunFailure {
  const { document, logic } = model;
  const procedure = logic?.procedures.find((p) => p.procedure.id === failure.id)?.procedure;
  const rule = logic?.rules.find((r) => r.rule.id === failure.id)?.rule;
  if (procedure || rule) {
    const title = procedure ? procedure.name : ruleTitle(rule!, document);
    return { ...failure, message: `${title}: ${said(failure.message)}` };
  }
  const isOfRow = ["no-row", "no-value"].includes(failure.code) && failure.id !== undefined;
  if (!isOfRow && !/^(gave|named|says) /.test(failure.message)) return failure;
  const { name, setting } = placeOf(failure, model);
  const says = isOfRow ? `reads a table. ${failure.message}` : failure.message;
  return { ...failure, message: `${name}: "${setting ?? failure.field}" ${says}` };
}

/** What a failure is of, and what the setting is called that it comes from. */
function placeOf(
  { id, field }: RunFailure,
  { nodes, ways, followed, variables }: Model,
): { readonly name: string; readonly setting?: string | undefined } {
  const node = nodes.find((n) => n.element.id === id);
  if (node) return { name: node.element.name, setting: labelIn(node.element, field) };
  const variable = variables.find((v) => v.variable.id === id)?.variable;
  if (variable) return { name: variable.name };
  const way = ways.find((w) => w.link.id === id);
  if (way) {
    const [from, to] = [nodes[way.from].element.name, nodes[way.to].element.name];
    return { name: `The link from ${from} to ${to}`, setting: labelOf(expressionsIn(LINK_SETTINGS), field) };
  }
  const road = followed.find((one) => one.road.id === id)?.road;
  if (!road) return { name: "A setting" };
  const name = road.name || (road.kind === "road" ? "Road" : "Walkway");
  return { name, setting: labelOf(expressionsIn(ROAD_SETTINGS), field) };
}

const labelOf = (settings: readonly { readonly name: string; readonly label: string }[], field: string | undefined) =>
  settings.find(({ name }) => name === field)?.label;

/** What a setting of an element is called; of a row of a list with what the list is. */
function labelIn(element: ElementBase, field: string | undefined): string | undefined {
  const { settings } = kindOf(element);
  const label = fieldsOf(element, settings).find(({ key }) => key === field)?.field.label;
  const [list, ...within] = (field ?? "").split(".");
  return label === undefined || within.length === 0 ? label : `${settings[list]?.label ?? list}: ${label}`;
}

/** A sentence that goes on after a colon. */
const said = (message: string): string => (/^(gave|named) /.test(message) ? `a step ${message}` : message);
