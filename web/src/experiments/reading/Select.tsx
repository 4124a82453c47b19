import { formatNumber } from "@busy-harbor/core";
import { constantOf } from "@busy-harbor/core/experiments";
import type { Experiment, Selection } from "@busy-harbor/core/contract";
import { Square } from "lucide-react";
import { useState } from "react";
import { useRuns } from "../../state/runs.ts";
import { announce } from "../../ui/announce.ts";
import { ToggleGroup } from "../../ui/ToggleGroup.tsx";
import { isActive } from "../scenarioRuns.ts";
import { titleOf } from "../rows.ts";
import { Interval } from "./Interval.tsx";
import { useLatest } from "./useLatest.ts";
import type { ReadingProps } from "./ReadingProps.tsx";

/** Has the best scenario selected, by replications that are added where they are needed. */
export default function Select({ study, experiment, rows, responses, at }: ReadingProps) {
  const response = responses[at];
  const deciding = study.frame?.deciding.find(({ measure }) => measure === response.key);
  const [method, setMethod] = useState<Selection["method"]>("kim and nelson");
  const [chance, setChance] = useState(formatNumber(study.run.level * 100, 6));
  const [matters, setMatters] = useState(deciding?.matters ?? "");
  const [first, setFirst] = useState("10");
  const [most, setMost] = useState("1000");
  const [starting, setStarting] = useState(false);
  const [known] = useLatest(experiment.id, ({ selection }) => selection !== null);
  const amount = constantOf(matters);
  const p = Number(chance) / 100;
  const on = rows.filter(({ scenario }) => !scenario.off);
  const refusal =
    on.length < 2
      ? "Two scenarios at least are wanted."
      : !amount || !(amount.value > 0) || amount.dimension.join() !== response.info?.dimension.join()
        ? `The smallest difference that matters is wanted${response.unit.symbol ? `, such as 1 ${response.unit.symbol}` : ""}.`
        : !(p >= 0.5 && p <= 0.9999)
          ? "The chance is wanted as a percentage from 50 to 99.99."
          : !isWhole(first, 5, 1000)
            ? "The first stage has from 5 to 1000 replications."
            : !isWhole(most, Math.max(10, Number(first)), 100_000)
              ? "At most: a whole number from the first stage to 100,000."
              : undefined;
  const start = async () => {
    if (refusal !== undefined || !amount) return;
    setStarting(true);
    const selection: Selection = {
      method,
      measure: response.key,
      better: response.better,
      p,
      indifference: amount.value,
      firstStage: Number(first),
      most: Number(most),
    };
    const ids = on.map(({ scenario }) => scenario.id);
    if (!(await useRuns.getState().startScenarios(experiment.id, ids, selection)))
      announce(useRuns.getState().refusal?.message ?? "The selection could not be started.", true);
    setStarting(false);
  };
  const field = (label: string, value: string, change: (text: string) => void, after?: string) => (
    <label className="flex items-center gap-2">
      <span className="text-soft">{label}</span>
      <input
        className="field mono w-24!"
        value={value}
        spellCheck={false}
        autoComplete="off"
        onChange={({ target }) => change(target.value)}
      />
      {after && <span className="text-soft">{after}</span>}
    </label>
  );
  return (
    <div data-testid="select-best">
      <form
        className="panel mb-3 px-4 py-3"
        onSubmit={(event) => {
          event.preventDefault();
          void start();
        }}
      >
        <p className="pb-2">
          Select the best of {on.length} scenarios by <b className="font-semibold">{titleOf(response)}</b> (
          {response.better} is better), with replications only where they are needed.
        </p>
        <div className="flex flex-wrap items-center gap-x-5 gap-y-2">
          <ToggleGroup
            label="Method"
            value={method}
            options={[
              ["kim and nelson", "Step by step (Kim and Nelson)"],
              ["rinott", "Two stages (Rinott)"],
            ]}
            onChange={setMethod}
          />
          {field("Right with a chance of", chance, setChance, "%")}
          {field("if it is better by", matters, setMatters)}
          {field("First stage", first, setFirst)}
          {field("At most", most, setMost)}
          <button className="button button-main" disabled={refusal !== undefined || starting}>
            Select the best
          </button>
        </div>
        {refusal !== undefined && <p className="pt-2 text-soft">{refusal}</p>}
        {method === "rinott" && experiment.random === "common" && (
          <p className="pt-2 text-soft">
            Rinott&apos;s promise is for independent random numbers; choose them above, or go step by step.
          </p>
        )}
      </form>
      {known?.selection && <Progress known={known} rows={rows} responses={responses} />}
    </div>
  );
}

const isWhole = (text: string, least: number, most: number): boolean =>
  /^\d+$/.test(text.trim()) && Number(text) >= least && Number(text) <= most;

function Progress({
  known: { number, points, selection, selectionState },
  rows,
  responses,
}: Pick<ReadingProps, "rows" | "responses"> & { readonly known: Experiment }) {
  if (!selection || !selectionState) return null;
  const { wanted, inPlay, selected, holds, problem } = selectionState;
  const at = responses.findIndex(({ key }) => key === selection.measure);
  const response = responses[at];
  const going = points.some(isActive);
  const stopped = points.filter(({ state }) => state === "cancelled");
  const { unit } = response ?? { unit: { symbol: "", factor: 1 } };
  const total = points.reduce((sum, { finished }) => sum + finished, 0);
  const ofRow = (scenario: string) => rows.find((row) => row.scenario.id === scenario);
  const shown = points.map((point, i) => {
    const row = ofRow(point.scenario);
    const isShown = row?.of?.run.id === point.id && at >= 0;
    return { point, i, interval: isShown ? row.intervals[at] : undefined, name: row?.name ?? point.name };
  });
  const ends = shown.flatMap(({ interval }) =>
    interval && Number.isFinite(interval.halfWidth)
      ? [interval.mean - interval.halfWidth, interval.mean + interval.halfWidth]
      : [],
  );
  const axis = [Math.min(...ends), Math.max(...ends)] as const;
  const matters = `${formatNumber(selection.indifference / unit.factor)}${unit.symbol ? ` ${unit.symbol}` : ""}`;
  const percent = `${formatNumber(selection.p * 100, 4)} %`;
  return (
    <section className="panel px-4 py-3" aria-label="Selection" data-testid="selection">
      <p className="pb-2" role="status" data-testid="selection-words">
        <span className="text-soft">Run {number}. </span>
        {problem !== undefined ? (
          <span className="text-buoy-deep">{problem}</span>
        ) : selected !== null && holds ? (
          <>
            <b className="font-semibold">{shown[selected].name}</b> is selected: it is the best with a chance of{" "}
            {percent} at least, if it is better than the others by {matters} or more; {formatNumber(total)} replications
            in all.
          </>
        ) : selected !== null ? (
          <>
            <b className="font-semibold">{shown[selected].name}</b> has the best mean, but {selection.most} replications
            were not enough to promise it with a chance of {percent}.
          </>
        ) : going ? (
          <>
            {inPlay.filter(Boolean).length} of {points.length} are still in play, after {formatNumber(total)}{" "}
            replications.
          </>
        ) : (
          "It was stopped before the best was known."
        )}
        {selected === null && stopped.length > 0 && (
          <button
            className="button ml-3"
            onClick={() =>
              void useRuns
                .getState()
                .goOn(stopped.map(({ id, settings }) => ({ id, replications: settings.replications })))
            }
          >
            Go on
          </button>
        )}
        {going && (
          <button
            className="button ml-3"
            onClick={() => points.filter(isActive).forEach(({ id }) => void useRuns.getState().cancel(id))}
          >
            <Square size={12} /> Stop
          </button>
        )}
      </p>
      <table className="border-separate border-spacing-x-4 border-spacing-y-0.5">
        <thead className="text-left text-xs text-soft [&_th]:font-normal">
          <tr>
            <th>Scenario</th>
            <th className="text-right">Replications</th>
            <th className="text-right">Mean{unit.symbol && `, ${unit.symbol}`}</th>
            <th>Interval of the mean</th>
            <th>Selection</th>
          </tr>
        </thead>
        <tbody>
          {shown.map(({ point, i, interval, name }) => (
            <tr key={point.id} className={inPlay[i] ? "" : "text-soft"}>
              <td className={i === selected ? "font-semibold" : ""}>{name}</td>
              <td className="mono text-right">
                {point.finished}
                {wanted[i] > point.finished && ` of ${wanted[i]}`}
              </td>
              <td className="mono text-right">{interval && formatNumber(interval.mean)}</td>
              <td>
                <Interval interval={interval} axis={axis} marked={i === selected} width={200} />
              </td>
              <td>{i === selected ? "selected" : inPlay[i] ? "in play" : "out"}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="max-w-3xl pt-2 text-xs text-soft">
        {selection.method === "kim and nelson"
          ? `Fully sequential selection (Kim and Nelson 2001), which holds under common random numbers: after ${selection.firstStage} replications of each, a scenario is put out once it is told to be worse.`
          : `Two-stage selection (Rinott 1978) of independent scenarios: after ${selection.firstStage} replications of each, one gets the more the more it varies.`}{" "}
        Both assume near-normal observations.
      </p>
    </section>
  );
}
