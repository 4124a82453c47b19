import { COLUMN_HOLDS, type Problem, type Table } from "@busy-harbor/core";
import { useMemo, useState } from "react";
import { useStudy } from "../state/study.ts";
import { Checkbox } from "../ui/Checkbox.tsx";
import { Choice } from "../ui/Choice.tsx";
import { announce } from "../ui/announce.ts";
import { HOLDS } from "./columns.ts";
import { takeIn } from "./edits.ts";
import { headerLines, type Known } from "./guess.ts";
import type { FilledRange } from "./spreadsheet/readWorkbook.ts";
import { linkOf } from "./linked/linkOf.ts";
import { blockOf, lettersOf } from "./spreadsheet/address.ts";
import { RangesDrawing } from "./RangesDrawing.tsx";
import {
  arriving,
  cameFrom,
  firstTargets,
  type Mode,
  newOf,
  type Plan,
  takenIn,
  writesCommas,
  wrongIn,
} from "./incoming.ts";

/** Lines of cells from somewhere else. */
export interface IncomingBlock {
  readonly cells: string[][];
  readonly from: string;
  /** Other blocks of the same file, to choose from. */
  readonly ranges?: readonly FilledRange[];
  readonly notes?: readonly string[];
  /** The file it is of, to which the table may be linked: in a folder that the server may read, or with none. */
  readonly file?: { readonly folder: string; readonly path: string };
}

const NO_RANGES: readonly FilledRange[] = [];
const HEADERS = [
  "no line names the columns",
  "the first line names the columns",
  "two lines name the columns",
  "three lines name the columns",
];
/** New columns of what a person says, where it is guessed wrongly; what names a table is chosen on its card. */
const NEW_AS = COLUMN_HOLDS.filter((holds) => holds !== "row").map((holds) => ({
  value: newOf(holds),
  label: `new: ${HOLDS[holds]}`,
  under: "A new column of",
}));
const SAMPLES = 3;

/** Where a cell that comes in stands: by its address in a sheet, or its line and place in a text. */
function placeOf(range: FilledRange | undefined, line: number, column: number): string {
  if (!range) return `line ${line + 1}, place ${column + 1}:`;
  const { left } = blockOf(range.address) ?? { left: 1 };
  return `${lettersOf(left + column)}${range.rows[line]}`;
}

/** What would come into a table, and what would be wrong with it, before it does. */
export function Incoming({
  block: { cells: firstCells, from, ranges = NO_RANGES, notes = [], file },
  table,
  known,
  onDone,
}: {
  block: IncomingBlock;
  table: Table;
  known: Known;
  onDone: () => void;
}) {
  const [chosen, setChosen] = useState(0);
  const cells = ranges[chosen]?.cells ?? firstCells;
  const isFresh = table.rows.length === 0;
  const [plan, setPlan] = useState<Plan>(() => {
    const first: Plan = {
      header: headerLines(cells),
      commas: writesCommas(cells),
      mode: isFresh ? "replace" : table.key === "" ? "append" : "update",
      targets: [],
    };
    return { ...first, targets: firstTargets(arriving(cells, first, known).columns, table) };
  });
  const coming = useMemo(() => arriving(cells, plan, known), [cells, plan, known]);
  const { result, lineOf } = useMemo(() => {
    const lines = new Map<number, number>();
    return { result: takenIn(table, plan, coming, (row, line) => void lines.set(row, line)), lineOf: lines };
  }, [table, plan, coming]);
  const addressOf = useMemo(() => {
    const came = cameFrom(plan, result);
    return ({ field }: Problem): string => {
      const [, row, column] = /^cell\.(\d+)\.(.+)$/.exec(field ?? "") ?? [];
      const [line, c] = [lineOf.get(Number(row)), came.get(column)];
      return line === undefined || c === undefined ? "" : placeOf(ranges[chosen], plan.header + line, c);
    };
  }, [plan, result, lineOf, ranges, chosen]);
  const wrong = useMemo(() => {
    const { history, designId } = useStudy.getState();
    return history && designId ? wrongIn(history.present, designId, result) : [];
  }, [result]);
  const change = (part: Partial<Plan>) => {
    const next = { ...plan, ...part };
    const names = part.header === undefined && part.commas === undefined;
    setPlan(names ? next : { ...next, targets: firstTargets(arriving(cells, next, known).columns, table) });
  };
  const choose = (range: number) => {
    const other = ranges[range].cells;
    const next = { ...plan, header: headerLines(other), commas: writesCommas(other) };
    setChosen(range);
    setPlan({ ...next, targets: firstTargets(arriving(other, next, known).columns, table) });
  };
  const [linked, setLinked] = useState(file !== undefined && file.folder !== "");
  const apply = () => {
    const link = linked && file ? linkOf(file, ranges[chosen], plan, coming.names, result) : undefined;
    takeIn(link ? { ...result, link } : result, `Take rows into ${table.name}`);
    announce(`${coming.lines.length} rows taken in from ${from}.`, false, {
      label: "Undo",
      run: useStudy.getState().undo,
    });
    onDone();
  };
  return (
    <section
      role="alertdialog"
      aria-label={`Rows from ${from}`}
      data-testid="incoming"
      className="max-h-[70%] shrink-0 overflow-auto border-b border-line bg-water px-4 py-2"
      onKeyDown={(event) => event.key === "Escape" && onDone()}
    >
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1.5">
        <p className="grow">
          <strong>
            {coming.lines.length} rows of {coming.columns.length} columns
          </strong>{" "}
          from {from}
          {wrong.length > 0 && (
            <span className="text-buoy-deep">
              ; {wrong.length} {wrong.length === 1 ? "cell" : "cells"} would not be understood
            </span>
          )}
        </p>
        {ranges.length > 1 && (
          <Choice
            label="Range of the file"
            className="w-56!"
            value={String(chosen)}
            options={ranges.map((range, i) => ({
              value: String(i),
              label: `${range.sheet}, ${range.address} (${range.cells.length} rows)`,
            }))}
            onChange={(value) => choose(Number(value))}
          />
        )}
        {!isFresh && (
          <Choice<Mode>
            label="What becomes of the rows"
            className="w-56!"
            value={plan.mode}
            options={[
              { value: "append", label: "put below those there are" },
              { value: "replace", label: "in place of those there are" },
              ...(table.key === "" ? [] : [{ value: "update" as const, label: "update rows of the same key" }]),
            ]}
            onChange={(mode) => change({ mode })}
          />
        )}
        <button autoFocus className="button button-main" onClick={apply} disabled={plan.targets.every((t) => t === "")}>
          Take in
        </button>
        <button className="button" onClick={onDone}>
          Leave out
        </button>
      </div>
      {ranges.length > 1 && <RangesDrawing ranges={ranges} chosen={chosen} onChoose={choose} />}
      <div className="flex flex-wrap items-center gap-5 py-1">
        <Choice
          label="Lines that name the columns"
          className="w-60!"
          value={String(plan.header)}
          options={HEADERS.slice(0, Math.min(HEADERS.length, cells.length)).map((label, i) => ({
            value: String(i),
            label,
          }))}
          onChange={(header) => change({ header: Number(header) })}
        />
        <Checkbox checked={plan.commas} onChange={(commas) => change({ commas })}>
          3,5 means three and a half
        </Checkbox>
        {file && (
          <Checkbox
            checked={linked}
            onChange={setLinked}
            title="Where it comes from and how its columns go is kept, so that it can be fetched again when it has changed."
          >
            Keep it linked to the file
          </Checkbox>
        )}
      </div>
      <div className="overflow-x-auto">
        <table className="text-left">
          <thead>
            <tr>
              {coming.columns.map((column, c) => (
                <th key={c} scope="col" className="min-w-36 pr-3 align-bottom font-normal">
                  <span className="block font-semibold">{coming.names[c]}</span>
                  <Choice
                    label={`Where ${coming.names[c]} goes`}
                    className="w-full!"
                    value={plan.targets[c] ?? ""}
                    options={[
                      { value: "", label: "left out" },
                      { value: "new", label: `new: ${HOLDS[column.holds]}${column.unit ? `, ${column.unit}` : ""}` },
                      ...(isFresh ? [] : table.columns.map(({ id, name }) => ({ value: id, label: name }))),
                      ...NEW_AS,
                    ]}
                    onChange={(target) => change({ targets: plan.targets.map((t, i) => (i === c ? target : t)) })}
                  />
                </th>
              ))}
            </tr>
          </thead>
          <tbody className="mono text-soft">
            {coming.lines.slice(0, SAMPLES).map((line, i) => (
              <tr key={i}>
                {line.map((cell, c) => (
                  <td key={c} className="max-w-48 truncate pr-3">
                    {cell}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {notes.length > 0 && <p className="pt-1 text-xs">{notes.join(" ")}</p>}
      {wrong.length > 0 && (
        <ul className="max-h-36 overflow-auto pt-1 text-xs text-buoy-deep" data-testid="refused">
          {wrong.map((p, i) => (
            <li key={i}>
              {addressOf(p) && <span className="mono pr-1.5">{addressOf(p)}</span>}
              {p.message} {p.hint}
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}
