import type { DesignOf } from "../../document/design.ts";
import type { ElementBase } from "../../document/element.ts";
import { tablesOf } from "../../document/table.ts";
import type { Problem } from "../../document/problem.ts";
import type { StudyOf } from "../../document/study.ts";
import type { Families, Model } from "../../model/model.ts";
import { readCalendars, readDays } from "./calendars.ts";
import { readCustom } from "./customMeasures.ts";
import { readDisplay } from "./displays.ts";
import { checkHandedOn } from "./elementAttributes.ts";
import { readElements } from "./elements.ts";
import { readTypes } from "./entityTypes.ts";
import { carriesBySteps, readLogic } from "./logic.ts";
import { readLinks } from "./links.ts";
import { checkNames } from "./names.ts";
import { Problems } from "./problems.ts";
import { makeTexts } from "./texts.ts";
import { namedIn, unfold, type Unfolded } from "../families/unfold.ts";
import { readRoads } from "./roads.ts";
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
  const document = study.designs[designIndex];
  const unfolded = unfold(study, document);
  const { design } = unfolded;
  const problems = new Problems(design, ["designs", designIndex]);
  const ofRun = new Problems(design, []);
  const { intern, textOf, all: texts } = makeTexts();
  checkNames(document, problems);
  const days = readDays(study, ofRun);
  tellOfFamilies(unfolded, document, designIndex, ofRun);
  const along = followsRoute(design) ? routeTableOf(tablesOf(study.tables, design.tables)) : undefined;
  const scopes = makeScopes(
    { study, document, ofStudy: ofRun },
    unfolded,
    intern,
    problems,
    (scope) =>
      readTables(
        {
          study,
          design: document,
          elements: namedIn(unfolded),
          entityTypes: design.entityTypes,
          intern,
          textOf,
          ...days,
        },
        scope,
        ofRun,
      ),
    along?.id,
  );
  checkCells(scopes.tables);
  const drawn = readRoads(unfolded, document, scopes, study.calendars, problems);
  const network = readLinks(unfolded, scopes, drawn.roads, study.calendars, problems);
  const timetables = readCalendars(study, design.id, days, ofRun);
  const { nodes, carries } = readElements(study, unfolded, network, { ...scopes, texts }, drawn.roads, problems);
  const families = familiesOf(unfolded, document);
  const types = readTypes(unfolded, scopes, problems);
  const route = readRoute(study, design, scopes, { nodes, families }, problems);
  checkHandedOn(design, problems);
  const logic = readLogic({
    document,
    model: { nodes, families, timetables },
    entityTypes: design.entityTypes,
    scopes,
    problems,
  });
  const run = readRun(study, days, scopes, ofRun);
  return {
    model: {
      study,
      design,
      document,
      families,
      settings: study.run,
      ...run,
      custom: design.measures.map((measure, i) =>
        readCustom(measure, design, scopes, problems, ["measures", i], logic?.recorded),
      ),
      ...days,
      // Each node holds the element of the design at its place.
      nodes: nodes as unknown as Model<E>["nodes"],
      carries: carries || carriesBySteps(document),
      ways: network.ways,
      types,
      displays: design.displays.map((display, i) => readDisplay(display, scopes, problems, ["displays", i])),
      timetables,
      tables: scopes.tables,
      variables: scopes.variables,
      elementAttributes: scopes.elementAttributes,
      ...drawn,
      route,
      logic,
      attributeCount: scopes.slots.size,
      attributeSlots: scopes.slots,
      texts,
    },
    problems: [...problems.list, ...ofRun.list],
  };
}

function tellOfFamilies({ problems }: Unfolded, document: DesignOf, designIndex: number, ofRun: Problems): void {
  for (const { code, of, list, field, message, hint } of problems) {
    const at = document[list].findIndex(({ id }) => id === of.id);
    ofRun.add(code, ["designs", designIndex, list, at, "family"], { id: of.id, field }, `${of.name}: ${message}`, hint);
  }
}

function familiesOf(
  { design, members, families, elementAt, linkAt, typeAt, typeRows }: Unfolded,
  document: DesignOf,
): Families {
  return {
    list: families,
    memberOf: (id) => members.get(id),
    elementAt: (index) => elementAt?.[index] ?? index,
    linkAt: (index) => linkAt?.[index] ?? index,
    linkIdAt: (index) => document.links[index]?.id,
    typeAt: (index) => typeAt?.[index] ?? index,
    typeRowOf: (id) => typeRows.get(id),
    none: design === document,
  };
}
