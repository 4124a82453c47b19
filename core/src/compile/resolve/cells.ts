import type { Column, Table } from "../../document/table.ts";
import { checkExpression, makeScope, numberOf, type ValueType } from "../../expression/index.ts";
import { type Dimension, NUMBER, TIME } from "../../quantity/index.ts";
import { DAY, type DayClock, dayNumber, isMoment, secondsOfDay } from "../../timetable/index.ts";

/** What is wrong with a cell, or with its whole column where `row` is -1. */
export interface CellProblem {
  readonly row: number;
  readonly message: string;
  readonly hint?: string;
}

const NO_NAMES = makeScope(new Map(), () => 0);

const units = new Map<string, { readonly dimension: Dimension; readonly factor: number; readonly known: boolean }>();

/** Dimension of what a column holds, and how much in SI one of its unit is. */
export function unitOfColumn({ holds, unit }: Pick<Column, "holds" | "unit">) {
  const text = unit.trim() === "" ? (holds === "duration" ? "min" : "") : unit.trim();
  let found = units.get(text);
  if (!found) {
    const result = checkExpression(`1 ${text}`, NO_NAMES);
    const of = result.ok && result.checked.constant !== undefined ? result.checked : undefined;
    found =
      of?.type.kind === "number"
        ? { dimension: of.type.dimension, factor: of.constant!, known: true }
        : { dimension: NUMBER, factor: 1, known: false };
    if (units.size > 500) units.clear();
    units.set(text, found);
  }
  return found;
}

const PLAIN_NUMBER = /^[+-]?(\d+\.?\d*|\.\d+)(e[+-]?\d+)?$/i;
const HOURS = /^(\d+):([0-5]\d)(?::([0-5]\d(?:\.\d+)?))?$/;
const MOMENT = /^(\d{4}-\d{2}-\d{2})(?:[T ](\d{1,2}:\d{2})(?::([0-5]\d))?)?$/;
const YES: Readonly<Record<string, number>> = { yes: 1, true: 1, no: 0, false: 0 };

interface Start {
  /** Date and time at which a run starts. */
  readonly start: string;
  readonly days: DayClock;
}

/** Reads one cell; what it says instead of a value is what is wrong with it. */
type ReadCell = (text: string) => number | string;

function cellReader(column: Column, { start, days }: Start): ReadCell {
  const { dimension, factor } = unitOfColumn(column);
  const type: ValueType = numberOf(column.holds === "duration" ? TIME : dimension);
  const quantity: ReadCell = (text) => {
    if (PLAIN_NUMBER.test(text)) return Number(text) * factor;
    const result = checkExpression(text, NO_NAMES, type);
    if (!result.ok) return result.problems[0].message;
    return result.checked.constant ?? "a fixed value is wanted.";
  };
  switch (column.holds) {
    case "yes or no":
      return (text) => YES[text.toLowerCase()] ?? "yes or no is wanted.";
    case "duration":
      return (text) => {
        const [, h, m, s] = HOURS.exec(text) ?? [];
        return h === undefined ? quantity(text) : Number(h) * 3600 + Number(m) * 60 + Number(s ?? 0);
      };
    case "date": {
      const from = isMoment(start) ? dayNumber(start.slice(0, 10)) * DAY + secondsOfDay(start.slice(11)) : 0;
      return (text) => {
        const [, date, time = "0:00", seconds = "0"] = MOMENT.exec(text) ?? [];
        const at = `${date}T${time.padStart(5, "0")}`;
        if (date === undefined || !isMoment(at)) return "a date is wanted, such as 2026-06-24 06:30.";
        return days.runningTime(dayNumber(date) * DAY + secondsOfDay(at.slice(11)) + Number(seconds) - from);
      };
    }
    default:
      return quantity;
  }
}

interface Numbers {
  readonly values: Float64Array;
  readonly problems: readonly CellProblem[];
}

/** What has been read of rows, for as long as they are the same: reading a hundred thousand takes its time. */
const known = new WeakMap<Table["rows"], Map<string, Numbers>>();

/** Numbers, durations, dates, yes and no of a column, by row in SI; NaN where a cell is empty or cannot be read. */
export function readNumbers(column: Column, rows: Table["rows"], c: number, start: Start): Numbers {
  const { name: _name, id: _id, ...what } = column;
  const signature = JSON.stringify([c, what, column.holds === "date" ? [start.start, start.days.wall(1e6)] : 0]);
  let columns = known.get(rows);
  if (!columns) known.set(rows, (columns = new Map()));
  let numbers = columns.get(signature);
  if (!numbers) columns.set(signature, (numbers = parseNumbers(column, rows, c, start)));
  return numbers;
}

function parseNumbers(column: Column, rows: Table["rows"], c: number, start: Start): Numbers {
  const problems: CellProblem[] = [];
  const read = cellReader(column, start);
  const bound = (text: string, label: string): number | undefined => {
    if (text.trim() === "") return undefined;
    const value = read(text.trim());
    if (typeof value === "number") return value;
    problems.push({ row: -1, message: `its ${label}: ${value}` });
    return undefined;
  };
  const [least, most] = [bound(column.least, "least"), bound(column.most, "most")];
  const values = cellWords(
    column,
    rows,
    c,
    (problem) => problems.push(problem),
    (text, row) => {
      const value = read(text);
      if (typeof value === "string") {
        problems.push({ row, message: `"${text}": ${value}` });
        return Number.NaN;
      }
      if (least !== undefined && value < least)
        problems.push({ row, message: `${text} is below ${column.least}, the least.` });
      if (most !== undefined && value > most)
        problems.push({ row, message: `${text} is above ${column.most}, the most.` });
      return value;
    },
  );
  return { values, problems };
}

/**
 * The cells of a column by what `read` makes of their words, NaN where they are empty: undefined is told as `unknown`.
 * Empty cells take the default, and are told where the column wants all filled; so are equal ones where none may be.
 */
export function cellWords(
  column: Column,
  rows: Table["rows"],
  c: number,
  tell: (problem: CellProblem) => void,
  read: (text: string, row: number) => number | undefined,
  unknown = "this cannot be read.",
): Float64Array {
  const values = new Float64Array(rows.length);
  const seen = column.unique ? new Map<number, number>() : undefined;
  const otherwise = column.default.trim();
  for (let row = 0; row < rows.length; row++) {
    const text = (rows[row][c] ?? "").trim() || otherwise;
    if (text === "") {
      values[row] = Number.NaN;
      if (column.required) tell({ row, message: "this must not be empty.", hint: "Fill it in, or delete the row." });
      continue;
    }
    const value = read(text, row);
    if (value === undefined) tell({ row, message: `"${text}": ${unknown}` });
    values[row] = value ?? Number.NaN;
    if (!seen || Number.isNaN(values[row])) continue;
    const first = seen.get(values[row]);
    if (first === undefined) seen.set(values[row], row);
    else tell({ row, message: `"${text}" stands in row ${first + 1} already.`, hint: "No two may be the same here." });
  }
  return values;
}
