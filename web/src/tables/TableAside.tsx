import {
  type Column,
  type Compilation,
  type Design,
  type Problem,
  readersOf,
  routeSentences,
  type Study,
  type Table,
} from "@busy-harbor/core";
import { Trash2 } from "lucide-react";
import { lazy, Suspense, useMemo, useState } from "react";
import { useGoToProblem } from "../build/goToProblem.ts";
import { useStudy } from "../state/study.ts";
import { Checkbox } from "../ui/Checkbox.tsx";
import { announce } from "../ui/announce.ts";
import { ColumnCard } from "./ColumnCard.tsx";
import { LinkSection } from "./linked/LinkSection.tsx";
import { Readers } from "./Readers.tsx";
import { cellsApart, setOwn, setRoute } from "./edits.ts";

/** Fitting and its charts are fetched when they are asked for. */
const FitDialog = lazy(() => import("../fitting/FitDialog.tsx"));
const FITTED: ReadonlySet<Column["holds"]> = new Set(["number", "duration"]);

/** Beside a table: whose it is, the column at hand, what is wrong, and who reads it. */
export function TableAside({
  table,
  tables,
  study,
  design,
  column,
  problems,
  compilation,
  onGone,
  onDelete,
  onFile,
}: {
  table: Table;
  tables: readonly Table[];
  study: Study;
  design: Design;
  column: Column | undefined;
  problems: readonly Problem[];
  compilation: Compilation | undefined;
  /** The column at hand has been deleted. */
  onGone: () => void;
  onDelete: () => void;
  /** A file of a folder was chosen for its rows to come in. */
  onFile: (file: { readonly folder: string; readonly path: string }) => void;
}) {
  const [fitting, setFitting] = useState(false);
  const source = compilation?.model.tables
    .find(({ id }) => id === table.id)
    ?.columns.find(({ id }) => id === column?.id);
  return (
    <aside aria-label="Columns and uses" className="w-[300px] shrink-0 overflow-y-auto border-l border-line px-4 py-3">
      <Version table={table} study={study} design={design} />
      {column && (
        <ColumnCard
          key={column.id}
          column={column}
          table={table}
          tables={tables}
          problems={problems}
          onGone={onGone}
          onFit={source && FITTED.has(column.holds) ? () => setFitting(true) : undefined}
        />
      )}
      {fitting && column && source && (
        <Suspense>
          <FitDialog table={table} column={column} source={source} design={design} onClose={() => setFitting(false)} />
        </Suspense>
      )}
      {!table.matrix && (
        <div className="border-t border-line py-2.5">
          <Checkbox
            checked={table.route}
            onChange={(on) => setRoute(table.id, on)}
            title="Rows are the steps of each entity type, in order. Elements send entities along it by their way out."
          >
            It is a route
          </Checkbox>
          {table.route && <Routes model={compilation?.model} />}
        </div>
      )}
      <LinkSection table={table} design={design} onFile={onFile} />
      <Troubles problems={problems} />
      <Uses table={table} compilation={compilation} />
      <button
        className="button mt-2"
        onClick={() => {
          deleteTable(table);
          onDelete();
        }}
      >
        <Trash2 size={14} /> Delete {table.name}
      </button>
    </aside>
  );
}

function deleteTable({ id, name }: Table): void {
  const { change, undo } = useStudy.getState();
  change(`Delete ${name}`, (s) => {
    s.tables = s.tables.filter((t) => t.id !== id);
    for (const d of s.designs) d.tables = d.tables.filter((t) => t.id !== id);
  });
  announce(`${name} deleted.`, false, { label: "Undo", run: undo });
}

/** Whose the table is: the study's, or a version of the design's own. */
function Version({ table, study, design }: { table: Table; study: Study; design: Design }) {
  const whole = study.tables.find(({ id }) => id === table.id);
  const isOwn = design.tables.includes(table);
  const { changeDesign } = useStudy.getState();
  if (study.designs.length < 2 && !isOwn) return null;
  const apart = isOwn && whole ? cellsApart(whole, table) : 0;
  return (
    <p className="mb-2 flex items-center justify-between gap-2 border-b border-line pb-2 text-xs text-soft">
      <span>
        {isOwn
          ? apart === 0
            ? `${design.name} has its own, and it is the same`
            : `${design.name}: differs in ${apart} ${apart === 1 ? "cell" : "cells"}`
          : "The study's, for all designs"}
      </span>
      <button
        className="shrink-0 text-action underline underline-offset-2"
        onClick={() =>
          changeDesign(isOwn ? `Give up own ${table.name}` : `Own ${table.name} for ${design.name}`, (d) =>
            setOwn(d, isOwn ? undefined : table, table.id),
          )
        }
      >
        {isOwn ? "Take the study's" : "Own version"}
      </button>
    </p>
  );
}

/** The route of each entity type in a sentence. */
function Routes({ model }: { model: Compilation["model"] | undefined }) {
  if (!model?.route)
    return (
      <p className="pt-1 text-xs text-soft">
        Choose “along its route” as the way out of arrivals and of the places it names, then entity.route is the row at
        hand and entity.step its number.
      </p>
    );
  return (
    <ul className="pt-1 text-xs text-soft">
      {routeSentences(model).map((sentence) => (
        <li key={sentence}>{sentence}</li>
      ))}
    </ul>
  );
}

const MOST_TROUBLES = 12;

/** What is wrong with a table, each a way to its cell. */
function Troubles({ problems }: { problems: readonly Problem[] }) {
  const goTo = useGoToProblem();
  if (problems.length === 0) return null;
  return (
    <section className="border-t border-line py-2.5">
      <h3 className="caps pb-1">Problems</h3>
      <ul className="text-xs text-buoy-deep">
        {problems.slice(0, MOST_TROUBLES).map((p) => (
          <li key={`${p.field}${p.message}`}>
            <button className="w-full py-0.5 text-left" onClick={() => goTo(p)}>
              {p.message} {p.hint && <span className="text-ink">{p.hint}</span>}
            </button>
          </li>
        ))}
        {problems.length > MOST_TROUBLES && <li>and {problems.length - MOST_TROUBLES} more</li>}
      </ul>
    </section>
  );
}

/** The expressions that read a table, each a way to its place. */
function Uses({ table, compilation }: { table: Table; compilation: Compilation | undefined }) {
  const uses = useMemo(() => (compilation ? readersOf(table.id, compilation.model) : []), [table.id, compilation]);
  return (
    <section className="border-t border-line py-2.5">
      <h3 className="caps pb-1">Read by</h3>
      {uses.length === 0 ? (
        <p className="text-xs text-soft">
          Nothing in this design yet. Write, for example, <span className="mono">{exampleOf(table)}</span>.
        </p>
      ) : (
        <Readers readers={uses} design={compilation?.model.design} />
      )}
    </section>
  );
}

function exampleOf({ name, matrix, key, columns, rows }: Table): string {
  const called = /^\p{L}[\p{L}\p{N}]*$/u.test(name) ? name : `\`${name}\``;
  const k = columns.findIndex(({ id }) => id === key);
  const first = rows[0]?.[Math.max(0, k)] ?? "…";
  if (matrix) return `${called}["${first}", "${columns[1]?.name ?? "…"}"]`;
  const column = columns.find(({ id }) => id !== key)?.name ?? "…";
  return `${called}[${k < 0 ? 1 : columns[k].holds === "text" ? `"${first}"` : first}].${column}`;
}
