import type { ElementBase } from "../../document/element.ts";
import { tablesOf } from "../../document/table.ts";
import type { Problem } from "../../document/problem.ts";
import type { StudyOf } from "../../document/study.ts";
import type { Model } from "../../model/model.ts";
import { readCalendars, readDays } from "./calendars.ts";
import { readCustom } from "./customMeasures.ts";
import { readDisplay } from "./displays.ts";
import { readElements } from "./elements.ts";
import { readTypes } from "./entityTypes.ts";
import { readLinks } from "./links.ts";
import { checkNames } from "./names.ts";
import { Problems } from "./problems.ts";
import { followsRoute, readRoute, routeTableOf } from "./route.ts";
import { readRun } from "./runSettings.ts";
import { makeScopes } from "./scopes.ts";
import { checkCells, readTables } from "./tables.ts";

export interface Resolution<E extends ElementBase> {
  readonly model: Model<E>;
  readonly problems: readonly Problem[];
}

/** Reads one design of a study: resolves names, checks every expression, and reports all that is wrong. */
export function resolve<E extends ElementBase>(study: StudyOf<E>, designIndex: number): Resolution<E> {
  const design = study.designs[designIndex];
  const problems = new Problems(design, ["designs", designIndex]);
  const ofRun = new Problems(design, []);
  const { intern, textOf, all: texts } = makeTexts();
  checkNames(design, problems);
  const days = readDays(study, ofRun);
  const along = followsRoute(design) ? routeTableOf(tablesOf(study.tables, design.tables)) : undefined;
  const scopes = makeScopes(
    design,
    intern,
    problems,
    (scope) => readTables({ study, design, intern, textOf, ...days }, scope, ofRun),
    along?.id,
  );
  checkCells(scopes.tables);
  const network = readLinks(design, scopes, problems);
  const timetables = readCalendars(study, design.id, days, ofRun);
  const { nodes, carries } = readElements(study, design, network, scopes, problems);
  const types = readTypes(design, scopes, problems);
  const route = readRoute(study, design, scopes, nodes, problems);
  const run = readRun(study, days, scopes, ofRun);
  return {
    model: {
      study,
      design,
      settings: study.run,
      ...run,
      custom: design.measures.map((measure, i) => readCustom(measure, design, scopes, problems, ["measures", i])),
      ...days,
      // Each node holds the element of the design at its place.
      nodes: nodes as unknown as Model<E>["nodes"],
      carries,
      ways: network.ways,
      types,
      displays: design.displays.map((display, i) => readDisplay(display, scopes, problems, ["displays", i])),
      timetables,
      tables: scopes.tables,
      route,
      attributeCount: scopes.slots.size,
      attributeSlots: scopes.slots,
      texts,
    },
    problems: [...problems.list, ...ofRun.list],
  };
}

/** Texts by numbers, in the order in which they are met. */
function makeTexts() {
  const numbers = new Map<string, number>();
  const all: string[] = [];
  const intern = (text: string): number => {
    let number = numbers.get(text);
    if (number === undefined) {
      numbers.set(text, (number = all.length));
      all.push(text);
    }
    return number;
  };
  return { intern, textOf: (number: number) => all[number] ?? "", all };
}
