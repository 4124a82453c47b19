import {
  COUNTED_IN,
  definitionOf,
  measuresOf,
  comparePaired,
  type Design,
  dimensionSymbol,
  displayUnit,
  formatNumber,
  type MeasureInfo,
  moreLess,
  type PairedComparison,
  readDeciding,
  type Study,
  usuallyBetter,
  verdict,
} from "@busy-harbor/core";
import type { RunSummary } from "@busy-harbor/core/contract";
import { Plus, X } from "lucide-react";
import { type ReactNode, useEffect, useMemo, useState } from "react";
import { useOfferOf } from "../commands/commandStore.ts";
import { useCompiled } from "../state/compiled.ts";
import type { Column, RunFigures } from "../state/figures.ts";
import { runsOfDesigns, useRuns } from "../state/runs.ts";
import { useStudy } from "../state/study.ts";
import { outOfDate } from "../measure/outOfDate.ts";
import { announce } from "../ui/announce.ts";
import { ExperimentList, useChosenExperiment } from "../experiments/ExperimentList.tsx";
import { ExperimentView } from "../experiments/ExperimentView.tsx";
import { arePairs } from "../experiments/comparable.ts";
import { mattersWords } from "../experiments/reading/Against.tsx";
import { AllTogether } from "../experiments/reading/AllTogether.tsx";
import { DifferencePlot } from "../experiments/reading/DifferencePlot.tsx";
import { SearchedChoice } from "../ui/SearchedChoice.tsx";
import { SidePane } from "../ui/SidePane.tsx";
import { Checkbox } from "../ui/Checkbox.tsx";
import { SortableList } from "../ui/SortableList.tsx";
import { moved } from "../ui/sorting.ts";

/** Measures offered when none has been chosen. */
const USUAL = ["timeInSystem.mean", "timeInSystem.p95", "waiting.mean"];

/** The Compare stage: designs against a baseline, by paired differences under common random numbers. */
export function Compare() {
  const study = useStudy((s) => s.history?.present);
  return study ? <Chosen study={study} /> : null;
}

function Chosen({ study }: { study: Study }) {
  const { experiment } = useChosenExperiment(study);
  return experiment ? <ExperimentView study={study} experiment={experiment} /> : <Comparing study={study} />;
}

function Comparing({ study }: { study: Study }) {
  const change = useStudy((s) => s.change);
  const compilation = useCompiled();
  const { runs, figures, fetchFigures, fetchColumns, start } = useRuns();
  const [starting, setStarting] = useState(false);

  const chosen = useMemo(() => chosenDesigns(study), [study]);
  const latest = useMemo(
    () =>
      new Map(chosen.map((d) => [d.id, runsOfDesigns(runs).find((r) => r.designId === d.id && r.state === "done")])),
    [chosen, runs],
  );
  useEffect(() => {
    for (const run of latest.values())
      if (run && !figures.has(run.id))
        fetchFigures(run.id).catch((error: unknown) =>
          announce(error instanceof Error ? error.message : String(error), true),
        );
  }, [latest, figures, fetchFigures]);

  const { run: settings } = study;
  const deciding = (study.frame?.deciding ?? []).map(({ measure }) => measure);
  // Those that decide lead.
  const keys =
    deciding.length > 0 || study.comparison.measures.length > 0
      ? [...deciding, ...study.comparison.measures.filter((key) => !deciding.includes(key))]
      : (compilation?.program ? measuresOf(compilation.program) : [])
          .filter((m) => m.ownerKind === "entity type" && USUAL.includes(m.id))
          .map((m) => m.key);
  const chosenKeys = keys.filter((key) => !deciding.includes(key));
  const missing = chosen.filter((d) => {
    const run = latest.get(d.id);
    return !run || outOfDate(run, study) || run.finished < settings.replications;
  });
  const busy = runs.some((r) => r.state === "running" || r.state === "queued");
  const loaded = chosen.map((d): Loaded => {
    const run = latest.get(d.id);
    const found = run && figures.get(run.id);
    return { design: d, results: found && { run, ...found } };
  });
  const wanted = keys.join("\n");
  useEffect(() => {
    // Pairs of replications are compared: all values of the chosen measures.
    for (const run of latest.values()) {
      const found = run && figures.get(run.id);
      const lacking = found
        ? wanted
            .split("\n")
            .map((key) => found.measures.findIndex((m) => m.key === key))
            .filter((m) => m >= 0 && !found.columns.has(m))
        : [];
      if (run && lacking.length > 0)
        fetchColumns(run.id, lacking, true).catch((error: unknown) =>
          announce(error instanceof Error ? error.message : String(error), true),
        );
    }
  }, [latest, figures, wanted, fetchColumns]);
  const [base, ...others] = loaded;

  const runMissing = async () => {
    setStarting(true);
    for (const design of missing) {
      if (!(await start(design.id)))
        announce(useRuns.getState().refusal?.message ?? "A run could not be started.", true);
    }
    setStarting(false);
  };
  useOfferOf([
    {
      id: "run-missing",
      label: "Run what the comparison lacks",
      group: "Runs",
      refusal: () =>
        chosen.length < 2
          ? "Choose at least two designs first."
          : busy || starting
            ? "Runs are under way."
            : missing.length === 0
              ? "Every design has an up-to-date run."
              : undefined,
      run: () => void runMissing(),
    },
  ]);
  const designOf = (id: string) => study.designs.find((d) => d.id === id)!;
  const setDesigns = (ids: string[]) => change("Choose designs to compare", (s) => void (s.comparison.designs = ids));
  const setMeasures = (next: string[]) =>
    change("Choose measures to compare", (s) => void (s.comparison.measures = next));
  const offered = uniqueMeasures(
    loaded.map((l) => l.results),
    compilation?.program ? measuresOf(compilation.program) : [],
  );

  return (
    <SidePane
      id="compare"
      pane={
        <aside className="min-w-0 grow overflow-y-auto border-r border-line bg-sheet p-4">
          <ExperimentList study={study} />
          <h2 className="caps pb-1">Designs</h2>
          <div className="-mx-2 pb-4">
            <SortableList
              ids={study.designs.map((d) => d.id)}
              nameOf={(id) => designOf(id).name}
              onMove={(from, to) => change("Move design", (s) => void (s.designs = moved(s.designs, from, to)))}
            >
              {(id, _index, grip) => (
                <DesignChoice
                  design={designOf(id)}
                  chosen={chosen}
                  run={latest.get(id)}
                  study={study}
                  grip={grip}
                  onChange={setDesigns}
                />
              )}
            </SortableList>
          </div>
          <h2 className="caps pb-1">Measures</h2>
          <ul className="pb-2">
            {keys.map((key) => {
              const info = offered.find((m) => m.key === key);
              return (
                <li key={key} className="flex items-start justify-between gap-2 py-1">
                  <span data-tip={info && definitionOf(info)}>
                    {info ? `${info.owner}: ${lowerFirst(info.label)}` : key}
                  </span>
                  {deciding.includes(key) ? (
                    <span className="shrink-0 text-xs text-soft" data-tip="It is one of the deciding measures in Frame">
                      decides
                    </span>
                  ) : (
                    <button
                      className="pt-0.5 text-soft"
                      aria-label={`Take ${info?.label ?? key} out`}
                      onClick={() => setMeasures(chosenKeys.filter((k) => k !== key))}
                    >
                      <X size={13} />
                    </button>
                  )}
                </li>
              );
            })}
          </ul>
          <AddMeasure
            offered={offered.filter((m) => !keys.includes(m.key))}
            onAdd={(key) => setMeasures([...chosenKeys, key])}
          />
        </aside>
      }
    >
      <main className="min-w-0 grow overflow-y-auto p-6">
        <div className="flex flex-wrap items-center gap-2 pb-2">
          <h1 className="pr-2 text-lg">
            {chosen.length < 2
              ? "Compare designs"
              : chosen.length === 2
                ? `${chosen[1].name} against ${chosen[0].name}`
                : `${chosen.length - 1} designs against ${chosen[0].name}`}
          </h1>
          <span
            className="rounded-full border border-line bg-sheet px-2.5 py-0.5 text-xs"
            data-tip="Each place that draws uses the same random numbers in every design, so differences between designs are not drowned in chance."
          >
            Common random numbers
          </span>
          <span className="rounded-full border border-line bg-sheet px-2.5 py-0.5 text-xs">
            Level {formatNumber(settings.level * 100)} %
          </span>
        </div>
        {study.designs.length < 2 && (
          <p className="max-w-xl text-soft">
            There is one design so far. Copy it from the design menu above, change the copy, and come back: the two will
            be compared here.
          </p>
        )}
        {study.designs.length >= 2 && chosen.length < 2 && (
          <p className="text-soft">Choose at least two designs on the left.</p>
        )}
        {chosen.length >= 2 && missing.length > 0 && (
          <div className="mb-4 flex items-center gap-3 rounded-lg border border-line bg-sheet px-4 py-2.5">
            <p className="grow">
              {busy
                ? `Running: ${
                    runs
                      .filter((r) => r.state === "running")
                      .map((r) => `${r.designName}, ${r.finished} of ${r.settings.replications}`)
                      .join("; ") || "waiting"
                  }.`
                : `${missing.map((d) => d.name).join(" and ")} ${missing.length === 1 ? "has" : "have"} no up-to-date run of ${settings.replications} replications.`}
            </p>
            {!busy && (
              <button
                className="button button-main"
                disabled={starting}
                onClick={() => void runMissing()}
                data-testid="run-missing"
              >
                Run {missing.length === 1 ? "it" : "them"}
              </button>
            )}
          </div>
        )}
        {chosen.length >= 3 && loaded.every(({ results }) => results) && (
          <section aria-label="All designs together" className="pb-4">
            <h2 className="pb-2 font-semibold">All designs together</h2>
            {keys.map((key) => {
              const info = offered.find((m) => m.key === key);
              const columns = loaded.map(({ results }) => columnOf(results!, key));
              if (!info || columns.some((column) => column === undefined)) return null;
              const better =
                study.frame?.deciding.find(({ measure }) => measure === key)?.better ?? usuallyBetter(info);
              return (
                <AllTogether
                  key={key}
                  study={study}
                  info={info}
                  better={better}
                  names={loaded.map(({ design }) => design.name)}
                  columns={columns as Column[]}
                  paired={loaded.every(({ results }) => arePairs(base.results!.run, results!.run))}
                />
              );
            })}
          </section>
        )}
        {chosen.length >= 3 && base?.results && others.some(({ results }) => results) && (
          <h2 className="pb-2 font-semibold">Each against {base.design.name}</h2>
        )}
        {chosen.length >= 2 &&
          base?.results &&
          others.map(
            ({ design, results: other }) =>
              other && <Pair key={design.id} study={study} base={base.results!} other={other} keys={keys} />,
          )}
        {chosen.length >= 2 && base?.results && others.some((o) => o.results) && (
          <p className="max-w-3xl pt-4 text-xs text-soft">
            Paired t intervals of the differences, other minus baseline, replication by replication (Law 2015, section
            10.2.1). They assume near-normal mean differences. Each interval holds by itself at{" "}
            {formatNumber(settings.level * 100)} %
            {keys.length > 1 &&
              `; over ${keys.length} measures the chance that all hold is lower (at least ${formatNumber(
                Math.max(0, 1 - keys.length * (1 - settings.level)) * 100,
              )} % by Bonferroni's inequality)`}
            .
          </p>
        )}
      </main>
    </SidePane>
  );
}

const lowerFirst = (text: string) => text.charAt(0).toLowerCase() + text.slice(1);

function chosenDesigns(study: Study): Design[] {
  const chosen = study.comparison.designs.flatMap((id) => study.designs.filter((d) => d.id === id));
  return chosen.length >= 1 ? chosen : study.designs.slice(0, 2);
}

function DesignChoice({
  design,
  chosen,
  run,
  study,
  grip,
  onChange,
}: {
  design: Design;
  chosen: readonly Design[];
  run: RunSummary | undefined;
  study: Study;
  grip: ReactNode;
  onChange: (ids: string[]) => void;
}) {
  const ids = chosen.map((d) => d.id);
  const on = ids.includes(design.id);
  const baseline = ids[0] === design.id;
  return (
    <div className={`flex items-start gap-2 rounded-lg px-2 py-1.5 ${on ? "bg-water" : ""}`}>
      {grip && <span className="pt-1">{grip}</span>}
      <span className="mt-1">
        <Checkbox
          id={`compare-${design.id}`}
          checked={on}
          onChange={() => onChange(on ? ids.filter((i) => i !== design.id) : [...ids, design.id])}
        />
      </span>
      <label htmlFor={`compare-${design.id}`} className="min-w-0 grow">
        <span className="block font-medium">{design.name}</span>
        <span className="text-xs text-soft">
          {run
            ? `run ${run.number}, ${run.finished} ${COUNTED_IN[run.settings.kind][1]}${outOfDate(run, study) ? ", out of date" : ""}`
            : "not run yet"}
        </span>
      </label>
      {on &&
        (baseline ? (
          <span className="text-xs text-soft">baseline</span>
        ) : (
          <button
            className="shrink-0 text-xs whitespace-nowrap text-action underline-offset-2 hover:underline"
            onClick={() => onChange([design.id, ...ids.filter((i) => i !== design.id)])}
          >
            make baseline
          </button>
        ))}
    </div>
  );
}

/** A run with what has been fetched of its figures. */
type Results = RunFigures & { readonly run: RunSummary };

interface Loaded {
  readonly design: Design;
  readonly results: Results | undefined;
}

function uniqueMeasures(loaded: readonly (Results | undefined)[], own: readonly MeasureInfo[]): MeasureInfo[] {
  const all = new Map<string, MeasureInfo>();
  for (const m of [...loaded.flatMap((l) => l?.measures ?? []), ...own]) if (!all.has(m.key)) all.set(m.key, m);
  return [...all.values()];
}

function AddMeasure({ offered, onAdd }: { offered: readonly MeasureInfo[]; onAdd: (key: string) => void }) {
  return (
    <SearchedChoice
      label="Add a measure"
      options={offered.map(({ key, label, owner }) => ({ value: key, label, under: owner }))}
      onChoose={onAdd}
    >
      <Plus size={14} /> Measure
    </SearchedChoice>
  );
}

interface Row {
  readonly info: MeasureInfo;
  readonly base: number;
  readonly other: number;
  readonly comparison: PairedComparison | undefined;
  readonly unit: { readonly symbol: string; readonly factor: number };
  /** The smallest difference that matters, in SI units. */
  readonly matters: number | undefined;
}

function Pair({ study, base, other, keys }: { study: Study; base: Results; other: Results; keys: readonly string[] }) {
  const { level } = study.run;
  const paired = arePairs(base.run, other.run);
  const deciding = readDeciding(study.frame?.deciding ?? [], base.measures);
  const rows = keys.flatMap((key): Row[] => {
    const [a, b] = [columnOf(base, key), columnOf(other, key)];
    const info = base.measures.find((m) => m.key === key) ?? other.measures.find((m) => m.key === key);
    if (!info) return [];
    const unit = displayUnit(info.dimension, study.units);
    const matters = deciding.find((one) => one.deciding.measure === key)?.matters;
    const comparison = a && b ? compareInStep(a, b, level) : undefined;
    return [{ info, unit, matters, base: mean(a), other: mean(b), comparison }];
  });
  return (
    <section className="pb-6">
      {base.run.settings.kind === "long" && (
        <p role="alert" className="mb-2 rounded-md border-l-[3px] border-amber bg-water px-3 py-1.5">
          These are batches of one long run each, paired by their number. Their intervals hold only as far as batches
          are independent: see Measure.
        </p>
      )}
      {!paired && (
        <p role="alert" className="mb-2 rounded-md border-l-[3px] border-buoy bg-warn px-3 py-1.5">
          These two runs differ in seed, length or warm-up, so their replications are not pairs. Run both again with the
          same settings.
        </p>
      )}
      {paired && (
        <table className="panel w-full border-separate border-spacing-0 overflow-hidden" data-testid="comparison">
          <thead>
            <tr className="text-left text-xs text-soft [&>th]:border-b [&>th]:border-line [&>th]:px-3 [&>th]:py-2 [&>th]:align-bottom [&>th]:font-medium">
              <th>Measure</th>
              <th className="text-right">{base.run.designName}</th>
              <th className="text-right">{other.run.designName}</th>
              <th className="w-[210px]">Difference, with its interval</th>
              <th>In words: {other.run.designName} is</th>
            </tr>
          </thead>
          <tbody>
            {rows.map(({ info, unit, base: a, other: b, comparison, matters }) => (
              <tr
                key={info.key}
                className="[&>td]:border-b [&>td]:border-line/60 [&>td]:px-3 [&>td]:py-2"
                data-measure={info.key}
              >
                <td data-tip={definitionOf(info)}>
                  <span className="block text-xs text-soft">{info.owner}</span>
                  {info.label}
                  {unit.symbol && <span className="text-soft">, {unit.symbol}</span>}
                </td>
                <td className="mono text-right">{formatNumber(a / unit.factor)}</td>
                <td className="mono text-right">{formatNumber(b / unit.factor)}</td>
                <td>
                  {comparison && comparison.difference.n > 1 && (
                    <DifferencePlot comparison={comparison} factor={unit.factor} />
                  )}
                </td>
                <td className={comparison?.tellsApart ? "font-semibold" : "text-soft"} data-verdict>
                  {comparison
                    ? verdict(comparison, level, moreLess(dimensionSymbol(info.dimension) === "s"), unit)
                    : "only one of the two has this"}
                  {comparison && matters !== undefined && comparison.difference.n > 1 && (
                    <span className="block text-xs font-normal text-soft" data-matters>
                      {mattersWords(comparison, matters)}
                    </span>
                  )}
                  {comparison && Number.isFinite(comparison.varianceRemoved) && comparison.varianceRemoved > 0.01 && (
                    <span className="block text-xs font-normal text-soft">
                      pairing removed {formatNumber(comparison.varianceRemoved * 100, 2)} % of the variance
                    </span>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  );
}

function columnOf(results: Results, key: string): Column | undefined {
  return results.columns.get(results.measures.findIndex((m) => m.key === key));
}

/** Compares the replications that both runs have. */
function compareInStep(a: Column, b: Column, level: number): PairedComparison {
  const inOther = new Map(b.replications.map((r, i) => [r, i]));
  const pairs = a.replications.flatMap((r, i) => (inOther.has(r) ? [[i, inOther.get(r)!] as const] : []));
  return comparePaired(
    pairs.map(([i]) => a.values[i]),
    pairs.map(([, k]) => b.values[k]),
    level,
    { baseline: a.errors && pairs.map(([i]) => a.errors![i]), other: b.errors && pairs.map(([, k]) => b.errors![k]) },
  );
}

function mean(column: Column | undefined): number {
  const defined = column?.values.filter(Number.isFinite) ?? [];
  return defined.length === 0 ? Number.NaN : defined.reduce((s, v) => s + v, 0) / defined.length;
}
