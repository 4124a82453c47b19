import { displayUnit, formatNumber, meanInterval } from "@busy-harbor/core";
import type { Experiment } from "@busy-harbor/core/contract";
import { valueOfWords } from "@busy-harbor/core/experiments";
import { Square } from "lucide-react";
import { useMemo } from "react";
import { CartesianGrid, Line, LineChart, ResponsiveContainer, XAxis, YAxis } from "recharts";
import { api } from "../../../api/client.ts";
import { of as ofUnit, TICK } from "../../../charts/axes.ts";
import { announce } from "../../../ui/announce.ts";
import { editExperiment, newScenario } from "../../edits.ts";
import type { useMeasures } from "../../useMeasures.ts";
import { useResponses } from "../../useResponses.ts";
import { FrontChart } from "./FrontChart.tsx";
import type { ReadingProps } from "../ReadingProps.tsx";

/** Places told at first, the best of them. */
const MOST_SHOWN = 15;

/** How a search stands, and what it has found. */
export function Found({
  known: { id, number, points, searchState },
  study,
  experiment,
  factors,
  measures,
  onChange,
}: Pick<ReadingProps, "study" | "experiment" | "factors"> & {
  readonly known: Experiment;
  readonly onChange: (experiment: Experiment) => void;
  readonly measures: ReturnType<typeof useMeasures>;
}) {
  const keys = useMemo(
    () =>
      searchState
        ? [searchState.measure, ...(searchState.bounded === null ? [] : [searchState.bounded]), ...searchState.also]
        : [],
    [searchState],
  );
  const columnOf = useResponses(points, keys);
  if (!searchState) return null;
  const { phase, best, path, finalists, holds, budget, problem, measure, bounded, stopped, also, isFront } =
    searchState;
  const info = measures.find(({ key }) => key === measure);
  const boundInfo = measures.find(({ key }) => key === bounded);
  const unit = info ? displayUnit(info.dimension, study.units) : { symbol: "", factor: 1 };
  const boundUnit = boundInfo ? displayUnit(boundInfo.dimension, study.units) : { symbol: "", factor: 1 };
  const weights = experiment.search?.also ?? [];
  const furthers = also.map((key, k) => {
    const of = measures.find((m) => m.key === key);
    const shown = of ? displayUnit(of.dimension, study.units) : { symbol: "", factor: 1 };
    // The plan may have been changed since the search began.
    const weight = weights.find((one) => one.measure === key)?.weight ?? weights[k]?.weight ?? 1;
    return { key, label: of?.label ?? key, unit: shown, weight };
  });
  /** Mean of the weighted sum of the responses of a place, in units of the first. */
  const sumOf = (run: string) => {
    const first = columnOf(run, measure);
    const others = furthers.map(({ key }) => columnOf(run, key));
    if (!first || others.some((column) => !column)) return undefined;
    const sums = first.values.map((v, r) =>
      furthers.reduce((sum, one, k) => sum + (one.weight * others[k]!.values[r]) / one.unit.factor, v / unit.factor),
    );
    return meanInterval(sums, study.run.level);
  };
  const isSum = also.length > 0 && !isFront;
  const meanOf = (run: string, key: string, factor: number) => {
    const column = columnOf(run, key);
    return column
      ? meanInterval(
          column.values.map((v) => v / factor),
          study.run.level,
        )
      : undefined;
  };
  const places = points.map((point, i) => ({
    point,
    i,
    interval: meanOf(point.id, measure, unit.factor),
    sum: isSum ? sumOf(point.id) : undefined,
    furthers: furthers.map((one) => meanOf(point.id, one.key, one.unit.factor)),
    limited: bounded === null ? undefined : meanOf(point.id, bounded, boundUnit.factor),
  }));
  const sign = experiment.search?.better === "more" ? -1 : 1;
  const order = [...places].sort(
    (a, b) =>
      Number(b.i === best) - Number(a.i === best) ||
      Number(finalists.includes(b.i)) - Number(finalists.includes(a.i)) ||
      sign * (((a.sum ?? a.interval)?.mean ?? Infinity) - ((b.sum ?? b.interval)?.mean ?? Infinity)),
  );
  const spent = points.reduce((sum, { finished }) => sum + finished, 0);
  const line = path.map((place, round) => ({
    round: round + 1,
    mean: (places[place]?.sum ?? places[place]?.interval)?.mean,
  }));
  const take = () => {
    const found = isFront ? finalists.map((i) => points[i]) : best === null ? [] : [points[best]];
    if (found.length === 0) return;
    editExperiment(experiment.id, "Take what was found", (e) => {
      for (const place of found) {
        // The server tells values in words, by the titles of their factors.
        const values = Object.fromEntries(
          factors.flatMap((told): [string, string][] => {
            const words = place.factors[told.title.slice(0, 80)];
            return words === undefined ? [] : [[told.factor.id, valueOfWords(told, String(words))]];
          }),
        );
        e.scenarios.push(newScenario({ design: place.designId, values }));
      }
    });
    announce(
      found.length === 1
        ? `${found[0].name} stands among the scenarios now.`
        : `${found.length} places stand among the scenarios now.`,
    );
  };
  return (
    <section className="panel px-4 py-3" aria-label="What the search found" data-testid="found">
      <p className="pb-2" role="status" data-testid="search-words">
        <span className="text-soft">Run {number}. </span>
        {problem !== undefined ? (
          <span className="text-buoy-deep">{problem}</span>
        ) : phase === "over" && best === null ? (
          "No place keeps within the bound."
        ) : phase === "over" && isFront ? (
          `${finalists.length} efficient places were found: no other is as good by all measures and better by one, by the means. `
        ) : isFront ? (
          phase === "selecting" ? (
            `What is left of the budget is shared by ${finalists.length} efficient places. `
          ) : (
            "Efficient places are being looked for. "
          )
        ) : phase === "over" ? (
          <>
            <b className="font-semibold">{points[best!].name}</b> is the best found
            {holds
              ? ", selected among the finalists with the chance that was asked for"
              : "; the budget did not last to promise it among the finalists"}
            .{" "}
          </>
        ) : phase === "selecting" ? (
          `The best of ${finalists.length} finalists is being selected. `
        ) : best === null ? (
          "The first places are being tried. "
        ) : (
          <>
            Best so far: <b className="font-semibold">{points[best].name}</b>.{" "}
          </>
        )}
        {formatNumber(points.length)} places, {formatNumber(spent)} of {formatNumber(budget)} replications.
        {phase !== "over" && problem === undefined && (
          <button
            type="button"
            className="button ml-3"
            onClick={() =>
              void (stopped ? api.continueSearch(id) : api.stopSearch(id)).then(onChange, (error: unknown) =>
                announce(error instanceof Error ? error.message : String(error), true),
              )
            }
          >
            {stopped ? (
              "Go on"
            ) : (
              <>
                <Square size={12} /> Stop
              </>
            )}
          </button>
        )}
        {phase === "over" && best !== null && (
          <button type="button" className="button ml-3" onClick={take}>
            {isFront ? "Make them scenarios" : "Make it a scenario"}
          </button>
        )}
      </p>
      {isFront && furthers.length > 0 && (
        <FrontChart
          places={places.map(({ point, i, interval, furthers: of }) => ({
            name: point.name,
            x: of[0]?.mean ?? Number.NaN,
            y: interval?.mean ?? Number.NaN,
            isEfficient: finalists.includes(i),
          }))}
          across={ofUnit(furthers[0].label, furthers[0].unit.symbol)}
          up={ofUnit(info?.label ?? measure, unit.symbol)}
        />
      )}
      {!isFront && line.length > 1 && (
        <figure aria-label="The path of the search">
          <figcaption className="text-xs text-soft">
            Best place after each round, by the mean of all its replications{unit.symbol && `, ${unit.symbol}`}
          </figcaption>
          <ResponsiveContainer height={130}>
            <LineChart data={line} margin={{ top: 6, right: 14, bottom: 0, left: 0 }} accessibilityLayer={false}>
              <CartesianGrid stroke="var(--color-line)" vertical={false} />
              <XAxis dataKey="round" tick={TICK} tickLine={false} stroke="var(--color-ink)" />
              <YAxis
                width={50}
                domain={["auto", "auto"]}
                tick={TICK}
                tickFormatter={(v: number) => formatNumber(v, 3)}
                tickLine={false}
                axisLine={false}
              />
              <Line dataKey="mean" stroke="var(--color-action)" strokeWidth={2} dot={false} isAnimationActive={false} />
            </LineChart>
          </ResponsiveContainer>
        </figure>
      )}
      <table className="mt-2 border-separate border-spacing-x-4 border-spacing-y-0.5" data-search={id}>
        <thead className="text-left text-xs text-soft [&_th]:font-normal">
          <tr>
            <th>Place</th>
            <th className="text-right">Replications</th>
            <th className="text-right">
              {info?.label ?? measure}
              {unit.symbol && `, ${unit.symbol}`}
            </th>
            {furthers.map(({ key, label, unit: { symbol } }) => (
              <th key={key} className="text-right">
                {ofUnit(label, symbol)}
              </th>
            ))}
            {isSum && <th className="text-right">{ofUnit("Weighted sum", unit.symbol)}</th>}
            {bounded !== null && (
              <th className="text-right">
                {boundInfo?.label ?? bounded}
                {boundUnit.symbol && `, ${boundUnit.symbol}`}
              </th>
            )}
            <th />
          </tr>
        </thead>
        <tbody>
          {order.slice(0, MOST_SHOWN).map(({ point, i, interval, limited, sum, furthers: of }) => (
            <tr key={point.id} className={i === best && !isFront ? "font-semibold" : ""}>
              <td>{point.name}</td>
              <td className="mono text-right">{point.finished}</td>
              <td className="mono text-right">{interval && figures(interval)}</td>
              {of.map((one, k) => (
                <td key={furthers[k].key} className="mono text-right">
                  {one && figures(one)}
                </td>
              ))}
              {isSum && <td className="mono text-right">{sum && figures(sum)}</td>}
              {bounded !== null && <td className="mono text-right">{limited && figures(limited)}</td>}
              <td className="text-soft">
                {isFront
                  ? finalists.includes(i)
                    ? "efficient"
                    : ""
                  : i === best
                    ? "best"
                    : finalists.includes(i)
                      ? "finalist"
                      : ""}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {order.length > MOST_SHOWN && (
        <p className="pt-1 text-soft">and {order.length - MOST_SHOWN} places that are worse; all are in Measure.</p>
      )}
      <p className="max-w-3xl pt-2 text-xs text-soft">
        Latin hypercube, then adaptive hyperboxes (Xu, Nelson and Hong 2013), then places anywhere;{" "}
        {isFront
          ? "around efficient places by turns, which share what is left of the budget."
          : "the finalists by replications of their own (Kim and Nelson 2001)."}{" "}
        It finds good places, and cannot promise the best of all. Means of different numbers of replications are not to
        be held against each other: the finalists have seen more.
      </p>
    </section>
  );
}

const figures = ({ mean, halfWidth }: { readonly mean: number; readonly halfWidth: number }): string =>
  Number.isFinite(halfWidth) ? `${formatNumber(mean)} ± ${formatNumber(halfWidth, 2)}` : formatNumber(mean);
