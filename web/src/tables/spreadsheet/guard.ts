import { unzipSync } from "fflate";

/** Why a spreadsheet's file is not read: what is wrong, and what to do. */
export class SpreadsheetProblem extends Error {
  constructor(
    message: string,
    readonly hint: string,
  ) {
    super(message);
  }
}

const MB = 1024 * 1024;
/** The most that a file may be, packed and unpacked, and parts of it. */
const MOST_BYTES = 64 * MB;
const MOST_UNPACKED = 512 * MB;
const MOST_PARTS = 5000;
/** Unpacked over packed; sheets of equal rows come to some 40. */
const MOST_RATIO = 150;

const begins = (bytes: Uint8Array, ...start: number[]) => start.every((b, i) => bytes[i] === b);

/** Refuses, before anything is unpacked, what is no XLSX file and what would unpack to more than can be held. */
export function checkArchive(bytes: Uint8Array): void {
  if (bytes.length > MOST_BYTES)
    throw new SpreadsheetProblem(
      "The file is larger than 64 MB.",
      "Take in a part of it, or save it as CSV in pieces.",
    );
  if (begins(bytes, 0xd0, 0xcf, 0x11, 0xe0))
    throw new SpreadsheetProblem(
      "This is an older spreadsheet (.xls), or one with a password.",
      "Save it as .xlsx without a password.",
    );
  if (!begins(bytes, 0x50, 0x4b))
    throw new SpreadsheetProblem("This is no .xlsx file, whatever its name says.", "Choose an .xlsx or a CSV file.");
  let [unpacked, parts, isWorkbook] = [0, 0, false];
  try {
    unzipSync(bytes, {
      filter({ name, originalSize }) {
        unpacked += originalSize;
        parts += 1;
        isWorkbook ||= name === "xl/workbook.xml";
        return false;
      },
    });
  } catch {
    throw new SpreadsheetProblem("The file is damaged: its archive cannot be read.", "Save it anew, and try again.");
  }
  if (!isWorkbook)
    throw new SpreadsheetProblem(
      "This archive holds no spreadsheet.",
      "Choose an .xlsx file that an office program wrote.",
    );
  if (unpacked > MOST_UNPACKED || parts > MOST_PARTS || unpacked > MOST_RATIO * bytes.length + 4 * MB)
    throw new SpreadsheetProblem(
      `The file would unpack to ${Math.round(unpacked / MB)} MB in ${parts} parts, which no table needs.`,
      "Copy the cells that are wanted to a new file.",
    );
}

/** Parts of a spreadsheet that are not kept when it is written again, by where they stand in its archive. */
const LOST: readonly (readonly [RegExp, string])[] = [
  [/^xl\/charts\//, "charts"],
  [/^xl\/(pivotTables|pivotCache)\//, "pivot tables"],
  [/^xl\/(vbaProject|macrosheets)/, "macros"],
  [/^xl\/externalLinks\//, "links to other files"],
  [/^xl\/(embeddings|ctrlProps|slicers|timelines|diagrams)\//, "embedded things"],
  [/^xl\/drawings\//, "drawings"],
];

/** What of a spreadsheet would be lost if it were read and written again, in words. */
export function partsLost(bytes: Uint8Array): string[] {
  const found = new Set<string>();
  unzipSync(bytes, {
    filter({ name }) {
      for (const [where, what] of LOST) if (where.test(name)) found.add(what);
      return false;
    },
  });
  return [...found];
}
