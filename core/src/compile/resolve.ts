import type { Design, Display, Element, EntityType, Link, Study } from "../document/schema.ts";
import type { Problem } from "../document/problem.ts";
import { kindOf, LINK_FIELDS, RUN_FIELDS, SPEED_FIELD, type FieldSpec } from "../elements/index.ts";
import { type Checked, checkExpression, CLOCK, makeScope, type Meaning, nameKey, numberOf, PLAIN, type Scope, sameType, typeName, type ValueType } from "../expression/index.ts";
import type { DisplayModel, Model, Node, TypeModel, Way } from "../model/model.ts";
import { dimensionSymbol, TIME } from "../quantity/index.ts";
import { linkPoints, polylineLength } from "./geometry.ts";

type Path = readonly (string | number)[];

/** Gathers problems of one design, each with its path from the document's root. */
class Problems {
  readonly list: Problem[] = [];
  constructor(
    private readonly design: Design,
    private readonly root: Path,
  ) {}

  add(code: string, path: Path, where: Partial<Pick<Problem, "id" | "field" | "start" | "end">>, message: string, hint?: string, severity: Problem["severity"] = "error"): void {
    this.list.push({ code, severity, message, hint, path: [...this.root, ...path], designId: this.design.id, ...where });
  }
}

export interface Resolution {
  readonly model: Model;
  readonly problems: readonly Problem[];
}

/** Reads one design of a study: resolves names, checks every expression, and reports all that is wrong. */
export function resolve(study: Study, designIndex: number): Resolution {
  const design = study.designs[designIndex];
  const problems = new Problems(design, ["designs", designIndex]);
  const runProblems = new Problems(design, []);
  const texts = new Map<string, number>();
  const intern = (text: string) => {
    if (!texts.has(text)) texts.set(text, texts.size);
    return texts.get(text)!;
  };

  checkNames(design, problems);

  const scopes = makeScopes(design, intern, problems);
  const settingsOf = (
    owner: Element | Link,
    fields: readonly FieldSpec[],
    path: Path,
  ): ReadonlyMap<string, Checked> => {
    const settings = new Map<string, Checked>();
    for (const field of fields) {
      const text = String((owner as unknown as Record<string, unknown>)[field.name] ?? "");
      const checked = checkField(text, field, scopes, problems, [...path, field.name], owner.id);
      if (checked) settings.set(field.name, checked);
    }
    return settings;
  };

  const indexById = new Map(design.elements.map((element, index) => [element.id, index]));
  const ways: Way[] = [];
  const out: Way[][] = design.elements.map(() => []);
  const turnedAway = new Map<number, Way>();
  const into: Way[][] = design.elements.map(() => []);
  design.links.forEach((link, i) => {
    const path = ["links", i];
    const from = indexById.get(link.from);
    const to = indexById.get(link.to);
    if (from === undefined || to === undefined) {
      const end = from === undefined ? "from" : "to";
      problems.add("missing-element", [...path, end], { id: link.id, field: end }, `This link ${end === "from" ? "leaves" : "leads to"} an element that does not exist ("${link[end]}").`, "Draw the link again, or delete it.");
      return;
    }
    const target = design.elements[to];
    const origin = design.elements[from];
    if (!kindOf(target).hasWayIn) problems.add("no-way-in", [...path, "to"], { id: link.id, field: "to" }, `A link leads into ${target.name}, but nothing enters ${kindOf(target).plural.toLowerCase()}.`, "Delete the link, or draw it the other way round.");
    if (!kindOf(origin).hasWayOut) problems.add("no-way-out-of-kind", [...path, "from"], { id: link.id, field: "from" }, `A link leaves ${origin.name}, but nothing goes on from ${kindOf(origin).plural.toLowerCase()}.`, "Delete the link, or draw it the other way round.");
    const fields = [
      ...(link.kind === "timed" ? [LINK_FIELDS.time] : []),
      ...(link.kind === "walkway" ? [LINK_FIELDS.length] : []),
      ...(link.takes === "done" && "wayOut" in origin && origin.wayOut === "share" ? [LINK_FIELDS.share] : []),
      ...(link.takes === "done" && "wayOut" in origin && origin.wayOut === "condition" ? [LINK_FIELDS.condition] : []),
    ];
    const way: Way = {
      index: ways.length,
      link,
      from,
      to,
      drawnLength: polylineLength(linkPoints(link, origin, target)),
      settings: settingsOf(link, fields, path),
    };
    ways.push(way);
    into[to].push(way);
    if (link.takes === "done") out[from].push(way);
    else if (!mayTurnAway(origin)) problems.add("none-turned-away", [...path, "takes"], { id: link.id, field: "takes" }, `No one is turned away at ${origin.name}, so no one takes this link.`, "Let its entities be lost when it is full, not join, or give up waiting; or make this a way for those who are done.", "warning");
    else if (turnedAway.has(from)) problems.add("turned-away-twice", [...path, "takes"], { id: link.id, field: "takes" }, `${origin.name} has more than one way for those turned away.`, "Keep one; a junction after it can tell them apart.");
    else turnedAway.set(from, way);
  });

  const nodes: Node[] = design.elements.map((element, index) => {
    const path = ["elements", index];
    if (element.kind === "arrivals" && !design.entityTypes.some((type) => type.id === element.entityType)) {
      problems.add(
        "missing-entity-type",
        [...path, "entityType"],
        { id: element.id, field: "entityType" },
        element.entityType ? `${element.name} brings in an entity type that does not exist ("${element.entityType}").` : `${element.name} does not say which entity type arrives.`,
        "Choose an entity type on its card.",
      );
    }
    if (element.kind === "station" && element.order.endsWith("first") && element.rank.trim() === "") {
      problems.add("empty-setting", [...path, "rank"], { id: element.id, field: "rank" }, `Its line is in order of ${element.order}, but nothing says of what.`, "Write what is compared, such as entity.urgency.");
    }
    return { index, element, out: out[index], turnedAway: turnedAway.get(index), in: into[index], settings: settingsOf(element, kindOf(element).fields, path) };
  });

  const types = design.entityTypes.map((type, index): TypeModel => {
    const path = ["entityTypes", index];
    const speed = checkField(type.speed, SPEED_FIELD, scopes, problems, [...path, "speed"], type.id);
    const attributes = type.attributes.flatMap((attribute, i) => {
      const checked = checkField(attribute.value, { name: "value", label: attribute.name, help: "", type: PLAIN, entity: true }, { ...scopes, anyType: true }, problems, [...path, "attributes", i, "value"], type.id, `attribute ${attribute.name}`);
      const slot = scopes.slots.get(nameKey(attribute.name));
      return checked && slot !== undefined ? [{ slot, value: checked, stream: type.streams[`attribute ${attribute.name}`] ?? 0 }] : [];
    });
    return { index, type, speed, attributes, bands: readBands(type, scopes, problems, path) };
  });

  const [length, warmUp] = RUN_FIELDS.map((field) => {
    const checked = checkField(String(study.run[field.name as "length" | "warmUp"]), field, scopes, runProblems, ["run", field.name], undefined);
    return checked?.constant ?? 0;
  });
  if (length > 0 && warmUp >= length) {
    runProblems.add("warm-up-too-long", ["run", "warmUp"], { field: "warmUp" }, "The warm-up is not shorter than the run.", "Shorten the warm-up or lengthen the run.");
  }
  const [hours, minutes] = study.run.start.slice(11).split(":").map(Number);

  return {
    model: {
      study, design, settings: study.run, length, warmUp,
      startOfDay: hours * 3600 + minutes * 60,
      nodes, ways, types,
      displays: design.displays.map((display, i) => readDisplay(display, scopes, problems, ["displays", i])),
      attributeCount: scopes.slots.size,
      texts: [...texts.keys()],
    },
    problems: [...problems.list, ...runProblems.list],
  };
}

/** By which attribute a type is coloured, and from which values. A mistake in it is a warning: it spoils no run. */
function readBands(type: EntityType, scopes: Scopes, problems: Problems, path: Path): TypeModel["bands"] {
  if (type.colouring !== "attribute") return undefined;
  const warn = (field: string, message: string, hint: string) => {
    problems.add("bad-colouring", [...path, ...field.split(".")], { id: type.id, field }, `${type.name}: ${message}`, hint, "warning");
    return undefined;
  };
  const attribute = type.attributes.find((a) => nameKey(a.name) === nameKey(type.colourAttribute));
  const slot = attribute && scopes.slots.get(nameKey(attribute.name));
  const meaning = attribute && scopes.withEntity.find("entity")?.properties?.get(attribute.name);
  if (slot === undefined || meaning?.type.kind !== "number") return warn("colourAttribute", `it is coloured by "${type.colourAttribute}", which is no attribute of it that is a number.`, "Choose one of its attributes.");
  const from = type.bands.map((band, i) => {
    const result = checkExpression(band.from, scopes.withoutEntity, meaning.type);
    if (result.ok && result.checked.constant !== undefined) return result.checked.constant;
    warn(`bands.${i}`, `the colour's value "${band.from}" is not a fixed value of the unit of ${type.colourAttribute}.`, "Write it with its unit.");
    return Number.NaN;
  });
  if (from.some((value, i) => i > 0 && value <= from[i - 1])) return warn("bands", "the values of its colours do not rise.", "Put them in rising order.");
  return { slot, from };
}

/** What a display shows. A mistake in it is a warning: it spoils no run. */
function readDisplay(display: Display, scopes: Scopes, problems: Problems, path: Path): DisplayModel {
  const read = (text: string, field: string, label: string, type?: ValueType): Checked | undefined => {
    const refuse = (message: string, hint?: string, start = 0, end = text.length) => {
      problems.add("bad-display", [...path, field], { id: display.id, field, start, end }, `${label}: ${message}`, hint, "warning");
      return undefined;
    };
    if (text.trim() === "") return refuse("it shows nothing yet.", "Write what to show, such as the length of a queue.");
    const result = checkExpression(text, scopes.withoutEntity, type);
    if (!result.ok) return refuse(result.problems[0].message, result.problems[0].hint, result.problems[0].start, result.problems[0].end);
    if (result.checked.draws) return refuse("a display only reads; random draws would change the run.", "Leave the distribution out.");
    if (!["number", "yesNo"].includes(result.checked.type.kind)) return refuse("a number is wanted.");
    return result.checked;
  };
  const values = "rows" in display ? display.rows.map((row, i) => read(row.value, `rows.${i}`, row.label || `Row ${i + 1}`)) : "value" in display ? [read(display.value, "value", display.title || `The ${display.kind}`)] : [];
  const span = display.kind === "chart" ? read(display.span, "span", "Time shown", numberOf(TIME))?.constant : undefined;
  return { display, values, span };
}

/** Whether entities may find an element full, not join it, or give up waiting there. */
function mayTurnAway(element: Element): boolean {
  if (element.kind === "station") return element.whenFull === "lose" || element.balk.trim() !== "" || element.patience.trim() !== "";
  return element.kind === "queue" && element.whenFull === "lose";
}

interface Scopes {
  readonly withEntity: Scope;
  readonly withoutEntity: Scope;
  /** Column of each attribute, by its name's key. */
  readonly slots: ReadonlyMap<string, number>;
  readonly anyType?: boolean;
}

/** What may be named in this design's expressions. */
function makeScopes(design: Design, intern: (text: string) => number, problems: Problems): Scopes {
  const names = new Map<string, Meaning>([["clock", CLOCK]]);
  design.entityTypes.forEach((type, index) => names.set(type.name, { type: { kind: "entityType" }, constant: index }));
  design.elements.forEach((element, index) => names.set(element.name, { type: { kind: "element" }, properties: nested(kindOf(element).properties, index) }));

  const entity = new Map<string, Meaning>([
    ["type", { type: { kind: "entityType" }, source: { kind: "entityType" } }],
    ["age", { type: numberOf(TIME), source: { kind: "entityAge" } }],
  ]);
  const slots = new Map<string, number>();
  const declare = (): Scope => makeScope(new Map([...names, ["entity", { type: { kind: "entity" }, source: { kind: "entityType" }, properties: entity } as Meaning]]), intern);
  design.entityTypes.forEach((type, t) =>
    type.attributes.forEach((attribute, i) => {
      const key = nameKey(attribute.name);
      const slot = slots.get(key) ?? slots.size;
      const found = checkExpression(attribute.value, declare());
      if (!found.ok) return; // reported where the attribute itself is checked
      const known = entity.get(attribute.name);
      if (known && !sameType(known.type, found.checked.type)) {
        problems.add("attribute-type", ["entityTypes", t, "attributes", i], { id: type.id, field: `attribute ${attribute.name}` }, `"${attribute.name}" is ${typeName(found.checked.type)} here, but ${typeName(known.type)} for another entity type.`, "Give it the same unit everywhere, or another name.");
        return;
      }
      slots.set(key, slot);
      if (!known) entity.set(attribute.name, { type: found.checked.type, source: { kind: "attribute", slot } });
    }),
  );
  return { withEntity: declare(), withoutEntity: makeScope(names, intern), slots };
}

/** Dotted property names as nested meanings: "queue.length" becomes queue → length. */
function nested(properties: Readonly<Record<string, Meaning["type"]>>, element: number): Map<string, Meaning> {
  const result = new Map<string, Meaning>();
  for (const [path, type] of Object.entries(properties)) {
    const [head, tail] = path.split(".");
    const leaf: Meaning = { type, source: { kind: "element", element, property: path } };
    if (tail) result.set(head, { type: { kind: "element" }, properties: new Map([[tail, leaf]]) });
    else result.set(head, leaf);
  }
  return result;
}

function checkField(text: string, field: FieldSpec, scopes: Scopes, problems: Problems, path: Path, id: string | undefined, fieldName = field.name): Checked | undefined {
  const where = { id, field: fieldName };
  if (text.trim() === "") {
    if (!field.optional) problems.add("empty-setting", path, where, `${field.label} is empty.`, field.help);
    return undefined;
  }
  if (field.words?.includes(text.trim())) return undefined;
  const result = checkExpression(text, field.entity ? scopes.withEntity : scopes.withoutEntity, scopes.anyType || field.anyNumber ? undefined : field.type);
  if (!result.ok) {
    for (const p of result.problems) {
      const code = p.message.includes("wanted") || p.message.includes("cannot be") ? "unit-mismatch" : "bad-expression";
      problems.add(code, path, { ...where, start: p.start, end: p.end }, `${field.label}: ${p.message}`, p.hint);
    }
    return undefined;
  }
  const { checked } = result;
  const { constant } = checked;
  const refuse = (code: string, message: string, hint?: string) => {
    problems.add(code, path, { ...where, start: 0, end: text.length }, `${field.label}: ${message}`, hint);
    return undefined;
  };
  if (field.anyNumber && checked.type.kind !== "number") return refuse("not-a-number", `a number is wanted; this is ${typeName(checked.type)}.`);
  if (field.fixed && constant === undefined) return refuse("not-fixed", "this must be a fixed value.", "Random or changing values are not possible here.");
  if (constant !== undefined) {
    const symbol = field.type.kind === "number" ? dimensionSymbol(field.type.dimension) : "1";
    const unit = symbol === "1" ? "" : ` ${symbol}`;
    if (field.whole && !(Number.isInteger(constant) && constant >= field.whole[0] && constant <= field.whole[1])) {
      return refuse("not-a-count", `a whole number from ${field.whole[0]} to ${field.whole[1]} is wanted; this is ${constant}.`);
    }
    if (field.least !== undefined && constant < field.least) {
      return refuse(field.least === 0 ? "negative-value" : "out-of-range", field.least === 0 ? `this is negative (${constant}${unit}).` : `this must be at least ${field.least}${unit}.`, "Write a value of 0 or more.");
    }
    if (field.above !== undefined && !(constant > field.above)) return refuse("out-of-range", `this must be above ${field.above}${unit}.`);
  }
  return checked;
}

function checkNames(design: Design, problems: Problems): void {
  const ids = new Set<string>();
  const keys = new Map<string, string>([["clock", "the clock"], ["entity", "the entity"]]);
  const check = (items: readonly { readonly id: string; readonly name?: string }[], list: string) =>
    items.forEach((item, i) => {
      if (ids.has(item.id)) problems.add("duplicate-id", [list, i, "id"], { id: item.id, field: "id" }, `The id "${item.id}" is used twice.`, "Give each element, link and entity type an id of its own.");
      ids.add(item.id);
      if (item.name === undefined) return;
      const key = nameKey(item.name);
      const other = keys.get(key);
      if (key === "" || other) {
        problems.add("duplicate-name", [list, i, "name"], { id: item.id, field: "name" }, other ? `"${item.name}" reads the same as the name of ${other}.` : `"${item.name}" has no letter or digit in it.`, "Choose another name, so that expressions can tell them apart.");
      }
      keys.set(key, `"${item.name}"`);
    });
  check(design.entityTypes, "entityTypes");
  check(design.elements, "elements");
  check(design.links, "links");
}
