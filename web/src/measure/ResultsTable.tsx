import { allKinds, definitionOf, formatNumber } from "@busy-harbor/core";
import type { RunSummary } from "@busy-harbor/core/contract";
import { useVirtualizer } from "@tanstack/react-virtual";
import { useEffect, useLayoutEffect, useMemo, useRef, useState } from "react";
import type { Column } from "../state/figures.ts";
import { useRuns } from "../state/runs.ts";
import { DotStrip } from "./DotStrip.tsx";
import { meanText, type Reading } from "./readings.ts";
import { ReplicationChart } from "./ReplicationChart.tsx";
import { Choice } from "../ui/Choice.tsx";

/** How those are called that are measured, but for elements, whose kinds say so. */
const OWNERS: Readonly<Record<string, string>> = {
  custom: "measures of your own",
  run: "the run",
  group: "groups",
  link: "links",
  "entity type": "entity types",
};
const ownersIn = (ownerKind: string): string =>
  OWNERS[ownerKind] ?? allKinds.find(({ kind }) => kind === ownerKind)?.plural.toLowerCase() ?? ownerKind;

/** Heights of rows as they are drawn, until each is measured. */
const HEADING_HEIGHT = 30;
const ROW_HEIGHT = 27;

type Item = { readonly heading: string; readonly kind: string } | { readonly reading: Reading };

/** All measures of a run, of which only the rows in sight are drawn and have their values fetched. */
export function ResultsTable({
  run,
  readings,
  one,
}: {
  run: RunSummary;
  readings: readonly Reading[];
  /** What a dot is. */ one: string;
}) {
  const [filter, setFilter] = useState("");
  const [kind, setKind] = useState("");
  const [picked, setPicked] = useState<string>();
  const kinds = useMemo(() => [...new Set(readings.map((r) => r.measure.ownerKind))], [readings]);
  const shown = useMemo(() => {
    const words = filter.toLowerCase().split(/\s+/).filter(Boolean);
    return readings.filter(
      (r) =>
        (!kind || r.measure.ownerKind === kind) &&
        words.every((w) => `${r.measure.owner} ${r.measure.label}`.toLowerCase().includes(w)),
    );
  }, [readings, filter, kind]);
  const items = useMemo(
    () =>
      shown.flatMap((reading, i): Item[] =>
        reading.measure.ownerId === shown[i - 1]?.measure.ownerId
          ? [{ reading }]
          : [{ heading: reading.measure.owner, kind: reading.measure.ownerKind }, { reading }],
      ),
    [shown],
  );
  const current =
    shown.find((r) => r.measure.key === picked) ??
    shown.find((r) => r.measure.measure === "timeInSystem" && r.measure.part === "mean") ??
    shown[0];

  const table = useRef<HTMLTableElement>(null);
  const [scrollMargin, setScrollMargin] = useState(0);
  const virtual = useVirtualizer({
    count: items.length,
    getScrollElement: () => table.current?.closest("main") ?? null,
    estimateSize: (i) => ("heading" in items[i] ? HEADING_HEIGHT : ROW_HEIGHT),
    overscan: 6,
    scrollMargin,
  });
  const rows = virtual.getVirtualItems();
  const above = rows.length > 0 ? rows[0].start - scrollMargin : 0;
  const below = rows.length > 0 ? virtual.getTotalSize() + scrollMargin - rows[rows.length - 1].end : 0;

  const wanted = [
    ...new Set([
      ...(current ? [current.index] : []),
      ...rows.flatMap(({ index }) => {
        const item = items[index];
        return item && "reading" in item ? [item.reading.index] : [];
      }),
    ]),
  ];
  const columns = useColumns(run, wanted);

  const column = current && columns?.get(current.index);
  const values = useMemo(() => inUnit(column, current?.factor ?? 1), [column, current?.factor]);

  // Where the table begins depends on what stands above it.
  useLayoutEffect(() => setScrollMargin((table.current?.offsetTop ?? 0) + ROW_HEIGHT), [readings, current]);

  return (
    <>
      {current && <ReplicationChart reading={current} values={values} one={one} />}
      <div className="flex flex-wrap items-center gap-2 pt-4 pb-2">
        <input
          className="field w-56!"
          placeholder="Find a measure"
          aria-label="Find a measure"
          value={filter}
          onChange={(e) => setFilter(e.target.value)}
        />
        <Choice
          label="Show"
          className="w-44!"
          value={kind}
          options={[{ value: "", label: "everything" }, ...kinds.map((k) => ({ value: k, label: ownersIn(k) }))]}
          onChange={setKind}
        />
        <span className="text-soft">{shown.length} measures</span>
      </div>
      <table
        ref={table}
        className="panel w-full table-fixed border-separate border-spacing-0 overflow-hidden"
        data-testid="results"
        aria-rowcount={items.length + 1}
      >
        <thead>
          <tr className="text-left text-xs text-soft [&>th]:border-b [&>th]:border-line [&>th]:px-3 [&>th]:py-2 [&>th]:font-medium">
            <th>Measure</th>
            <th className="w-[90px] text-right">Mean</th>
            <th className="w-[100px]">± half-width</th>
            <th className="w-[56px]">Unit</th>
            <th className="w-[196px]">Replications, interval</th>
            <th className="w-[84px] text-right">Least</th>
            <th className="w-[84px] text-right">Most</th>
          </tr>
        </thead>
        <tbody>
          {above > 0 && (
            <tr aria-hidden>
              <td colSpan={7} style={{ height: above }} />
            </tr>
          )}
          {rows.map(({ index, key }) => {
            const item = items[index];
            if (!item) return null;
            if ("heading" in item) {
              return (
                <tr key={key} ref={virtual.measureElement} data-index={index} aria-rowindex={index + 2}>
                  <th
                    colSpan={7}
                    scope="rowgroup"
                    className="border-b border-line bg-paper px-3 py-1.5 text-left font-semibold"
                  >
                    {item.heading} <span className="font-normal text-soft">{item.kind}</span>
                  </th>
                </tr>
              );
            }
            const { reading } = item;
            const { measure, interval, unit } = reading;
            const { mean, halfWidth } = meanText(interval);
            return (
              <tr
                key={key}
                ref={virtual.measureElement}
                data-index={index}
                aria-rowindex={index + 2}
                className={`[&>td]:border-b [&>td]:border-line/60 [&>td]:px-3 [&>td]:py-1 ${current === reading ? "bg-water" : "hover:bg-paper"}`}
                data-measure={measure.key}
                onClick={() => setPicked(measure.key)}
              >
                <td>
                  <button className="text-left" title={definitionOf(measure)} aria-pressed={current === reading}>
                    {measure.label}
                  </button>
                </td>
                <td className="mono text-right">{mean}</td>
                <td className="mono">{halfWidth && `± ${halfWidth}`}</td>
                <td className="text-soft">{unit}</td>
                <td>
                  <DotStrip values={columns?.get(reading.index)?.values} factor={reading.factor} interval={interval} />
                </td>
                <td className="mono text-right">{formatNumber(interval.min)}</td>
                <td className="mono text-right">{formatNumber(interval.max)}</td>
              </tr>
            );
          })}
          {below > 0 && (
            <tr aria-hidden>
              <td colSpan={7} style={{ height: below }} />
            </tr>
          )}
        </tbody>
      </table>
    </>
  );
}

const inUnit = (column: Column | undefined, factor: number): number[] => column?.values.map((v) => v / factor) ?? [];

/** Values of the measures that are wanted, fetched when these change or more replications have ended. */
function useColumns(run: RunSummary, wanted: readonly number[]): ReadonlyMap<number, Column> | undefined {
  const columns = useRuns((s) => s.figures.get(run.id)?.columns);
  const fetchColumns = useRuns((s) => s.fetchColumns);
  const list = wanted.join(",");
  useEffect(() => {
    // Scrolling passes many rows; those it rests on are fetched. What fails is tried again with the next change.
    const timer = setTimeout(
      () => void fetchColumns(run.id, list === "" ? [] : list.split(",").map(Number)).catch(() => undefined),
      60,
    );
    return () => clearTimeout(timer);
  }, [run.id, run.finished, list, fetchColumns]);
  return columns;
}
