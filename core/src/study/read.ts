import { z } from "zod";
import type { Problem } from "../document/problem.ts";
import { MOST_LEVELS } from "../document/logic.ts";
import { FORMAT, VERSION } from "../document/study.ts";
import { type Study, studySchema } from "./schema.ts";
import { assignStreams } from "./streams.ts";

export type ReadResult =
  { readonly ok: true; readonly study: Study } | { readonly ok: false; readonly problems: readonly Problem[] };

const refuse = (code: string, message: string, hint: string): ReadResult => ({
  ok: false,
  problems: [{ code, severity: "error", message, hint, path: [] }],
});

/** Largest study file read, in characters. */
export const MAX_STUDY_TEXT = 64 * 1024 * 1024;

/** Reads the text of a study file. Never throws: what is wrong comes back as problems with their places. */
export function readStudyText(text: string): ReadResult {
  if (text.length > MAX_STUDY_TEXT)
    return refuse("file-too-large", "The file is larger than 64 MB.", "Split the study, or remove drawings from it.");
  let data: unknown;
  try {
    // Some editors begin a file with a byte-order mark.
    data = JSON.parse(text.replace(/^\uFEFF/, ""));
  } catch (error) {
    const where = /line (\d+) column (\d+)/.exec(String(error))?.[0];
    const position = /position (\d+)/.exec(String(error))?.[1];
    const line = position ? text.slice(0, Number(position)).split("\n").length : undefined;
    return refuse(
      "not-json",
      `This is not a study file: it is not JSON text${where ? ` (${where})` : line ? ` (line ${line})` : ""}.`,
      "Choose a file that was exported from Busy Harbor, or repair the text there.",
    );
  }
  return readStudy(data);
}

/**
 * Reads a study from parsed JSON: checks format and version, migrates, fills defaults, gives out missing random
 * streams.
 */
export function readStudy(data: unknown): ReadResult {
  if (
    typeof data !== "object" ||
    data === null ||
    Array.isArray(data) ||
    !("format" in data) ||
    data.format !== FORMAT
  ) {
    return refuse(
      "foreign-file",
      `This is not a Busy Harbor study: its "format" is not "${FORMAT}".`,
      "Choose a study file that was exported from Busy Harbor.",
    );
  }
  const version = "version" in data ? data.version : undefined;
  if (typeof version === "number" && version > VERSION) {
    return refuse(
      "newer-version",
      `This study was written by a newer Busy Harbor: its version is ${version}, and this one reads up to ${VERSION}.`,
      "Update Busy Harbor, then open the file again. The file was not changed.",
    );
  }
  if (isTooDeep(data))
    return refuse(
      "too-deep",
      `Something in it stands under more than ${MOST_LEVELS} levels of other things.`,
      "Put steps that stand so deep into a procedure of their own.",
    );
  const parsed = studySchema.safeParse(data);
  if (!parsed.success) {
    return { ok: false, problems: parsed.error.issues.slice(0, 200).map((issue) => schemaProblem(issue)) };
  }
  const problems = [...unkeepable(parsed.data), ...sameDesigns(parsed.data)];
  return problems.length > 0 ? { ok: false, problems } : { ok: true, study: assignStreams(parsed.data) };
}

/** Levels of objects and lists in a file: those of the study, and two for each level of steps. */
const MOST_DEPTH = 14 + 2 * MOST_LEVELS;

/** Whether something is nested deeper than any study is: schemas follow steps under steps as far as they go. */
function isTooDeep(data: object): boolean {
  let level: unknown[] = [data];
  for (let depth = 0; depth <= MOST_DEPTH; depth++) {
    level = level.flatMap((item) =>
      Object.values(item as object).filter((inner) => typeof inner === "object" && inner !== null),
    );
    if (level.length === 0) return false;
  }
  return true;
}

/** Texts with characters that no file or database can be trusted to keep: NUL, and halves of characters. */
function unkeepable(data: unknown, path: readonly (string | number)[] = []): Problem[] {
  if (typeof data === "string") {
    if (!/\u0000|\p{Surrogate}/u.test(data)) return [];
    return [
      {
        code: "unkeepable-text",
        severity: "error",
        path,
        message: "This text has a character that cannot be kept (NUL, or half of a character).",
        hint: "Type it again.",
      },
    ];
  }
  if (Array.isArray(data))
    return typeof data[0] === "number" ? [] : data.flatMap((item, i) => unkeepable(item, [...path, i]));
  if (typeof data !== "object" || data === null) return [];
  return Object.entries(data).flatMap(([key, value]) => [
    ...(key === "files" ? [] : unkeepable(value, [...path, key])),
    ...unkeepable(key, path),
  ]);
}

/** Designs are told apart by their ids everywhere. */
function sameDesigns({ designs }: Study): Problem[] {
  return designs.flatMap(({ id }, i): Problem[] =>
    designs.findIndex((d) => d.id === id) === i
      ? []
      : [
          {
            code: "duplicate-id",
            severity: "error",
            path: ["designs", i, "id"],
            id,
            field: "id",
            message: `Two designs have the id "${id}".`,
            hint: "Give each design an id of its own.",
          },
        ],
  );
}

/** A schema issue as a problem with its place. */
export function schemaProblem(issue: z.core.$ZodIssue): Problem {
  const path = issue.path.map((key) => (typeof key === "symbol" ? String(key) : key));
  const message =
    issue.code === "unrecognized_keys"
      ? `There is no setting called ${issue.keys.map((k) => `"${k}"`).join(", ")} here.`
      : issue.message.replace(/\.?$/, ".");
  return { code: "bad-value", severity: "error", message, path };
}
