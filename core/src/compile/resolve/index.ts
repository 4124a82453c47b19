import type { ElementBase } from "../../document/element.ts";
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
import { readRun } from "./runSettings.ts";
import { makeScopes } from "./scopes.ts";

export interface Resolution<E extends ElementBase> {
  readonly model: Model<E>;
  readonly problems: readonly Problem[];
}

/** Reads one design of a study: resolves names, checks every expression, and reports all that is wrong. */
export function resolve<E extends ElementBase>(study: StudyOf<E>, designIndex: number): Resolution<E> {
  const design = study.designs[designIndex];
  const problems = new Problems(design, ["designs", designIndex]);
  const ofRun = new Problems(design, []);
  const texts = new Map<string, number>();
  const intern = (text: string) => {
    if (!texts.has(text)) texts.set(text, texts.size);
    return texts.get(text)!;
  };
  checkNames(design, problems);
  const scopes = makeScopes(design, intern, problems);
  const network = readLinks(design, scopes, problems);
  const days = readDays(study, ofRun);
  const timetables = readCalendars(study, design.id, days, ofRun);
  const { nodes, carries } = readElements(study, design, network, scopes, problems);
  const types = readTypes(design, scopes, problems);
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
      attributeCount: scopes.slots.size,
      attributeSlots: scopes.slots,
      texts: [...texts.keys()],
    },
    problems: [...problems.list, ...ofRun.list],
  };
}
