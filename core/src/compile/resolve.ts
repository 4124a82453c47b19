import type {
  CustomMeasure,
  Design,
  Display,
  Element,
  ElementOf,
  EntityType,
  Link,
  Study,
} from "../document/schema.ts";
import type { Problem } from "../document/problem.ts";
import { type FieldSpec, kindOf, LINK_FIELDS, RUN_FIELDS, settingsOf, SPEED_FIELD } from "../elements/index.ts";
import {
  type Checked,
  checkExpression,
  CLOCK,
  makeScope,
  type Meaning,
  nameKey,
  numberOf,
  PLAIN,
  type Scope,
  sameType,
  sourcesOf,
  typeName,
  type ValueType,
  YES_NO,
} from "../expression/index.ts";
import type { CustomModel, DisplayModel, Model, Node, TypeModel, Way } from "../model/model.ts";
import { dimensionSymbol, isNumber, TIME } from "../quantity/index.ts";
import {
  DAY,
  dayNumber,
  daysOpen,
  isMoment,
  readCalendar,
  secondsOfDay,
  type Timetable,
  wholeDays,
} from "../timetable/index.ts";
import { linkPoints, polylineLength } from "./geometry.ts";

type Path = readonly (string | number)[];

/** Gathers problems of one design, each with its path from the document's root. */
class Problems {
  readonly list: Problem[] = [];
  constructor(
    private readonly design: Design,
    private readonly root: Path,
  ) {}

  add(
    code: string,
    path: Path,
    where: Partial<Pick<Problem, "id" | "field" | "start" | "end">>,
    message: string,
    hint?: string,
    severity: Problem["severity"] = "error",
  ): void {
    this.list.push({
      code,
      severity,
      message,
      hint,
      path: [...this.root, ...path],
      designId: this.design.id,
      ...where,
    });
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
  const linkSettings = (link: Link, fields: readonly FieldSpec[], path: Path): ReadonlyMap<string, Checked> => {
    const settings = new Map<string, Checked>();
    for (const field of fields) {
      const checked = checkField(
        link[field.name as keyof typeof LINK_FIELDS],
        field,
        scopes,
        problems,
        [...path, field.name],
        link.id,
      );
      if (checked) settings.set(field.name, checked);
    }
    return settings;
  };
  const elementSettings = (element: Element, path: Path): ReadonlyMap<string, Checked> => {
    const settings = new Map<string, Checked>();
    for (const { key, field, text, path: within, used } of settingsOf(element, kindOf(element))) {
      const checked = used
        ? checkField(text, field, scopes, problems, [...path, ...within], element.id, key)
        : undefined;
      if (checked) settings.set(key, checked);
    }
    return settings;
  };

  const indexById = new Map(design.elements.map((element, index) => [element.id, index]));
  const ways: Way[] = [];
  const out: Way[][] = design.elements.map(() => []);
  const aside = {
    "turned away": new Map<number, Way>(),
    scrapped: new Map<number, Way>(),
    parts: new Map<number, Way>(),
  };
  const into: Way[][] = design.elements.map(() => []);
  design.links.forEach((link, i) => {
    const path = ["links", i];
    const from = indexById.get(link.from);
    const to = indexById.get(link.to);
    if (from === undefined || to === undefined) {
      const end = from === undefined ? "from" : "to";
      problems.add(
        "missing-element",
        [...path, end],
        { id: link.id, field: end },
        `This link ${end === "from" ? "leaves" : "leads to"} an element that does not exist ("${link[end]}").`,
        "Draw the link again, or delete it.",
      );
      return;
    }
    const target = design.elements[to];
    const origin = design.elements[from];
    if (!kindOf(target).hasWayIn)
      problems.add(
        "no-way-in",
        [...path, "to"],
        { id: link.id, field: "to" },
        `A link leads into ${target.name}, but nothing enters ${kindOf(target).plural.toLowerCase()}.`,
        "Delete the link, or draw it the other way round.",
      );
    if (!kindOf(origin).hasWayOut)
      problems.add(
        "no-way-out-of-kind",
        [...path, "from"],
        { id: link.id, field: "from" },
        `A link leaves ${origin.name}, but nothing goes on from ${kindOf(origin).plural.toLowerCase()}.`,
        "Delete the link, or draw it the other way round.",
      );
    const fields = [
      ...(link.kind === "timed" ? [LINK_FIELDS.time] : []),
      ...(link.kind === "walkway" ? [LINK_FIELDS.length] : []),
      ...(link.takes === "done" && "wayOut" in origin && origin.wayOut === "share" ? [LINK_FIELDS.share] : []),
      ...(link.takes === "done" && "wayOut" in origin && origin.wayOut === "condition" ? [LINK_FIELDS.condition] : []),
      ...(link.takes === "done" && "wayOut" in origin && origin.wayOut === "cheapest" ? [LINK_FIELDS.cost] : []),
    ];
    const way: Way = {
      index: ways.length,
      link,
      from,
      to,
      drawnLength: polylineLength(linkPoints(link, origin, target)),
      settings: linkSettings(link, fields, path),
    };
    ways.push(way);
    into[to].push(way);
    if (link.takes === "done") out[from].push(way);
    else {
      const { may, who, how } = ASIDE[link.takes];
      const where = { id: link.id, field: "takes" };
      if (!may(origin))
        problems.add(
          "none-turned-away",
          [...path, "takes"],
          where,
          `No one is ${who} at ${origin.name}, so no one takes this link.`,
          how,
          "warning",
        );
      else if (aside[link.takes].has(from))
        problems.add(
          "turned-away-twice",
          [...path, "takes"],
          where,
          `${origin.name} has more than one way for those ${who}.`,
          "Keep one; a junction after it can tell them apart.",
        );
      else aside[link.takes].set(from, way);
    }
  });

  if (!isMoment(study.run.start))
    runProblems.add(
      "no-such-date",
      ["run", "start"],
      { field: "start" },
      `There is no ${study.run.start.replace("T", " ")}: the run cannot start then.`,
      "Choose a date and time that exist.",
    );
  const startOfDay = secondsOfDay(study.run.start.slice(11));
  const [opens, closes] = [study.run.opens, study.run.closes].map(secondsOfDay);
  const skips = study.run.nights === "skipped";
  if (skips && !(opens <= startOfDay && startOfDay < closes)) {
    runProblems.add(
      "closed-at-start",
      ["run", "opens"],
      { field: "opens" },
      `The run starts at ${study.run.start.slice(11)}, outside the operating hours from ${study.run.opens} to ${study.run.closes}.`,
      "Start it within them, or change them.",
    );
  }
  const days =
    skips && opens <= startOfDay && startOfDay < closes ? daysOpen(startOfDay, opens, closes) : wholeDays(startOfDay);
  const timetables = new Map<string, Timetable>();
  study.calendars.forEach((calendar, i) => {
    const { timetable, problems: found } = readCalendar(calendar, study.run.start);
    // Durations from the start are running time already.
    if (timetable) timetables.set(calendar.id, calendar.repeats === "pattern" ? timetable : days.follow(timetable));
    for (const { path, ...problem } of found)
      runProblems.list.push({
        ...problem,
        path: ["calendars", i, ...path],
        designId: design.id,
        id: calendar.id,
        field: path.join("."),
      });
  });

  const resources = new Set(
    design.elements.filter((e) => e.kind === "crew" || e.kind === "equipment").map((e) => e.id),
  );
  const nodes: Node[] = design.elements.map((element, index) => {
    const path = ["elements", index];
    const kind = kindOf(element);
    const settings = elementSettings(element, path);
    const report = (
      code: string,
      field: string,
      message: string,
      hint: string,
      severity: Problem["severity"] = "error",
    ) => {
      const label = settingsOf(element, kind).find(({ key }) => key === field)?.field.label;
      problems.add(
        code,
        [...path, ...field.split(".")],
        { id: element.id, field },
        label ? `${label}: ${message}` : `${element.name}: ${message}`,
        hint,
        severity,
      );
    };
    kind.check?.({ element, settings }, report, design);
    if ("calendar" in element && element.calendar !== "")
      checkCalendar(element.calendar, "calendar", "capacity", study, report);
    if (element.kind === "arrivals" && element.by === "profile" && element.profile !== "")
      checkCalendar(element.profile, "profile", "rate", study, report);
    if ("initial" in element) {
      for (const { id, entityType } of element.initial)
        if (!design.entityTypes.some((t) => t.id === entityType))
          report(
            "missing-entity-type",
            `initial.${id}.entityType`,
            "what is there at the start is no entity type.",
            "Choose an entity type on its card.",
          );
    }
    if ("breakdowns" in element)
      for (const { id, anyOf } of element.breakdowns)
        checkResources(anyOf, `breakdowns.${id}.anyOf`, resources, element.id, report);
    if (element.kind === "station") {
      for (const { id, anyOf } of element.needs) {
        if (anyOf.length === 0)
          report(
            "missing-resource",
            `needs.${id}.anyOf`,
            "nothing says which resource is needed.",
            "Choose a crew or equipment.",
          );
        checkResources(anyOf, `needs.${id}.anyOf`, resources, element.id, report);
      }
      checkCounts(element, settings, design, report);
    }
    return {
      index,
      element,
      out: out[index],
      turnedAway: aside["turned away"].get(index),
      scrapped: aside.scrapped.get(index),
      parts: aside.parts.get(index),
      in: into[index],
      settings,
    };
  });

  const types = design.entityTypes.map((type, index): TypeModel => {
    const path = ["entityTypes", index];
    const speed = checkField(type.speed, SPEED_FIELD, scopes, problems, [...path, "speed"], type.id);
    const attributes = type.attributes.flatMap((attribute, i) => {
      const checked = checkField(
        attribute.value,
        { name: "value", label: attribute.name, help: "", type: PLAIN, entity: true },
        { ...scopes, anyType: true },
        problems,
        [...path, "attributes", i, "value"],
        type.id,
        `attribute ${attribute.name}`,
      );
      const slot = scopes.slots.get(nameKey(attribute.name));
      return checked && slot !== undefined
        ? [{ slot, value: checked, stream: type.streams[`attribute ${attribute.name}`] ?? 0 }]
        : [];
    });
    return { index, type, speed, attributes, bands: readBands(type, scopes, problems, path) };
  });

  const ofRun = new Map<string, Checked>();
  for (const field of RUN_FIELDS) {
    if (field.used?.(study.run) === false) continue;
    const checked = checkField(
      String(study.run[field.name as "length" | "warmUp" | "count" | "condition"]),
      field,
      scopes,
      runProblems,
      ["run", field.name],
      undefined,
    );
    if (checked) ofRun.set(field.name, checked);
  }
  let length = ofRun.get("length")?.constant ?? 0;
  const warmUp = ofRun.get("warmUp")?.constant ?? 0;
  const stopCondition = ofRun.get("condition");
  if (stopCondition && readsTime(stopCondition))
    runProblems.add(
      "condition-of-time",
      ["run", "condition"],
      { field: "condition" },
      "The condition that ends a run does not watch the clock: it is looked at when something else changes.",
      "Give the run a length, or end it at a date.",
    );
  if (study.run.ends === "date") {
    const seconds = (at: string) => dayNumber(at.slice(0, 10)) * DAY + secondsOfDay(at.slice(11));
    length =
      isMoment(study.run.endDate) && isMoment(study.run.start)
        ? days.runningTime(seconds(study.run.endDate) - seconds(study.run.start))
        : 0;
    if (!(length > 0))
      runProblems.add(
        "bad-end",
        ["run", "endDate"],
        { field: "endDate" },
        study.run.endDate === ""
          ? "Nothing says at which date a run ends."
          : "The run ends before it starts, or on a day that does not exist.",
        "Choose a date and time after the start.",
      );
  }
  if (study.run.kind === "long" && (study.run.ends === "count" || study.run.ends === "condition")) {
    runProblems.add(
      "long-run-end",
      ["run", "ends"],
      { field: "ends" },
      "A long run is cut into batches of equal length, so it must be known beforehand when it ends.",
      "End it after a time or at a date.",
    );
  }
  if (length > 0 && warmUp >= length) {
    runProblems.add(
      "warm-up-too-long",
      ["run", "warmUp"],
      { field: "warmUp" },
      "The warm-up is not shorter than the run.",
      "Shorten the warm-up or lengthen the run.",
    );
  }
  const custom = design.measures.map((measure, i) => readCustom(measure, design, scopes, problems, ["measures", i]));

  return {
    model: {
      study,
      design,
      settings: study.run,
      length,
      warmUp,
      custom,
      stop: { count: ofRun.get("count")?.constant, condition: stopCondition },
      startOfDay,
      days,
      nodes,
      ways,
      types,
      displays: design.displays.map((display, i) => readDisplay(display, scopes, problems, ["displays", i])),
      timetables,
      attributeCount: scopes.slots.size,
      attributeSlots: scopes.slots,
      texts: [...texts.keys()],
    },
    problems: [...problems.list, ...runProblems.list],
  };
}

const readsTime = (checked: Checked): boolean =>
  sourcesOf(checked).some((source) => source.kind === "clock" || source.kind === "timeOfDay" || source.kind === "day");

/** A custom measure. A mistake in it keeps the design from running: a figure that is wanted would be missing. */
function readCustom(
  measure: CustomMeasure,
  design: Design,
  scopes: Scopes,
  problems: Problems,
  path: Path,
): CustomModel {
  const read = (text: string, field: string, spec: Partial<FieldSpec>): Checked | undefined => {
    const checked = checkField(
      text,
      {
        name: field,
        label: measure.name,
        help: "Write what is measured, such as Dock.queue.length.",
        type: PLAIN,
        steady: true,
        ...spec,
      },
      scopes,
      problems,
      [...path, ...field.split(".")],
      measure.id,
      field,
    );
    if (!checked || !readsTime(checked)) return checked;
    problems.add(
      "condition-of-time",
      [...path, field],
      { id: measure.id, field },
      `${measure.name}: a measure does not watch the clock: it follows what elements do.`,
      "Leave the clock out of it.",
    );
    return undefined;
  };
  const bounds: number[] = [];
  if (measure.kind === "ranges") {
    measure.bounds.forEach((text, i) => {
      const bound = read(text, `bounds.${i}`, { any: "number", fixed: true })?.constant;
      if (bound !== undefined && bounds.length > 0 && bound <= bounds[bounds.length - 1])
        problems.add(
          "bounds-not-rising",
          [...path, "bounds", i],
          { id: measure.id, field: `bounds.${i}` },
          `${measure.name}: the bounds of its ranges do not rise.`,
          "Put the smaller first.",
        );
      bounds.push(bound ?? Number.NaN);
    });
  }
  const elements =
    measure.kind === "group" ? measure.elements.map((id) => design.elements.findIndex((e) => e.id === id)) : [];
  if (measure.kind === "group" && (elements.length === 0 || elements.includes(-1)))
    problems.add(
      "bad-group",
      [...path, "elements"],
      { id: measure.id, field: "elements" },
      elements.length === 0
        ? `${measure.name}: the group has no elements.`
        : `${measure.name}: an element of the group does not exist.`,
      "Choose its elements again.",
    );
  const value =
    measure.kind === "group"
      ? undefined
      : measure.kind === "condition"
        ? read(measure.condition, "condition", { type: YES_NO })
        : read(measure.value, "value", { any: "number" });
  if (measure.kind === "ranges" && value && value.type.kind === "number" && bounds.length > 0) {
    const type = value.type;
    measure.bounds.forEach((text, i) => {
      const found = checkExpression(text, scopes.withoutEntity, type);
      if (!found.ok && !Number.isNaN(bounds[i]))
        problems.add(
          "unit-mismatch",
          [...path, "bounds", i],
          { id: measure.id, field: `bounds.${i}` },
          `${measure.name}: this bound is another kind of quantity than what is measured.`,
          "Give it the same unit.",
        );
    });
  }
  return { measure, value, bounds, elements: elements.filter((i) => i >= 0) };
}

/** By which attribute a type is coloured, and from which values. A mistake in it is a warning: it spoils no run. */
function readBands(type: EntityType, scopes: Scopes, problems: Problems, path: Path): TypeModel["bands"] {
  if (type.colouring !== "attribute") return undefined;
  const warn = (field: string, message: string, hint: string) => {
    problems.add(
      "bad-colouring",
      [...path, ...field.split(".")],
      { id: type.id, field },
      `${type.name}: ${message}`,
      hint,
      "warning",
    );
    return undefined;
  };
  const attribute = type.attributes.find((a) => nameKey(a.name) === nameKey(type.colourAttribute));
  const slot = attribute && scopes.slots.get(nameKey(attribute.name));
  const meaning = attribute && scopes.withEntity.find("entity")?.properties?.get(attribute.name);
  if (slot === undefined || meaning?.type.kind !== "number")
    return warn(
      "colourAttribute",
      `it is coloured by "${type.colourAttribute}", which is no attribute of it that is a number.`,
      "Choose one of its attributes.",
    );
  const from = type.bands.map((band, i) => {
    const result = checkExpression(band.from, scopes.withoutEntity, meaning.type);
    if (result.ok && result.checked.constant !== undefined) return result.checked.constant;
    warn(
      `bands.${i}`,
      `the colour's value "${band.from}" is not a fixed value of the unit of ${type.colourAttribute}.`,
      "Write it with its unit.",
    );
    return Number.NaN;
  });
  if (from.some((value, i) => i > 0 && value <= from[i - 1]))
    return warn("bands", "the values of its colours do not rise.", "Put them in rising order.");
  return { slot, from };
}

/** What a display shows. A mistake in it is a warning: it spoils no run. */
function readDisplay(display: Display, scopes: Scopes, problems: Problems, path: Path): DisplayModel {
  const read = (text: string, field: string, label: string, type?: ValueType): Checked | undefined => {
    const refuse = (message: string, hint?: string, start = 0, end = text.length) => {
      problems.add(
        "bad-display",
        [...path, field],
        { id: display.id, field, start, end },
        `${label}: ${message}`,
        hint,
        "warning",
      );
      return undefined;
    };
    if (text.trim() === "")
      return refuse("it shows nothing yet.", "Write what to show, such as the length of a queue.");
    const result = checkExpression(text, scopes.withoutEntity, type);
    if (!result.ok)
      return refuse(
        result.problems[0].message,
        result.problems[0].hint,
        result.problems[0].start,
        result.problems[0].end,
      );
    if (result.checked.draws)
      return refuse("a display only reads; random draws would change the run.", "Leave the distribution out.");
    if (!["number", "yesNo"].includes(result.checked.type.kind)) return refuse("a number is wanted.");
    return result.checked;
  };
  const values =
    "rows" in display
      ? display.rows.map((row, i) => read(row.value, `rows.${i}`, row.label || `Row ${i + 1}`))
      : "value" in display
        ? [read(display.value, "value", display.title || `The ${display.kind}`)]
        : [];
  const span =
    display.kind === "chart" ? read(display.span, "span", "Time shown", numberOf(TIME))?.constant : undefined;
  return { display, values, span };
}

/** Who takes links besides those who are done, and at which elements there may be such. */
const ASIDE: Readonly<
  Record<
    Exclude<Link["takes"], "done">,
    { readonly may: (element: Element) => boolean; readonly who: string; readonly how: string }
  >
> = {
  "turned away": {
    may: (element) =>
      (element.kind === "station" || element.kind === "queue") &&
      (element.whenFull === "lose" || element.balk.trim() !== "" || element.patience.trim() !== ""),
    who: "turned away",
    how: "Let its entities be lost when it is full, not join, or give up waiting; or make this a way for those who are done.",
  },
  scrapped: {
    may: (element) => element.kind === "station" && element.onBreakdown === "scrap",
    who: "scrapped",
    how: "Let a breakdown scrap what is worked on; or make this a way for those who are done.",
  },
  parts: {
    may: (element) => element.kind === "split",
    who: "set free",
    how: "Only a split has parts or copies; make this a way for those who are done.",
  },
};

type ReportOf = (code: string, field: string, message: string, hint: string, severity?: Problem["severity"]) => void;

function checkCalendar(
  id: string,
  field: string,
  gives: "capacity" | "rate",
  { calendars }: Study,
  report: ReportOf,
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
  resources: ReadonlySet<string>,
  self: string,
  report: ReportOf,
): void {
  if (ids.some((id) => !resources.has(id)))
    report("missing-resource", field, "a resource that it needs does not exist.", "Choose another on its card.");
  if (ids.includes(self) && resources.has(self))
    report("needs-itself", field, "its repair would need itself.", "Choose another resource.");
  if (new Set(ids).size !== ids.length)
    report("resource-twice", field, "a resource is named twice.", "Name each once.");
}

/** Says when work needs more of a resource than there ever are. */
function checkCounts(
  element: ElementOf<"station">,
  settings: ReadonlyMap<string, Checked>,
  design: Design,
  report: ReportOf,
): void {
  const most = (id: string) => {
    const resource = design.elements.find((e) => e.id === id);
    return resource && "count" in resource && /^\d+$/.test(String(resource.count).trim())
      ? Number(resource.count)
      : Infinity;
  };
  for (const { id, anyOf } of element.needs) {
    const wanted = settings.get(`needs.${id}.count`)?.constant;
    if (wanted !== undefined && anyOf.length > 0 && anyOf.every((resource) => most(resource) < wanted))
      report(
        "need-too-large",
        `needs.${id}.count`,
        `work here needs ${wanted}, more than there are.`,
        "Lower it, or have more of the resource.",
      );
  }
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
  design.elements.forEach((element, index) =>
    names.set(element.name, {
      type: { kind: "element" },
      constant: index,
      properties: nested(kindOf(element).properties, index),
    }),
  );

  const entity = new Map<string, Meaning>([
    ["type", { type: { kind: "entityType" }, source: { kind: "entityType" } }],
    ["age", { type: numberOf(TIME), source: { kind: "entityAge" } }],
  ]);
  const slots = new Map<string, number>();
  const declare = (): Scope =>
    makeScope(
      new Map([
        ...names,
        ["entity", { type: { kind: "entity" }, source: { kind: "entityType" }, properties: entity } as Meaning],
      ]),
      intern,
    );
  design.entityTypes.forEach((type, t) =>
    type.attributes.forEach((attribute, i) => {
      const key = nameKey(attribute.name);
      const slot = slots.get(key) ?? slots.size;
      const found = checkExpression(attribute.value, declare());
      if (!found.ok) return; // reported where the attribute itself is checked
      const known = entity.get(attribute.name);
      if (known && !sameType(known.type, found.checked.type)) {
        problems.add(
          "attribute-type",
          ["entityTypes", t, "attributes", i],
          { id: type.id, field: `attribute ${attribute.name}` },
          `"${attribute.name}" is ${typeName(found.checked.type)} here, but ${typeName(known.type)} for another entity type.`,
          "Give it the same unit everywhere, or another name.",
        );
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

function checkField(
  text: string,
  field: FieldSpec,
  scopes: Scopes,
  problems: Problems,
  path: Path,
  id: string | undefined,
  fieldName = field.name,
): Checked | undefined {
  const where = { id, field: fieldName };
  if (text.trim() === "") {
    if (!field.optional) problems.add("empty-setting", path, where, `${field.label} is empty.`, field.help);
    return undefined;
  }
  if (field.words?.includes(text.trim())) return undefined;
  const result = checkExpression(
    text,
    field.entity ? scopes.withEntity : scopes.withoutEntity,
    scopes.anyType || field.any || field.chance ? undefined : field.type,
  );
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
  if (
    field.chance &&
    checked.type.kind !== "yesNo" &&
    !(checked.type.kind === "number" && isNumber(checked.type.dimension))
  )
    return refuse(
      "not-a-chance",
      `a chance or a condition is wanted; this is ${typeName(checked.type)}.`,
      "Write it as 5 %, or as a condition.",
    );
  if (field.chance && constant !== undefined && !(constant >= 0 && constant <= 1))
    return refuse("not-a-chance", `a chance lies between 0 and 100 %; this is ${constant}.`);
  if (field.any === "value" && !["number", "text", "yesNo", "entityType"].includes(checked.type.kind))
    return refuse(
      "not-a-value",
      `a number, text, yes or no, or an entity type is wanted; this is ${typeName(checked.type)}.`,
    );
  if (field.steady && checked.draws)
    return refuse(
      "not-steady",
      "this must not be random: it is read more than once.",
      "Set an attribute at birth at random, and read it here.",
    );
  if (field.any === "number" && checked.type.kind !== "number")
    return refuse("not-a-number", `a number is wanted; this is ${typeName(checked.type)}.`);
  if (field.fixed && constant === undefined)
    return refuse("not-fixed", "this must be a fixed value.", "Random or changing values are not possible here.");
  if (constant !== undefined) {
    const symbol = field.type.kind === "number" ? dimensionSymbol(field.type.dimension) : "1";
    const unit = symbol === "1" ? "" : ` ${symbol}`;
    if (field.whole && !(Number.isInteger(constant) && constant >= field.whole[0] && constant <= field.whole[1])) {
      return refuse(
        "not-a-count",
        `a whole number from ${field.whole[0]} to ${field.whole[1]} is wanted; this is ${constant}.`,
      );
    }
    if (field.least !== undefined && constant < field.least) {
      return refuse(
        field.least === 0 ? "negative-value" : "out-of-range",
        field.least === 0 ? `this is negative (${constant}${unit}).` : `this must be at least ${field.least}${unit}.`,
        "Write a value of 0 or more.",
      );
    }
    if (field.above !== undefined && !(constant > field.above))
      return refuse("out-of-range", `this must be above ${field.above}${unit}.`);
  }
  return checked;
}

function checkNames(design: Design, problems: Problems): void {
  const ids = new Set<string>();
  const keys = new Map<string, string>([
    ["clock", "the clock"],
    ["entity", "the entity"],
  ]);
  const check = (items: readonly { readonly id: string; readonly name?: string }[], list: string) =>
    items.forEach((item, i) => {
      if (ids.has(item.id))
        problems.add(
          "duplicate-id",
          [list, i, "id"],
          { id: item.id, field: "id" },
          `The id "${item.id}" is used twice.`,
          "Give each element, link and entity type an id of its own.",
        );
      ids.add(item.id);
      if (item.name === undefined) return;
      const key = nameKey(item.name);
      const other = keys.get(key);
      if (key === "" || other) {
        problems.add(
          "duplicate-name",
          [list, i, "name"],
          { id: item.id, field: "name" },
          other
            ? `"${item.name}" reads the same as the name of ${other}.`
            : `"${item.name}" has no letter or digit in it.`,
          "Choose another name, so that expressions can tell them apart.",
        );
      }
      keys.set(key, `"${item.name}"`);
    });
  check(design.entityTypes, "entityTypes");
  check(design.elements, "elements");
  check(design.links, "links");
  check(
    design.measures.map(({ id }) => ({ id })),
    "measures",
  );
}
