import type { Design, Study } from "@busy-harbor/core";
import { Plus, RefreshCw } from "lucide-react";
import { lazy, Suspense, useMemo, useState } from "react";
import { useSearchParams } from "react-router";
import { Surfaces } from "../build/Surfaces.tsx";
import { UndoButtons } from "../build/UndoButtons.tsx";
import { useCompiled } from "../state/compiled.ts";
import { useDesign, useStudy } from "../state/study.ts";
import { Variables } from "../variables/Variables.tsx";
import { addTable, tableIn } from "./edits.ts";
import { linkedOf } from "./linked/fetchLinked.ts";
import { TableEditor } from "./TableEditor.tsx";

const RefreshDialog = lazy(() => import("./linked/RefreshDialog.tsx"));

/** The tables of the study, as the design on screen has them. */
export default function Tables() {
  const study = useStudy((s) => s.history?.present);
  const design = useDesign();
  if (!study || !design) return null;
  return (
    <div className="flex min-h-0 grow flex-col">
      <Surfaces />
      <Page study={study} design={design} />
    </div>
  );
}

function Page({ study, design }: { study: Study; design: Design }) {
  const [params, setParams] = useSearchParams();
  const compilation = useCompiled();
  const isVariables = params.has("variables") || (study.tables.length === 0 && (study.variables?.length ?? 0) > 0);
  const shownId = isVariables
    ? undefined
    : (study.tables.find((t) => t.id === params.get("table"))?.id ?? study.tables[0]?.id);
  const table = shownId === undefined ? undefined : tableIn(study, design.id, shownId);
  const show = (id: string) => setParams({ table: id }, { replace: true });
  const add = (matrix: boolean) => {
    let id = "";
    useStudy.getState().change(matrix ? "Add matrix" : "Add table", (s) => void (id = addTable(s, matrix)));
    show(id);
  };
  const linked = useMemo(() => linkedOf(study, design), [study, design]);
  const [refreshing, setRefreshing] = useState(false);
  const troubled = useMemo(() => new Set(compilation?.problems.flatMap(({ id }) => id ?? [])), [compilation]);
  const place = params.get("cell");
  const at = useMemo(() => {
    const [row, column] = place?.split(".") ?? [];
    return column === undefined ? undefined : { row, column };
  }, [place]);
  return (
    <div className="flex min-h-0 grow">
      <aside aria-label="Tables" className="flex w-[220px] shrink-0 flex-col overflow-y-auto border-r border-line p-4">
        <h2 className="caps pb-1">Tables</h2>
        {study.tables.map((t) => {
          const isOwn = design.tables.some((own) => own.id === t.id);
          return (
            <button
              key={t.id}
              aria-current={t.id === shownId}
              className={`flex w-full items-center gap-2 rounded-md px-2 py-1 text-left ${t.id === shownId ? "bg-water font-medium" : "hover:bg-water"}`}
              onClick={() => show(t.id)}
            >
              <span className="min-w-0 grow truncate">{t.name}</span>
              {isOwn && <span className="text-xs font-normal text-soft">own</span>}
              <span className="text-xs font-normal text-soft tabular-nums">
                {tableIn(study, design.id, t.id)?.rows.length}
              </span>
              {troubled.has(t.id) && (
                <span role="img" aria-label="has problems" className="h-2 w-2 shrink-0 rounded-full bg-buoy" />
              )}
            </button>
          );
        })}
        <div className="flex gap-1.5 py-1.5">
          <button className="button" onClick={() => add(false)}>
            <Plus size={14} /> Table
          </button>
          <button className="button" onClick={() => add(true)}>
            <Plus size={14} /> Matrix
          </button>
        </div>
        <button
          aria-current={isVariables}
          data-testid="show-variables"
          className={`mt-2 mb-3 flex w-full items-center gap-2 rounded-md px-2 py-1 text-left ${isVariables ? "bg-water font-medium" : "hover:bg-water"}`}
          onClick={() => setParams({ variables: "" }, { replace: true })}
        >
          <span className="grow">Variables</span>
          <span className="text-xs font-normal text-soft tabular-nums">{study.variables?.length ?? 0}</span>
          {study.variables?.some(({ id }) => troubled.has(id)) && (
            <span role="img" aria-label="has problems" className="h-2 w-2 shrink-0 rounded-full bg-buoy" />
          )}
        </button>
        {linked.length > 0 && (
          <button className="button mb-1.5" onClick={() => setRefreshing(true)}>
            <RefreshCw size={14} /> Refresh all linked …
          </button>
        )}
        <div className="flex">
          <UndoButtons />
        </div>
        {refreshing && (
          <Suspense>
            <RefreshDialog tables={linked} design={design} onClose={() => setRefreshing(false)} />
          </Suspense>
        )}
      </aside>
      {isVariables ? (
        <Variables study={study} design={design} compilation={compilation} />
      ) : table ? (
        <TableEditor
          key={table.id}
          table={table}
          study={study}
          design={design}
          compilation={compilation}
          at={at}
          onShow={show}
        />
      ) : (
        <main className="flex grow items-center justify-center p-8">
          <p className="max-w-md text-center text-base text-soft">
            A table holds what a model is driven by: times by kind, a mix, a list of arrivals, distances. Expressions
            read it, such as <span className="mono">Times["cutter"].work</span>. Add one on the left, then paste from a
            spreadsheet.
          </p>
        </main>
      )}
    </div>
  );
}
