import type { Problem } from "../document/problem.ts";
import { kindOf } from "../elements/index.ts";
import { type Model, nameOfNode, type Node } from "../model/model.ts";
import { LINK_SETTINGS } from "../document/link.ts";
import { settingsIn } from "../settings/setting.ts";
import { fieldsOf } from "../settings/settingsOf.ts";
import { expressionsOf } from "./tableUses.ts";

/** A place of a design that draws random numbers. */
export interface RandomSource {
  /** Whose it is, and the setting of it. */
  readonly id: string;
  readonly owner: string;
  readonly field: string;
  readonly label: string;
  /** What is drawn, as it is written. */
  readonly text: string;
  readonly stream: number;
  /** Where in the study the number of its stream stands. */
  readonly path: Problem["path"];
  /** It decides when entities arrive, or what they are at birth. */
  readonly isArrival: boolean;
}

type Streams = Readonly<Record<string, number>>;

/** Every place of a design that draws, in the order of its types, elements and links. */
export function randomSources(model: Model): RandomSource[] {
  const { document: design, study } = model;
  const root = ["designs", study.designs.indexOf(design)];
  const owners = new Map<
    string,
    { readonly path: Problem["path"]; readonly streams: Streams; readonly isArrival: boolean }
  >();
  study.variables?.forEach(({ id, streams }, i) =>
    owners.set(id, { path: ["variables", i, "streams"], streams, isArrival: false }),
  );
  design.entityTypes.forEach(({ id, streams }, i) =>
    owners.set(id, { path: [...root, "entityTypes", i, "streams"], streams, isArrival: true }),
  );
  design.elements.forEach((element, i) =>
    owners.set(element.id, {
      path: [...root, "elements", i, "streams"],
      streams: element.streams,
      isArrival: kindOf(element).isSource ?? false,
    }),
  );
  design.links.forEach(({ id, streams }, i) =>
    owners.set(id, { path: [...root, "links", i, "streams"], streams, isArrival: false }),
  );
  const found: RandomSource[] = [];
  const add = (id: string, owner: string, field: string, label: string, text: string) => {
    const of = owners.get(id);
    if (of?.streams[field] === undefined) return;
    if (found.some((source) => source.id === id && source.field === field)) return;
    found.push({
      id,
      owner,
      field,
      label,
      text,
      stream: of.streams[field],
      path: [...of.path, field],
      isArrival: of.isArrival,
    });
  };
  // Cells of tables draw where they are read.
  for (const { id, owner, field, label, checked } of expressionsOf(model))
    if (checked.draws && !field.startsWith("cell.")) add(id, owner, field, label, checked.source);
  for (const node of model.nodes) {
    const { id, name: owner } = node.member?.family ?? node.element;
    for (const { name, label } of choosing(node)) add(id, owner, name, label, WORDS[name] ?? label);
    for (const { key, field, text } of fieldsOf(node.element, kindOf(node.element).settings))
      if (field.chance && node.settings.get(key)?.type.kind === "number") add(id, owner, key, field.label, text);
  }
  for (const way of model.ways)
    if (way.link.among === "at random") {
      const link = design.links[way.group];
      const owner = `${nameOfNode(model.nodes[way.from])} to ${nameOfNode(model.nodes[way.to])}`;
      add(link.id, owner, "member", LINK_SETTINGS.member.label, "a member at random");
    }
  const order = [...owners.keys()];
  return found.sort((a, b) => order.indexOf(a.id) - order.indexOf(b.id));
}

const WORDS: Readonly<Record<string, string>> = {
  wayOut: "by share",
  mix: "by weight",
  profile: "at random, at the rate of its profile",
};

/** Settings without an expression by which an element draws, as it is set. */
function choosing({ element, out, rows }: Node) {
  const values = element as unknown as Readonly<Record<string, unknown>>;
  const draws: Readonly<Record<string, boolean>> = {
    wayOut: element.wayOut === "share" && out.length > 1,
    mix: (Array.isArray(values.mix) && values.mix.length > 1) || (rows !== undefined && values.takes === "at random"),
    profile: values.by === "profile" && values.spacing === "random",
  };
  return settingsIn(kindOf(element).settings).filter(
    ({ name, form, draws: number }) => form !== "expression" && number !== undefined && draws[name],
  );
}
