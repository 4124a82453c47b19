import { COLUMN_HOLDS, type Column, nameKey, type Problem, type Table } from "@busy-harbor/core";
import { ArrowLeft, ArrowRight, ChartSpline, Trash2 } from "lucide-react";
import { useCallback } from "react";
import { ChoiceRow, KeptInput, Section, TextRow } from "../build/fields.tsx";
import { Checkbox } from "../ui/Checkbox.tsx";
import { HOLDS } from "./columns.ts";
import { deleteColumn, editColumns, moveColumn, renameInUse } from "./edits.ts";

const NUMERIC: ReadonlySet<Column["holds"]> = new Set(["number", "duration", "expression"]);

/** The column at hand: its name, what it holds, and what is asked of its cells. */
export function ColumnCard({
  column,
  table,
  tables,
  problems,
  onGone,
  onFit,
}: {
  column: Column;
  table: Table;
  tables: readonly Table[];
  problems: readonly Problem[];
  onGone: () => void;
  /** Asks for a distribution for its values. */
  onFit: (() => void) | undefined;
}) {
  const { id } = column;
  const readName = useCallback((text: string) => nameFrom(text, table, id), [table, id]);
  const edit = (what: string, recipe: (c: Column) => void) =>
    editColumns(
      table.id,
      `Change ${what} of ${column.name}`,
      (t) => {
        const target = t.columns.find((c) => c.id === id);
        if (target) recipe(target);
      },
      `${id}/${what}`,
    );
  const of = problems.filter((p) => p.field === `column.${id}`);
  const isFirst = table.columns[0]?.id === id;
  const isKey = table.matrix ? isFirst : table.key === id;
  const before = tables.slice(
    0,
    tables.findIndex((t) => t.id === table.id),
  );
  return (
    <section data-testid="column-card">
      <p className="text-soft">Column</p>
      <div className="pb-2">
        <KeptInput
          label="Name of the column"
          className="w-full! font-semibold"
          shown={column.name}
          read={readName}
          wanted="A name that no other column has is wanted."
          when="leaving"
          onChange={(to) =>
            renameInUse({ table: table.id, column: id, to }, `Rename ${column.name}`, (t) => {
              const target = t.columns.find((c) => c.id === id);
              if (target) target.name = to;
            })
          }
        />
      </div>
      <ChoiceRow
        name="holds"
        label="Holds"
        value={column.holds}
        choices={COLUMN_HOLDS.map((holds) => [holds, HOLDS[holds]] as const)}
        problems={of}
        onChange={(holds) =>
          edit("what it holds", (c) => {
            c.holds = holds;
            if (holds === "duration" && c.unit === "") c.unit = "min";
          })
        }
      />
      {NUMERIC.has(column.holds) && (
        <TextRow
          name="unit"
          label="Unit"
          help="Of a number that is written without one, and of what an expression gives; empty: a plain number."
          value={column.unit}
          placeholder="plain number"
          problems={[]}
          onChange={(unit) => edit("unit", (c) => void (c.unit = unit.slice(0, 20)))}
        />
      )}
      {column.holds === "row" && (
        <ChoiceRow
          name="of"
          label="Of table"
          value={column.of}
          choices={[["", "choose …"] as const, ...before.map((t) => [t.id, t.name] as const)]}
          problems={[]}
          onChange={(of) => edit("table", (c) => void (c.of = of))}
        />
      )}
      <TextRow
        name="default"
        label="If empty"
        help="Stands in place of an empty cell."
        value={column.default}
        placeholder="nothing"
        problems={[]}
        onChange={(text) => edit("default", (c) => void (c.default = text))}
      />
      {(column.holds === "number" || column.holds === "duration") &&
        (["least", "most"] as const).map((bound) => (
          <TextRow
            key={bound}
            name={bound}
            label={bound === "least" ? "Least" : "Most"}
            value={column[bound]}
            placeholder="any"
            problems={[]}
            onChange={(text) => edit(bound, (c) => void (c[bound] = text))}
          />
        ))}
      <div className="flex flex-col gap-1 py-1">
        {!table.matrix && (
          <Checkbox
            checked={isKey}
            onChange={(on) => editColumns(table.id, `Change key of ${table.name}`, (t) => void (t.key = on ? id : ""))}
          >
            Rows are found by it
          </Checkbox>
        )}
        {isKey ? (
          <p className="text-xs text-soft">As a key it is filled in every row, and no two are the same.</p>
        ) : (
          <>
            <Checkbox
              checked={column.required}
              onChange={(on) => edit("whether it is filled", (c) => void (c.required = on))}
            >
              Must be filled
            </Checkbox>
            <Checkbox
              checked={column.unique}
              onChange={(on) => edit("whether it is unique", (c) => void (c.unique = on))}
            >
              No two the same
            </Checkbox>
          </>
        )}
      </div>
      {onFit && (
        <button className="button mb-2" onClick={onFit}>
          <ChartSpline size={14} /> Fit a distribution
        </button>
      )}
      <Section title="Place">
        <div className="flex gap-1.5">
          {([-1, 1] as const).map((by) => (
            <button
              key={by}
              className="button px-2!"
              aria-label={by < 0 ? "Move the column left" : "Move the column right"}
              disabled={by < 0 ? isFirst : table.columns.at(-1)?.id === id}
              onClick={() => editColumns(table.id, `Move ${column.name}`, (t) => moveColumn(t, id, by))}
            >
              {by < 0 ? <ArrowLeft size={14} /> : <ArrowRight size={14} />}
            </button>
          ))}
          <button
            className="button"
            onClick={() => {
              editColumns(table.id, `Delete ${column.name}`, (t) => deleteColumn(t, id));
              onGone();
            }}
          >
            <Trash2 size={14} /> Delete column
          </button>
        </div>
      </Section>
    </section>
  );
}

function nameFrom(text: string, table: Table, id: string): string | undefined {
  const name = text.trim();
  const isFree = nameKey(name) !== "" && !table.columns.some((c) => c.id !== id && nameKey(c.name) === nameKey(name));
  return isFree && name.length <= 80 ? name : undefined;
}
