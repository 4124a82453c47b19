import { type Calendar, formatNumber, type Study } from "@busy-harbor/core";
import { type DaysAlike, type IntervalRate, ratesOf, readStamp } from "@busy-harbor/core/fitting";
import { format } from "date-fns";
import { Dialog } from "radix-ui";
import { useMemo, useState } from "react";
import type { GridColumn } from "../grid/column.ts";
import { Grid } from "../grid/Grid.tsx";
import { useGrid } from "../grid/useGrid.ts";
import { announce } from "../ui/announce.ts";
import { Choice } from "../ui/Choice.tsx";
import { perHour, rowsOf, sayDays, tablesWithStamps, timeOf } from "./stamps.ts";

const WIDTHS = [
  ["15", "15 min"],
  ["30", "30 min"],
  ["60", "1 h"],
  ["120", "2 h"],
  ["240", "4 h"],
  ["1440", "a whole day"],
] as const;
const ALIKE: readonly (readonly [DaysAlike, string])[] = [
  ["apart", "each day of the week apart"],
  ["work", "working days alike, the weekend alike"],
  ["all", "all days alike"],
];
const LEVEL = 0.95;
/** Below so small a chance counts are said to vary more than those of a Poisson process. */
const UNLIKELY = 0.05;

/** Rates of arrivals from the instants at which they came, each with its interval, for a demand profile. */
export default function StampsDialog({
  study,
  calendar,
  onUse,
  onClose,
}: {
  study: Study;
  calendar: Calendar;
  onUse: (rows: Calendar["rows"]) => void;
  onClose: () => void;
}) {
  return (
    <Dialog.Root open onOpenChange={(open) => !open && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/15" />
        <Dialog.Content
          aria-describedby={undefined}
          data-testid="stamps"
          className="panel float fixed top-[6vh] left-1/2 z-50 flex h-[min(660px,88vh)] w-[min(820px,94vw)] -translate-x-1/2 flex-col gap-2 p-5"
        >
          <Dialog.Title className="text-base">Rates for {calendar.name}, from when they came</Dialog.Title>
          <Rates study={study} onUse={onUse} onClose={onClose} />
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

const rateId = ({ days, from }: IntervalRate) => `${days.join("")} ${from}`;

function Rates({
  study,
  onUse,
  onClose,
}: {
  study: Study;
  onUse: (rows: Calendar["rows"]) => void;
  onClose: () => void;
}) {
  const tables = tablesWithStamps(study);
  const options = tables.flatMap((table) =>
    table.columns.flatMap((column, c) =>
      column.holds === "date"
        ? [{ value: `${table.id} ${column.id}`, label: `${table.name}, ${column.name}`, rows: table.rows, c }]
        : [],
    ),
  );
  const [chosen, setChosen] = useState(options[0]?.value ?? "");
  const [width, setWidth] = useState<(typeof WIDTHS)[number][0]>("60");
  const [alike, setAlike] = useState<DaysAlike>("apart");
  const option = options.find(({ value }) => value === chosen);
  const { stamps, unread } = useMemo(() => {
    const cells = option?.rows.map((row) => row[option.c] ?? "").filter((text) => text.trim() !== "") ?? [];
    const read = cells.map(readStamp);
    return { stamps: read.filter((s) => s !== undefined), unread: read.filter((s) => s === undefined).length };
  }, [option]);
  const found = useMemo(
    () => (stamps.length > 0 ? ratesOf(stamps, { width: Number(width) * 60, alike, level: LEVEL }) : undefined),
    [stamps, width, alike],
  );
  const rows = useMemo(() => found?.intervals.filter(({ count }) => count > 0) ?? [], [found]);
  const most = Math.max(0, ...rows.map(({ high }) => high));
  const columns = useMemo(() => columnsFor(most), [most]);
  const model = useGrid({ id: "rates", rows, columns, rowId: rateId, filter: "" });
  const day = (n: number) => format(new Date(new Date(n * 86_400_000).toISOString().slice(0, 10)), "d MMM yyyy");
  return (
    <>
      <div className="flex flex-wrap gap-2">
        <Choice label="When they came" className="w-56!" value={chosen} options={options} onChange={setChosen} />
        <Choice
          label="Length of an interval"
          className="w-32!"
          value={width}
          options={WIDTHS.map(([value, label]) => ({ value, label }))}
          onChange={setWidth}
        />
        <Choice
          label="Days of the week"
          className="w-72!"
          value={alike}
          options={ALIKE.map(([value, label]) => ({ value, label }))}
          onChange={setAlike}
        />
      </div>
      {found && (
        <p className="text-soft">
          {stamps.length.toLocaleString("en")} from {day(found.firstDay)} to {day(found.lastDay)}, both days whole.
          {unread > 0 && (
            <span className="text-buoy-deep"> {unread} cells are no date and time, and are left out.</span>
          )}{" "}
          {dispersionWords(found.dispersion, found.chance)}
        </p>
      )}
      <div className="flex min-h-0 grow flex-col rounded-md border border-line">
        <Grid
          model={model}
          label="Rates by interval"
          testId="rates-grid"
          empty="No cell of this column is a date and time."
        />
      </div>
      <div className="flex justify-end gap-2 pt-1">
        <button className="button" onClick={onClose}>
          Close
        </button>
        <button
          className="button button-main"
          disabled={rows.length === 0}
          onClick={() => {
            onUse(rowsOf(rows));
            announce(`The profile has ${rows.length} rows now.`);
            onClose();
          }}
        >
          Use these rates
        </button>
      </div>
    </>
  );
}

function dispersionWords(dispersion: number, chance: number): string {
  if (!Number.isFinite(dispersion)) return "Each interval was seen on one day only, so how counts vary cannot be told.";
  const words = `Counts of an interval on different days vary ${formatNumber(dispersion, 3)} times as much as those of a Poisson process`;
  if (1 - chance < UNLIKELY) return `${words}, less than by chance: do they come by appointment?`;
  return chance < UNLIKELY
    ? `${words} (p ${chance < 0.001 ? "below 0.001" : formatNumber(chance, 2)}): the intervals are too narrow. Are some days unlike the others?`
    : `${words}, as may well be chance (p ${formatNumber(chance, 2)}).`;
}

function columnsFor(most: number): GridColumn<IntervalRate>[] {
  const right = { mono: true, align: "right" } as const;
  const bar = (rate: number) => `${(100 * rate) / most}%`;
  return [
    { id: "days", label: "Days", width: 100, read: ({ days }) => sayDays(days), value: ({ days }) => days[0] },
    { id: "from", label: "From", width: 70, ...right, read: ({ from }) => timeOf(from) },
    { id: "to", label: "To", width: 70, ...right, read: ({ to }) => timeOf(to) },
    { id: "count", label: "Came", width: 70, ...right, read: ({ count }) => String(count), value: (r) => r.count },
    {
      id: "observed",
      label: "Days seen",
      width: 90,
      ...right,
      read: (r) => String(r.observed),
      value: (r) => r.observed,
    },
    { id: "rate", label: "Rate, 1/h", width: 90, ...right, read: (r) => perHour(r.rate), value: (r) => r.rate },
    {
      id: "interval",
      label: "Interval at 95 %, 1/h",
      help: "Exact where arrivals are a Poisson process (Garwood 1936).",
      width: 150,
      ...right,
      read: ({ low, high }) => `${perHour(low)} to ${perHour(high)}`,
      value: ({ low }) => low,
    },
    {
      id: "drawn",
      label: "Drawn",
      width: 140,
      unsearched: true,
      read: () => "",
      show: ({ low, high, rate }) => (
        <span className="relative block h-full" aria-hidden>
          <span
            className="absolute top-1/2 h-2 -translate-y-1/2 rounded bg-water outline outline-line"
            style={{ left: bar(low), width: bar(high - low) }}
          />
          <span className="absolute top-1/2 h-3 w-0.5 -translate-y-1/2 bg-action" style={{ left: bar(rate) }} />
        </span>
      ),
    },
  ];
}
