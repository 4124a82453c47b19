import { type Problem, randomSources, type RandomSource, type Study } from "@busy-harbor/core";
import { useMemo, useState } from "react";
import { Surfaces } from "../build/Surfaces.tsx";
import { UndoButtons } from "../build/UndoButtons.tsx";
import { useGoToProblem } from "../build/goToProblem.ts";
import type { Entry, GridColumn } from "../grid/column.ts";
import { ColumnsMenu } from "../grid/ColumnsMenu.tsx";
import { Grid } from "../grid/Grid.tsx";
import { useGrid } from "../grid/useGrid.ts";
import { useCompiled } from "../state/compiled.ts";
import { useStudy } from "../state/study.ts";
import { announce } from "../ui/announce.ts";
import type { DrawsCounted } from "./draws.worker.ts";
import { useDraws } from "./useDraws.ts";
import { hold, readWhole, setNumber, setStream, settingsOf } from "./edits.ts";

const [NEW, SAME] = ["new numbers", "the same again"];

/** Every place of the design that draws random numbers, and where it draws them from. */
export default function RandomSources() {
  const study = useStudy((s) => s.history?.present);
  const compilation = useCompiled();
  if (!study || !compilation) return null;
  return (
    <div className="flex min-h-0 grow flex-col">
      <Surfaces />
      <List study={study} sources={randomSources(compilation.model)} />
    </div>
  );
}

const rowId = ({ id, field }: RandomSource): string => `${id} ${field}`;

function List({ study, sources: found }: { study: Study; sources: readonly RandomSource[] }) {
  const goTo = useGoToProblem();
  const [filter, setFilter] = useState("");
  const [selected, setSelected] = useState<readonly string[]>([]);
  const key = JSON.stringify(found);
  // eslint-disable-next-line react-hooks/exhaustive-deps -- the same as long as it reads the same
  const sources = useMemo(() => found, [key]);
  const { counted, isCounting, count, stop } = useDraws(
    study,
    useStudy((s) => s.designId),
  );
  const columns = useMemo(() => columnsFor(study, sources, counted), [study, sources, counted]);
  const model = useGrid({ id: "random sources", rows: sources, columns, rowId, filter });
  const { change, designId } = useStudy.getState();
  const write = (what: string, entries: readonly Entry<RandomSource>[]): string | undefined => {
    const refused = entries.map(({ column, text }) => refusalOf(column.id, text)).find((why) => why !== undefined);
    if (refused !== undefined) return refused;
    change(what || `Change ${entries[0].column.label.toLowerCase()} of ${entries[0].row.owner}`, (draft) => {
      for (const { row, column, text } of entries) put(draft, row, column.id, text.trim());
    });
    return undefined;
  };
  const holdSome = (what: string, which: (source: RandomSource) => boolean) => {
    change(what, (draft) => hold(draft, sources, which));
    announce(`${what}.`, false, { label: "Undo", run: useStudy.getState().undo });
  };
  const show = (source: RandomSource | undefined) => {
    if (!source) return;
    const problem: Problem = { code: "", severity: "warning", message: "", path: source.path, id: source.id, designId };
    goTo({ ...problem, field: source.field });
  };
  return (
    <main className="flex min-h-0 grow flex-col">
      <div className="border-b border-line px-4 pt-3 pb-2">
        <p className="max-w-4xl text-soft">
          Each place that draws has a stream of numbers of its own, so that a change in one leaves the draws of all
          others alone. Two that have the same number share a stream. A seed of its own, or the same numbers in every
          replication, take one source out of the comparison.
        </p>
        <div className="flex flex-wrap items-center gap-2 pt-2">
          <button
            className="button"
            onClick={() => holdSome("Arrivals held the same, all else new", (s) => s.isArrival)}
          >
            Hold arrivals the same, vary the rest
          </button>
          <button className="button" onClick={() => holdSome("All held the same but arrivals", (s) => !s.isArrival)}>
            Vary arrivals, hold the rest the same
          </button>
          <button className="button" onClick={() => holdSome("New numbers for all", () => false)}>
            New numbers for all
          </button>
          <span className="flex">
            <UndoButtons />
          </span>
          <button
            className="button"
            onClick={isCounting ? stop : count}
            data-tip="Runs the first replication, and counts how many numbers each stream gives"
          >
            {isCounting ? "Counting … Stop" : "Count draws"}
          </button>
          <input
            aria-label="Filter rows"
            placeholder="Filter"
            className="field ml-auto w-32! shrink-0"
            value={filter}
            onChange={(event) => setFilter(event.target.value)}
          />
          <ColumnsMenu model={model} />
          <button
            className="button"
            disabled={selected.length !== 1}
            onClick={() => show(sources.find((s) => rowId(s) === selected[0]))}
          >
            Show its place
          </button>
        </div>
      </div>
      <Grid
        model={model}
        label="Random sources"
        testId="sources-grid"
        numbered
        selection={selected}
        onSelect={setSelected}
        onWrite={write}
        empty="Nothing in this design draws random numbers."
      />
    </main>
  );
}

function columnsFor(
  study: Study,
  sources: readonly RandomSource[],
  counted: DrawsCounted | undefined,
): GridColumn<RandomSource>[] {
  const sharing = new Map<number, number>();
  for (const { stream } of sources) sharing.set(stream, (sharing.get(stream) ?? 0) + 1);
  const of = ({ stream }: RandomSource) => settingsOf(study, stream);
  return [
    { id: "owner", label: "Where", width: 170, frozen: true, read: ({ owner }) => owner },
    { id: "label", label: "Setting", width: 150, read: ({ label }) => label },
    { id: "text", label: "Draws", width: 300, read: ({ text }) => text },
    {
      id: "stream",
      label: "Stream",
      help: "Its number. Two that have the same share their numbers.",
      width: 110,
      mono: true,
      align: "right",
      read: ({ stream }) => String(stream),
      value: ({ stream }) => stream,
      show: ({ stream }) => (sharing.get(stream)! > 1 ? `${stream} (${sharing.get(stream)} share it)` : stream),
    },
    ...(counted
      ? [
          {
            id: "draws",
            label: "Drawn",
            help: counted.isWhole
              ? "How many numbers its stream gives in the first replication."
              : "How many numbers its stream gave in the first replication until counting stopped.",
            width: 100,
            mono: true,
            align: "right" as const,
            read: ({ stream }: RandomSource) =>
              `${counted.isWhole ? "" : "above "}${(counted.draws.get(stream) ?? 0).toLocaleString("en")}`,
            value: ({ stream }: RandomSource) => counted.draws.get(stream) ?? 0,
          },
        ]
      : []),
    { id: "name", label: "Name of the stream", width: 160, mono: true, read: (row) => of(row).name },
    {
      id: "seed",
      label: "Own seed",
      help: "In place of the run's seed; empty: the run's.",
      width: 100,
      mono: true,
      align: "right",
      read: (row) => String(of(row).seed ?? ""),
    },
    {
      id: "again",
      label: "Next replication",
      help: "Whether the next replication meets new numbers or the same again.",
      width: 150,
      choices: () => [NEW, SAME],
      read: (row) => (of(row).again ? SAME : NEW),
    },
  ];
}

/** Why a text cannot be put in a column. */
function refusalOf(column: string, text: string): string | undefined {
  const wanted = "A whole number from 0 to 1,000,000,000 is wanted.";
  switch (column) {
    case "stream":
      return readWhole(text) === undefined ? wanted : undefined;
    case "seed":
      return text.trim() !== "" && readWhole(text) === undefined ? wanted : undefined;
    case "name":
      return text.trim().length > 80 ? "A name has at most 80 characters." : undefined;
    case "again":
      return [NEW, SAME].includes(text.trim()) ? undefined : `Write ${NEW} or ${SAME}.`;
    default:
      return "This follows from the model, and is changed there.";
  }
}

function put(draft: Study, source: RandomSource, column: string, text: string): void {
  const { stream } = source;
  if (column === "stream") setNumber(draft, source, readWhole(text)!);
  else if (column === "name") setStream(draft, stream, { name: text });
  else if (column === "seed") setStream(draft, stream, { seed: readWhole(text) ?? null });
  else setStream(draft, stream, { again: text === SAME });
}
