import { formatNumber, meanInterval } from "@busy-harbor/core";
import { subsetOfBest } from "@busy-harbor/core/inference";
import { useMemo, useState } from "react";
import { type Box, BoxPlot } from "../../charts/BoxPlot.tsx";
import { ToggleGroup } from "../../ui/ToggleGroup.tsx";
import { titleOf } from "../rows.ts";
import { quartiles } from "./quartiles.ts";
import { type ReadingProps, TooFew } from "./ReadingProps.tsx";

/** Each scenario's replications as a box of quartiles with a dot each, or as the interval of their mean. */
export default function Boxes({ study, found }: ReadingProps) {
  const [as, setAs] = useState<"boxes" | "intervals">("boxes");
  const { level } = study.run;
  const boxes = useMemo(() => {
    if (!found) return [];
    const { rows, groups, response, isPaired } = found;
    const subset =
      rows.length > 1 && groups[0].length > 2 ? subsetOfBest(groups, level, response.better, isPaired) : [];
    return groups.map((values, i): Box => {
      const { mean, halfWidth } = meanInterval(values, level);
      const { first, median, third, whiskers } = quartiles(values);
      const half = Number.isFinite(halfWidth) ? halfWidth : 0;
      const range = [Math.min(...values, mean - half), Math.max(...values, mean + half)] as const;
      const { name } = rows[i];
      return { name, range, values, first, median, third, whiskers, mean, halfWidth: half, mayBeBest: !!subset[i] };
    });
  }, [found, level]);
  if (!found || boxes.length === 0) return <TooFew />;
  const { response } = found;
  const target = response.target === undefined ? undefined : response.target / response.unit.factor;
  return (
    <figure className="panel px-4 py-3" aria-label={`${titleOf(response)} by scenario`} data-testid="boxes">
      <figcaption className="flex flex-wrap items-center justify-between gap-3 pb-2">
        <span>
          <b className="font-semibold">{titleOf(response)}</b>
          <span className="text-soft">
            {response.unit.symbol && `, ${response.unit.symbol}`}
            {as === "boxes"
              ? "; one dot a replication, box of quartiles, line at the median, whiskers to 1.5 times the box"
              : `; mean with its interval at ${formatNumber(level * 100)} %`}
          </span>
        </span>
        <ToggleGroup
          label="Drawn as"
          value={as}
          options={[
            ["boxes", "Boxes"],
            ["intervals", "Intervals"],
          ]}
          onChange={setAs}
        />
      </figcaption>
      <BoxPlot boxes={boxes} as={as} target={target} />
      <p className="pt-1 text-xs text-soft">
        {boxes[0].values.length} replications each. Filled: may be the best at {formatNumber(level * 100)} %.
        {target !== undefined && " Dotted: the target."}
      </p>
      <table className="sr-only">
        <caption>{titleOf(response)} by scenario</caption>
        <thead>
          <tr>
            <th>Scenario</th>
            <th>Mean</th>
            <th>Lower quartile</th>
            <th>Median</th>
            <th>Upper quartile</th>
          </tr>
        </thead>
        <tbody>
          {boxes.map((box) => (
            <tr key={box.name}>
              <td>{box.name}</td>
              <td>{formatNumber(box.mean)}</td>
              <td>{formatNumber(box.first)}</td>
              <td>{formatNumber(box.median)}</td>
              <td>{formatNumber(box.third)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </figure>
  );
}
