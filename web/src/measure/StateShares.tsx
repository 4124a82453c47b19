import { UNIT_KEYS, UNIT_WORDS } from "@busy-harbor/core";
import { useState } from "react";
import { STATE_FILLS, StatePatterns } from "../charts/statePatterns.tsx";
import { StateMark } from "../watch/StateMark.tsx";
import { STATE_ORDER } from "../watch/states.ts";
import { groupBy } from "../groupBy.ts";
import type { Reading } from "./readings.ts";

const WIDTH = 260;
/** Elements drawn at first: of a thousand nobody reads all. */
const MOST_AT_FIRST = 25;

/**
 * Shares of time in every state, one bar an element: mean over the replications, with the half-width on the numbers.
 */
export function StateShares({ readings }: { readings: readonly Reading[] }) {
  const [all, setAll] = useState(false);
  const of = [
    ...groupBy(
      readings.filter((r) => r.measure.measure === "state"),
      (r) => r.measure.ownerId,
    ),
  ];
  if (of.length === 0) return null;
  const shares = of.map(([id, list]) => ({
    id,
    name: list[0].measure.owner,
    byState: UNIT_KEYS.map((key) => list.find((r) => r.measure.part === key)?.interval),
  }));
  // Of many, those that stand idle least are what one looks for.
  const isCut = !all && shares.length > MOST_AT_FIRST;
  const idle = ({ byState }: (typeof shares)[number]) => byState[0]?.mean ?? 1;
  const shown = isCut ? [...shares].sort((a, b) => idle(a) - idle(b)).slice(0, MOST_AT_FIRST) : shares;
  // A state that nothing is ever in has no column.
  const columns = STATE_ORDER.filter((state) => shares.some(({ byState }) => (byState[state]?.mean ?? 0) > 0));
  return (
    <section aria-label="Shares of time" className="pb-5">
      <h2 className="pb-1 font-semibold">What stations and resources did, in % of the time</h2>
      <svg width={0} height={0} className="absolute" aria-hidden>
        <StatePatterns />
      </svg>
      <table className="border-separate border-spacing-x-3 border-spacing-y-0.5">
        <thead className="text-xs text-soft">
          <tr>
            <th className="text-left font-normal">Element</th>
            <th className="text-left font-normal" style={{ width: WIDTH }}>
              <span className="flex justify-between tabular-nums">
                <span>0</span>
                <span>50</span>
                <span>100 %</span>
              </span>
            </th>
            {columns.map((state) => (
              <th key={state} className="text-right font-normal whitespace-nowrap">
                <StateMark state={state} /> {UNIT_WORDS[state]}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {shown.map(({ id, name, byState }) => {
            let at = 0;
            return (
              <tr key={id}>
                <td className="max-w-40 truncate">{name}</td>
                <td>
                  <svg
                    width={WIDTH}
                    height={15}
                    role="img"
                    aria-label={columns
                      .filter((s) => (byState[s]?.mean ?? 0) > 0)
                      .map((s) => `${UNIT_WORDS[s]} ${percent(byState[s]!.mean)} %`)
                      .join(", ")}
                  >
                    {columns.map((state) => {
                      const share = byState[state]?.mean ?? 0;
                      const from = at;
                      at += share;
                      return (
                        <rect
                          key={state}
                          x={from * WIDTH}
                          y={0.5}
                          width={Math.max(0, share * WIDTH)}
                          height={14}
                          fill={STATE_FILLS[state]}
                          stroke="var(--color-ink)"
                          strokeWidth={share > 0 ? 0.5 : 0}
                        />
                      );
                    })}
                  </svg>
                </td>
                {columns.map((state) => {
                  const interval = byState[state];
                  return (
                    <td key={state} className="text-right tabular-nums">
                      {interval ? (
                        <>
                          {percent(interval.mean)}
                          {Number.isFinite(interval.halfWidth) && interval.halfWidth > 0 && (
                            <span className="text-xs text-soft"> ± {percent(interval.halfWidth)}</span>
                          )}
                        </>
                      ) : (
                        ""
                      )}
                    </td>
                  );
                })}
              </tr>
            );
          })}
        </tbody>
      </table>
      {isCut && (
        <p className="pt-1 text-soft">
          The {MOST_AT_FIRST} that stand idle least, of {shares.length}.{" "}
          <button className="text-action underline-offset-2 hover:underline" onClick={() => setAll(true)}>
            Show all
          </button>
        </p>
      )}
    </section>
  );
}

const percent = (share: number): string => (share * 100).toFixed(1);
