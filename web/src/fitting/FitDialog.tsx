import {
  type Column,
  type ColumnSource,
  type Design,
  formatNumber,
  type Table,
  unitOfColumn,
  writeName,
} from "@busy-harbor/core";
import { binned, type Bins, type Fit, type Goodness, likelyBins, Sample, writeFit } from "@busy-harbor/core/fitting";
import { Dialog } from "radix-ui";
import { useMemo, useState } from "react";
import { KeptInput } from "../build/fields.tsx";
import { announce } from "../ui/announce.ts";
import { Choice } from "../ui/Choice.tsx";
import { ToggleGroup } from "../ui/ToggleGroup.tsx";
import { type ChartKind, FitChart } from "./FitCharts.tsx";
import type { Findings } from "./fit.worker.ts";
import { useFindings } from "./useFindings.ts";
import { placesFor, takeFit } from "./uses.ts";

/** The name under which the column's own values stand among the distributions. */
const EMPIRICAL = "empirical";
/** Below so small a chance a distribution is said not to fit. */
const UNLIKELY = 0.05;

/** Distributions that may have yielded the values of a column, how well each fits, and the way to use one. */
export default function FitDialog({
  table,
  column,
  source,
  design,
  onClose,
}: {
  table: Table;
  column: Column;
  source: ColumnSource;
  design: Design;
  onClose: () => void;
}) {
  return (
    <Dialog.Root open onOpenChange={(open) => !open && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/15" />
        <Dialog.Content
          aria-describedby={undefined}
          data-testid="fit"
          className="panel float fixed top-[5vh] left-1/2 z-50 flex max-h-[90vh] w-[min(1080px,96vw)] -translate-x-1/2 flex-col overflow-auto p-5"
        >
          <Dialog.Title className="pb-1 text-base">
            A distribution for {table.name}, {column.name}
          </Dialog.Title>
          <Fitting table={table} column={column} source={source} design={design} onClose={onClose} />
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

function Fitting({ table, column, source, design, onClose }: Parameters<typeof FitDialog>[0]) {
  const { factor, dimension } = unitOfColumn(column);
  const unit = column.unit || (column.holds === "duration" ? "min" : "");
  const values = useMemo(() => source.values.filter(Number.isFinite).map((v) => v / factor), [source, factor]);
  const sample = useMemo(() => new Sample(values), [values]);
  const { findings, chances, failure } = useFindings(values);
  const [chosen, setChosen] = useState<string>();
  const [kind, setKind] = useState<ChartKind>("histogram");
  const [bins, setBins] = useState<Bins>(() => likelyBins(sample));
  const places = useMemo(() => placesFor(design, dimension), [design, dimension]);
  const [place, setPlace] = useState("");
  const name = chosen ?? findings?.fits[0]?.name ?? EMPIRICAL;
  const fit = findings?.fits.find((f) => f.name === name);
  const text = fit ? writeFit(fit, unit) : `empirical(${writeName(table.name)}.${writeName(column.name)})`;
  const target = places.find((p) => p.value === place);
  if (sample.n < 5) return <p className="text-soft">At least five numbers are wanted; the column has {sample.n}.</p>;
  return (
    <>
      <p className="pb-3 text-soft">
        {sample.n.toLocaleString("en")} values, mean {inUnit(sample.mean, unit)}, standard deviation{" "}
        {inUnit(Math.sqrt(sample.squares / (sample.n - 1)), unit)}, from {inUnit(sample.least, unit)} to{" "}
        {inUnit(sample.most, unit)}, median {inUnit(sample.quantile(0.5), unit)}.
      </p>
      {failure && <p className="pb-2 text-buoy-deep">It could not be fitted: {failure}</p>}
      <div className="flex flex-wrap gap-5">
        <Candidates findings={findings} chances={chances} name={name} onChoose={setChosen} />
        <div className="min-w-0">
          <ToggleGroup
            label="What is drawn"
            value={kind}
            options={[
              ["histogram", "Histogram"],
              ["quantiles", "Quantiles"],
              ["shares", "Shares"],
              ["neighbours", "Neighbours"],
            ]}
            onChange={setKind}
          />
          <div className="pt-2" role="img" aria-label={`${kind} of ${column.name}`}>
            <FitChart kind={kind} sample={sample} bins={bins} fit={fit} unit={unit} />
          </div>
          {kind === "histogram" && <BinFields bins={bins} sample={sample} unit={unit} onChange={setBins} />}
        </div>
      </div>
      {findings && <Checks findings={findings} unit={unit} />}
      <form
        className="flex flex-wrap items-center gap-2 border-t border-line pt-3"
        onSubmit={(event) => {
          event.preventDefault();
          if (!target) return;
          takeFit(target, text, { table: table.id, column: column.id, count: sample.n });
          announce(`${target.label} is ${text} now.`);
          onClose();
        }}
      >
        <code className="mono min-w-0 grow wrap-anywhere" data-testid="fit-text">
          {text}
        </code>
        <button
          type="button"
          className="button"
          onClick={() =>
            void navigator.clipboard.writeText(text).then(
              () => announce("Copied."),
              () => announce("The browser does not let it be copied. Select the text and copy it by hand.", true),
            )
          }
        >
          Copy
        </button>
        <div className="w-64">
          <Choice
            label="Use it for"
            value={place}
            placeholder={places.length > 0 ? "use it for …" : "no setting of this unit"}
            options={places.map(({ value, label }) => ({ value, label }))}
            onChange={setPlace}
          />
        </div>
        <button className="button button-main" disabled={!target}>
          Use it
        </button>
        <Dialog.Close className="button" type="button">
          Close
        </Dialog.Close>
      </form>
    </>
  );
}

const inUnit = (value: number, unit: string) => `${formatNumber(value)}${unit === "" ? "" : ` ${unit}`}`;

const chance = (p: number | undefined) => (p === undefined ? "…" : p < 0.005 ? "< 0.01" : p.toFixed(2));

/** The distributions, the best first, with how likely each would be as far off. */
function Candidates({
  findings,
  chances,
  name,
  onChoose,
}: {
  findings: Findings | undefined;
  chances: ReadonlyMap<string, Goodness>;
  name: string;
  onChoose: (name: string) => void;
}) {
  if (!findings) return <p className="w-[440px] text-soft">Fitting …</p>;
  const { fits } = findings;
  const least = fits[0]?.aic ?? 0;
  const done = fits.filter((f) => chances.has(f.name)).length;
  const isOff = (f: Fit) => {
    const p = chances.get(f.name);
    return p !== undefined && Math.min(p.ks, p.andersonDarling, p.chiSquare) < UNLIKELY;
  };
  const verdict =
    done < fits.length
      ? `P-values: ${done} of ${fits.length} …`
      : fits.every(isOff)
        ? "None fits: take the values themselves, or look for what mixes in them."
        : "P-values below 0.05 say that the distribution does not fit.";
  return (
    <div className="w-[440px] shrink-0">
      <table className="w-full text-left tabular-nums" data-testid="fits">
        <thead>
          <tr className="text-xs text-soft [&>th]:pb-1 [&>th]:font-normal">
            <th>Distribution</th>
            <th className="text-right" data-tip="Akaike’s criterion over that of the best; the smaller the better">
              AIC +
            </th>
            <th
              className="text-right"
              data-tip="Kolmogorov and Smirnov: the largest distance of the distribution functions"
            >
              KS p
            </th>
            <th className="text-right" data-tip="Anderson and Darling: distances weighed so that tails count">
              AD p
            </th>
            <th className="text-right" data-tip="Pearson’s chi-square over equally likely bins">
              χ² p
            </th>
          </tr>
        </thead>
        <tbody>
          {fits.map((f) => {
            const p = chances.get(f.name);
            return (
              <tr key={f.name} className={f.name === name ? "bg-water" : ""}>
                <td className="py-0.5">
                  <label className="flex items-center gap-2 px-1">
                    <input type="radio" name="fit" checked={f.name === name} onChange={() => onChoose(f.name)} />
                    {f.label}
                    {f.belowZero > 0.001 && (
                      <span className="text-xs text-soft">{formatNumber(f.belowZero * 100, 2)} % below 0</span>
                    )}
                  </label>
                </td>
                <td className="text-right">{formatNumber(f.aic - least, 3)}</td>
                {(["ks", "andersonDarling", "chiSquare"] as const).map((test) => (
                  <td key={test} className={`text-right ${p && p[test] < UNLIKELY ? "text-buoy-deep" : ""}`}>
                    {chance(p?.[test])}
                  </td>
                ))}
              </tr>
            );
          })}
          <tr className={name === EMPIRICAL ? "bg-water" : ""}>
            <td className="py-0.5" colSpan={5}>
              <label className="flex items-center gap-2 px-1">
                <input type="radio" name="fit" checked={name === EMPIRICAL} onChange={() => onChoose(EMPIRICAL)} />
                The values themselves
              </label>
            </td>
          </tr>
        </tbody>
      </table>
      <p className="pt-2 text-xs text-soft" role="status">
        {verdict} They come from 400 samples of each fitted distribution, with parameters estimated anew, so they hold
        although the parameters are those of the data.
      </p>
    </div>
  );
}

/** Where bins begin, how wide they are, and how many there are. */
function BinFields({
  bins,
  sample,
  unit,
  onChange,
}: {
  bins: Bins;
  sample: Sample;
  unit: string;
  onChange: (bins: Bins) => void;
}) {
  const { outside } = useMemo(() => binned(sample, bins), [sample, bins]);
  const field = (name: keyof Bins, label: string, read: (n: number) => boolean, wanted: string) => (
    <label className="flex items-center gap-1.5 text-soft">
      {label}
      <KeptInput
        label={label}
        className="w-20!"
        shown={String(bins[name])}
        read={(text) => (text.trim() !== "" && read(Number(text)) ? text : undefined)}
        wanted={wanted}
        when="leaving"
        onChange={(text) => onChange({ ...bins, [name]: Number(text) })}
      />
    </label>
  );
  return (
    <div className="flex flex-wrap items-center gap-3 text-xs">
      {field("start", "From", Number.isFinite, "A number is wanted.")}
      {field("width", "Width", (n) => n > 0 && Number.isFinite(n), "A number above 0 is wanted.")}
      {field(
        "count",
        "Bins",
        (n) => Number.isInteger(n) && n >= 1 && n <= 500,
        "A whole number from 1 to 500 is wanted.",
      )}
      {unit !== "" && <span className="text-soft">in {unit}</span>}
      {outside > 0 && <span className="text-soft">{outside} values lie outside</span>}
      <button type="button" className="button" onClick={() => onChange(likelyBins(sample))}>
        As likely
      </button>
    </div>
  );
}

/** What fitting takes for granted, in words. */
function Checks({ findings: { lag, runs, trend, outliers }, unit }: { findings: Findings; unit: string }) {
  const told = [
    lag.p < UNLIKELY &&
      `Each value tells of the next (correlation ${lag.statistic.toFixed(2)}, p ${chance(lag.p)}): a distribution alone leaves that out.`,
    runs.p < UNLIKELY &&
      `There are ${runs.statistic} runs above and below the median, ${lag.statistic > 0 ? "fewer" : "more"} than independent values have (p ${chance(runs.p)}).`,
    trend.p < UNLIKELY &&
      `The values ${trend.statistic > 0 ? "grow" : "fall"} in the order of the rows (rank correlation ${trend.statistic.toFixed(2)}, p ${chance(trend.p)}).`,
    outliers.length > 0 &&
      `Far from all others: ${outliers
        .slice(0, 5)
        .map(({ at, value }) => `${inUnit(value, unit)} (value ${at + 1})`)
        .join(", ")}${outliers.length > 5 ? ` and ${outliers.length - 5} more` : ""}.`,
  ].filter((words) => words !== false);
  return (
    <div className="py-3 text-xs" data-testid="fit-checks">
      {told.length === 0 ? (
        <p className="text-soft">
          Nothing speaks against independent values without a trend: correlation of neighbours{" "}
          {lag.statistic.toFixed(2)}, {runs.statistic} runs about the median, rank correlation with the order{" "}
          {trend.statistic.toFixed(2)}.
        </p>
      ) : (
        told.map((words) => (
          <p key={words} className="text-buoy-deep">
            {words}
          </p>
        ))
      )}
    </div>
  );
}
