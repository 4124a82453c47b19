import {
  type Compilation,
  type Design,
  type Problem,
  readersOfVariable,
  type Study,
  typeName,
  type Variable,
} from "@busy-harbor/core";
import { Activity, Plus, Trash2 } from "lucide-react";
import { useCallback, useMemo, useState } from "react";
import type { Entry, GridColumn } from "../grid/column.ts";
import { ColumnsMenu } from "../grid/ColumnsMenu.tsx";
import { Grid } from "../grid/Grid.tsx";
import { useGrid } from "../grid/useGrid.ts";
import { useStudy } from "../state/study.ts";
import { Readers } from "../tables/Readers.tsx";
import { announce } from "../ui/announce.ts";
import { addVariable, deleteVariables, isMeasured, nameRefusal, rename, setMeasured, setOwnValue } from "./edits.ts";

const ONE = "one value";
const rowId = ({ id }: Variable) => id;
const placeOfCell = ({ id }: Variable) => ["variables", id, "value"];
const NO_PROBLEMS: readonly Problem[] = [];
const NONE: readonly Variable[] = [];

/** The variables of the study: what each begins with, in all designs or in the one on screen, and who reads it. */
export function Variables({
  study,
  design,
  compilation,
}: {
  study: Study;
  design: Design;
  compilation: Compilation | undefined;
}) {
  const [selected, setSelected] = useState<readonly string[]>([]);
  const rows = study.variables ?? NONE;
  const columns = useMemo(() => columnsFor(study, design, compilation), [study, design, compilation]);
  const model = useGrid({ id: "variables", rows, columns, rowId, filter: "" });
  const byId = useMemo(() => {
    const found = new Map<string, Problem[]>();
    for (const p of compilation?.problems ?? [])
      if (p.id !== undefined && rows.some(({ id }) => id === p.id)) found.set(p.id, [...(found.get(p.id) ?? []), p]);
    return found;
  }, [compilation, rows]);
  const problemsAt = useCallback(
    (row: string, column: string) =>
      byId
        .get(row)
        ?.filter((p) => column === (p.field === "name" ? "name" : p.path.includes("designs") ? "own" : "value")) ??
      NO_PROBLEMS,
    [byId],
  );
  const { change, undo } = useStudy.getState();
  const write = (what: string, entries: readonly Entry<Variable>[]): string | undefined => {
    for (const { row, column, text } of entries) {
      const why = refusalOf(study, design, row, column.id, text.trim());
      if (why !== undefined) return why;
    }
    let renamed = 0;
    change(what || `Change ${entries[0].column.label.toLowerCase()} of ${entries[0].row.name}`, (draft) => {
      for (const { row, column, text } of entries) renamed += put(draft, design.id, row.id, column.id, text.trim());
    });
    if (renamed > 0) announce(`The new name is written in ${renamed === 1 ? "one place" : `${renamed} places`} too.`);
    return undefined;
  };
  const chosen = rows.filter(({ id }) => selected.includes(id));
  const measure = () => {
    const on = !chosen.every(({ name }) => isMeasured(design, name));
    const names = chosen.map(({ name }) => name).join(", ");
    useStudy.getState().changeDesign(on ? `Measure ${names}` : `No longer measure ${names}`, (d) => {
      for (const { name } of chosen) setMeasured(d, name, on);
    });
    announce(
      on ? `${names} over time is among the measures of ${design.name} now.` : `${names} is no longer measured.`,
    );
  };
  const remove = () => {
    change(`Delete ${chosen.map(({ name }) => name).join(", ")}`, (draft) => deleteVariables(draft, new Set(selected)));
    setSelected([]);
    announce(chosen.length === 1 ? "Variable deleted." : `${chosen.length} variables deleted.`, false, {
      label: "Undo",
      run: undo,
    });
  };
  return (
    <main className="flex min-w-0 grow flex-col">
      <div className="flex min-h-11 shrink-0 flex-wrap items-center gap-2 border-b border-line px-3 py-1.5">
        <h2 className="grow font-semibold">Variables</h2>
        <ColumnsMenu model={model} />
        <button
          className="button px-2!"
          onClick={() => change("Add variable", (draft) => setSelected([addVariable(draft)]))}
        >
          <Plus size={14} /> Variable
        </button>
        <button
          className="button px-2!"
          disabled={chosen.length === 0 || chosen.some((v) => !isNumber(compilation, v))}
          data-tip="Average, most and last value over time, as a measure of this design"
          onClick={measure}
        >
          <Activity size={14} /> Measure over time
        </button>
        <button
          className="button px-2!"
          disabled={chosen.length === 0}
          aria-label="Delete the selected variables"
          data-tip="Delete the selected variables"
          onClick={remove}
        >
          <Trash2 size={14} />
        </button>
      </div>
      <div className="flex min-h-0 grow">
        <Grid
          model={model}
          label="Variables"
          testId="variables-grid"
          selection={selected}
          onSelect={setSelected}
          onWrite={write}
          problemsAt={problemsAt}
          placeOf={placeOfCell}
          empty="No variables. One is a value of the system as a whole that expressions read by its name, such as a number of berths or a price: written in one place, and another in another design."
        />
        {chosen.length === 1 && <ReadBy variable={chosen[0]} compilation={compilation} />}
      </div>
    </main>
  );
}

const modelOf = (compilation: Compilation | undefined, { id }: Variable) =>
  compilation?.model.variables.find(({ variable }) => variable.id === id);

function isNumber(compilation: Compilation | undefined, variable: Variable): boolean {
  return modelOf(compilation, variable)?.checked?.type.kind === "number";
}

/** What a variable holds, in words. */
function holds(compilation: Compilation | undefined, variable: Variable): string {
  if (variable.table !== "") return "a value a row";
  const checked = modelOf(compilation, variable)?.checked;
  if (!checked) return "";
  return `${typeName(checked.type)}${checked.draws ? ", drawn for each replication" : ""}`;
}

function columnsFor(study: Study, design: Design, compilation: Compilation | undefined): GridColumn<Variable>[] {
  const expression = {};
  return [
    { id: "name", label: "Name", width: 140, mono: true, frozen: true, read: ({ name }) => name },
    { id: "value", label: "First value", width: 150, mono: true, expression, read: ({ value }) => value },
    ...(study.designs.length > 1
      ? [
          {
            id: "own",
            label: `In ${design.name}`,
            help: "What this design begins with in place of the study's value; empty: the study's.",
            width: 140,
            mono: true,
            expression,
            read: ({ id }: Variable) => design.variables?.find((o) => o.variable === id)?.value ?? "",
          },
        ]
      : []),
    {
      id: "table",
      label: "For",
      help: "Whether it is one value, or one for each row of a table, which `row` in the first value may say.",
      width: 120,
      choices: () => [ONE, ...study.tables.map(({ name }) => `rows of ${name}`)],
      read: ({ table }) => (table === "" ? ONE : `rows of ${study.tables.find(({ id }) => id === table)?.name ?? "…"}`),
    },
    { id: "holds", label: "Holds", width: 130, read: (variable) => holds(compilation, variable) },
    {
      id: "measured",
      label: "Measured",
      width: 90,
      read: ({ name }) => (isMeasured(design, name) ? "over time" : ""),
    },
    { id: "note", label: "Note", width: 200, mono: true, read: ({ note }) => note },
  ];
}

/** Why a text cannot be put in a column. */
function refusalOf(study: Study, design: Design, row: Variable, column: string, text: string): string | undefined {
  if (column === "name") return nameRefusal(study, design, row.id, text);
  if (column === "holds") return "This follows from the first value.";
  if (column === "measured") return "Use “Measure over time” above.";
  if (column === "table" && text !== ONE && !study.tables.some(({ name }) => text === `rows of ${name}`))
    return `Write ${ONE}, or rows of a table.`;
  return undefined;
}

/** Puts a text into a draft; returns in how many other places a name was changed. */
function put(draft: Study, designId: string, id: string, column: string, text: string): number {
  const variable = draft.variables?.find((v) => v.id === id);
  const design = draft.designs.find((d) => d.id === designId);
  if (!variable || !design) return 0;
  if (column === "name") return rename(draft, id, text);
  if (column === "value") variable.value = text;
  else if (column === "note") variable.note = text;
  else if (column === "own") setOwnValue(design, id, text);
  else variable.table = draft.tables.find(({ name }) => text === `rows of ${name}`)?.id ?? "";
  return 0;
}

/** The expressions that read a variable, each a way to its place. */
function ReadBy({ variable, compilation }: { variable: Variable; compilation: Compilation | undefined }) {
  const readers = useMemo(
    () => (compilation ? readersOfVariable(variable.name, compilation.model) : []),
    [variable.name, compilation],
  );
  return (
    <aside aria-label="Read by" className="w-[230px] shrink-0 overflow-y-auto border-l border-line px-4 py-3">
      <h3 className="caps pb-1">Read by</h3>
      {readers.length === 0 && <p className="text-xs text-soft">Nothing in this design reads {variable.name} yet.</p>}
      <Readers readers={readers} design={compilation?.model.design} />
    </aside>
  );
}
