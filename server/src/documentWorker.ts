import {
  assignStreams,
  compile,
  type Design,
  fingerprint,
  type Problem,
  readStudy,
  runSettingsSchema,
  schemaProblem,
  type Study,
  measuresOf,
} from "@busy-harbor/core";
import {
  factorWords,
  readPrecision,
  readSearch,
  scenarioNames,
  scenarioStudy,
  searchPlace,
  valueIn,
  wordsOfValue,
} from "@busy-harbor/core/experiments";
import { newRunSchema, newStudySchema, saveStudySchema, type Selection } from "@busy-harbor/core/contract";
import { z } from "zod";
import { hashOf } from "./store/hash.ts";
import {
  joined,
  type PreparedRun,
  type PreparedSave,
  type PreparedScenario,
  type PreparedSearch,
  type PreparedStudy,
  type Read,
} from "./documents/prepared.ts";

/*
 * Documents are read, checked and written on a thread of their own, so that a study of twenty thousand elements
 * keeps nobody else waiting.
 */

const decoder = new TextDecoder("utf-8", { fatal: true });

/** The JSON in the body of a request. */
function parse(bytes: Uint8Array): Read<unknown> {
  try {
    return { ok: true, value: JSON.parse(decoder.decode(bytes)) as unknown };
  } catch (error) {
    return {
      ok: false,
      status: 400,
      type: "not-json",
      title: `The request is not JSON text in UTF-8: ${error instanceof Error ? error.message : String(error)}.`,
    };
  }
}

const unlike = (error: z.ZodError): Read<never> => ({
  ok: false,
  status: 400,
  type: "bad-request",
  title: "The request does not have the form it should.",
  problems: error.issues.slice(0, 200).map(schemaProblem),
});

function prepare(study: Study): PreparedStudy {
  const { designs, files, ...header } = study;
  return {
    name: study.name,
    // Files are kept by themselves, so that saving need not write them again.
    header: JSON.stringify({ ...header, files: {} }),
    designs: designs.map((design) => ({ id: design.id, name: design.name, body: JSON.stringify(design) })),
    files: Object.entries(files).map(([id, content]) => ({ id, bytes: Buffer.from(content, "base64") })),
  };
}

/** A study file that is to be opened as a new study. */
export function readNew(bytes: Uint8Array): Read<PreparedStudy> {
  const data = parse(bytes);
  if (!data.ok) return data;
  const request = newStudySchema.safeParse(data.value);
  if (!request.success) return unlike(request.error);
  const read = readStudy(request.data.study);
  if (!read.ok)
    return {
      ok: false,
      status: 422,
      type: "unreadable-study",
      title: "The file cannot be opened as a study.",
      problems: read.problems,
    };
  return { ok: true, value: prepare(read.study) };
}

/** What a save holds besides the study, which is read by itself. */
const SAVE = saveStudySchema.extend({ study: z.unknown() });

/** A study that is to be saved, with the revision that it was made from. */
export function readSave(bytes: Uint8Array): Read<PreparedSave> {
  const data = parse(bytes);
  if (!data.ok) return data;
  const request = SAVE.safeParse(data.value);
  if (!request.success) return unlike(request.error);
  const { revision, study } = request.data;
  const read = readStudy(study);
  if (!read.ok)
    return {
      ok: false,
      status: 400,
      type: "bad-request",
      title: "The study cannot be kept as it is.",
      problems: read.problems.map((p) => ({ ...p, path: ["study", ...p.path] })),
    };
  return { ok: true, value: { revision, study: prepare(assignStreams(read.study)) } };
}

export interface Kept {
  readonly header: string;
  readonly designs: readonly string[];
}

const unreadable = (title: string, problems?: readonly Problem[]): Read<never> => ({
  ok: false,
  status: 500,
  type: "stored-study-unreadable",
  title,
  problems,
});

/** Reads a study as it was kept, perhaps by an earlier version. */
function readKept({ header, designs }: Kept): Read<Study> {
  let data: unknown;
  try {
    data = JSON.parse(joined(header, designs));
  } catch (error) {
    return unreadable(`The stored study is damaged: ${error instanceof Error ? error.message : String(error)}.`);
  }
  const read = readStudy(data);
  return read.ok ? { ok: true, value: read.study } : unreadable("The stored study cannot be read.", read.problems);
}

/** The text of a kept study, as this version writes it. */
export function textOf(kept: Kept): Read<string> {
  const read = readKept(kept);
  return read.ok ? { ok: true, value: JSON.stringify(read.value) } : read;
}

/** The last kept study that was read: the scenarios of an experiment come one after another. */
let last: { readonly kept: Kept; readonly read: Read<Study> } | undefined;

const isSame = (a: Kept, b: Kept): boolean =>
  a.header === b.header && a.designs.length === b.designs.length && a.designs.every((body, i) => body === b.designs[i]);

function readOnce(kept: Kept): Read<Study> {
  if (!last || !isSame(last.kept, kept)) last = { kept, read: readKept(kept) };
  return last.read;
}

/** Checks that a design of a kept study can run as a request asks, and makes what the run keeps. */
export function readRun({ kept, request }: { readonly kept: Kept; readonly request: unknown }): Read<PreparedRun> {
  const asked = newRunSchema.safeParse(request);
  if (!asked.success) return unlike(asked.error);
  const read = readOnce(kept);
  if (!read.ok) return read;
  const study = read.value;
  const design = study.designs.find((d) => d.id === asked.data.designId);
  if (!design) return { ok: false, status: 404, type: "not-found", title: "The study has no such design." };
  const settings = runSettingsSchema.parse({ ...study.run, ...asked.data.settings });
  return prepareRun({ ...study, run: settings, designs: [design] }, design, design.name);
}

/** Checks that a scenario of a kept study can run, and makes what its run keeps. */
export function readScenario({
  kept,
  plan,
  scenario,
  selection,
}: {
  readonly kept: Kept;
  readonly plan: string;
  readonly scenario: string;
  readonly selection?: Selection;
}): Read<PreparedScenario> {
  const read = readOnce(kept);
  if (!read.ok) return read;
  const study = read.value;
  const experiment = study.experiments?.find(({ id }) => id === plan);
  const row = experiment?.scenarios.find(({ id }) => id === scenario);
  if (!experiment || !row)
    return { ok: false, status: 404, type: "not-found", title: "The study has no such scenario." };
  const name = scenarioNames(study, experiment).get(scenario)!;
  const applied = scenarioStudy(study, experiment, row);
  if (!applied.ok) return refused(name, applied.problems);
  // A selection says itself how many replications it wants.
  const run = selection && { ...applied.study.run, replications: selection.firstStage, precision: undefined };
  const prepared = prepareRun({ ...applied.study, ...(run ? { run } : {}) }, applied.design, name, scenario);
  if (!prepared.ok) return prepared;
  const why = selection && selectionRefusal(selection, prepared.value);
  if (why !== undefined)
    return refused(name, [{ code: "selection", severity: "error", message: why, path: [], scenario } as Problem]);
  const factors = Object.fromEntries(
    factorWords(study, experiment).map((words) => [
      words.title.slice(0, 80),
      wordsOfValue(words, valueIn(study, words.factor, row)).slice(0, 400),
    ]),
  );
  return { ok: true, value: { ...prepared.value, designId: row.design, factors, name } };
}

/** Makes the search of an experiment ready: what it goes through, and the study that it keeps to. */
export function readSearchPlan({ kept, plan }: { readonly kept: Kept; readonly plan: string }): Read<PreparedSearch> {
  const read = readOnce(kept);
  if (!read.ok) return read;
  const study = read.value;
  const experiment = study.experiments?.find(({ id }) => id === plan);
  const design = study.designs.find(({ id }) => id === experiment?.search?.design);
  if (!experiment?.search || !design)
    return { ok: false, status: 404, type: "not-found", title: "The study has no such search." };
  const { program, problems } = compile(study, design.id);
  if (!program) return refused(design.name, problems);
  const found = readSearch(study, experiment, measuresOf(program));
  if (!found.ok)
    return refused(
      experiment.name,
      Object.entries(found.problems).map(([field, message]) => ({
        code: "search",
        severity: "error" as const,
        message,
        path: ["experiments", plan, "search", field],
        field,
      })),
    );
  if (study.run.kind === "long")
    return refused(experiment.name, [
      { code: "search", severity: "error", message: "A search needs replications as the type of run.", path: [] },
    ]);
  const text = JSON.stringify({ ...study, designs: [design], experiments: [experiment] });
  const { measure, bound } = experiment.search;
  return {
    ok: true,
    value: { text, hash: hashOf(text), search: found.search, measure, bounded: bound?.measure ?? null },
  };
}

/** Makes a place of a search ready to run, from the study that the search keeps to. */
export function readPlace({
  text,
  values,
  replications,
}: {
  readonly text: string;
  readonly values: Readonly<Record<string, string>>;
  readonly replications: number;
}): Read<PreparedScenario> {
  if (lastText?.text !== text) lastText = { text, study: JSON.parse(text) as Study };
  const { study } = lastText;
  const [experiment] = study.experiments!;
  const design = study.designs[0].id;
  const place = searchPlace(study, experiment, design, values, replications);
  if (!place.ok) return refused(place.name, place.problems);
  const { applied, factors, name } = place;
  const prepared = prepareRun(applied.study, applied.design, name);
  if (!prepared.ok) return prepared;
  return { ok: true, value: { ...prepared.value, designId: design, factors, name } };
}

let lastText: { readonly text: string; readonly study: Study } | undefined;

/** Why the best cannot be selected by this measure, or in runs of this type. */
function selectionRefusal({ measure }: Selection, { measures, settings }: PreparedRun): string | undefined {
  if ((JSON.parse(settings) as Study["run"]).kind === "long")
    return "Batches of one long run cannot be added one by one: choose replications as the type of run.";
  const isMeasured = (JSON.parse(measures) as { readonly key: string }[]).some(({ key }) => key === measure);
  return isMeasured ? undefined : "The design does not have the measure by which the best is selected.";
}

const refused = (name: string, problems: readonly Problem[]): Read<never> => ({
  ok: false,
  status: 422,
  type: "model-problems",
  title: `${name} has problems and cannot run.`,
  problems,
});

function prepareRun(study: Study, design: Design, name: string, scenario?: string): Read<PreparedRun> {
  const { program, problems } = compile(study, design.id);
  const told = (list: readonly Problem[]) => (scenario === undefined ? list : list.map((p) => ({ ...p, scenario })));
  if (!program) return refused(name, told(problems));
  const measures = measuresOf(program);
  const precision = readPrecision(study.run, measures);
  if (precision.problems.length > 0) return refused(name, told(precision.problems));
  const snapshot = JSON.stringify(study);
  return {
    ok: true,
    value: {
      designName: design.name,
      fingerprint: fingerprint(design, study.run, study),
      settings: JSON.stringify(study.run),
      snapshot,
      documentId: hashOf(snapshot),
      measures: JSON.stringify(measures),
    },
  };
}
