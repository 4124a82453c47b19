import { displayUnit, formatNumber, type Interval, intervalOf, type MeasureInfo, type Study } from "@busy-harbor/core";
import { STATISTICS_OF_A_MEASURE } from "@busy-harbor/core/contract";
import type { RunFigures } from "../state/runs.ts";

/** A measure of a run with its interval, in display units. */
export interface Reading {
  readonly measure: MeasureInfo;
  /** The measure's position in the run. */
  readonly index: number;
  readonly interval: Interval;
  readonly unit: string;
  /** What a value in SI units is divided by to be shown. */
  readonly factor: number;
  /** Sums of squared deviations from the mean, and of squared differences of neighbours. */
  readonly squares: number;
  readonly differences: number;
}

export function readingsOf({ measures, statistics }: RunFigures, units: Study["units"], level: number): Reading[] {
  if (statistics.length === 0) return [];
  return measures.map((measure, index) => {
    const { factor, symbol } = displayUnit(measure.dimension, units);
    const [n, mean, squares, min, max, errors, differences] = statistics.subarray(
      index * STATISTICS_OF_A_MEASURE,
      (index + 1) * STATISTICS_OF_A_MEASURE,
    );
    const interval = intervalOf(
      {
        n,
        mean: mean / factor,
        squares: squares / factor ** 2,
        min: min / factor,
        max: max / factor,
        errors: errors / factor,
      },
      level,
    );
    return { measure, index, interval, unit: symbol, factor, squares, differences };
  });
}

/** Mean and half-width as text: "4.62 ± 0.31"; a single value stands alone. */
export function meanText({ mean, halfWidth }: Interval): { mean: string; halfWidth: string } {
  return { mean: formatNumber(mean), halfWidth: Number.isFinite(halfWidth) ? formatNumber(halfWidth, 2) : "" };
}

/** What a measure means, for its tooltip; docs/measures.md has the formulas. */
export function definition(id: string): string {
  const exact = DEFINITIONS[id];
  if (exact) return exact;
  const base = DEFINITIONS[id.replace(/\.(mean|max|end|p\d+)$/, "")] ?? "";
  if (id.endsWith(".max")) return `${base} The largest value.`.trim();
  if (id.endsWith(".end")) return `${base} The value when the run ends.`.trim();
  if (/^range\.\d+$/.test(id)) return "Time in which the value lies in the range, divided by the measured time.";
  const quantile = /\.p(\d+)$/.exec(id);
  if (quantile)
    return `${base} The smallest value that ${quantile[1]} % stay at or below: exact up to 4096 observations above 0 in a replication, beyond that off by at most 0.8 %, which the half-width holds.`.trim();
  return base;
}

const DEFINITIONS: Readonly<Record<string, string>> = {
  created: "Entities that arrived after the warm-up.",
  departed: "Entities that left by a departure after the warm-up.",
  lost: "Entities that left unserved for want of room.",
  "lost.share":
    "Lost, divided by all that came; of an entity type, by all that ended: departed, lost, or ended in a join or a cut.",
  balked: "Entities that would have had to wait and did not join the line.",
  "balked.share": "Those who did not join, divided by all that came.",
  came: "Entities that came, whether they were let in and joined or not.",
  takenAway: "Claims that lost what they held to work of higher priority, and waited for it again.",
  stood:
    "Part of the time in system in which work on the entity stood still, off shift or down, mean over departed entities.",
  gaveUp: "Entities that left the line when their patience ended.",
  "gaveUp.share": "Those who gave up, divided by those whose wait has ended, zero waits included.",
  inSystem: "Entities in the system: integral over time divided by the measured time.",
  timeInSystem: "From arrival to departure, over entities that departed after the warm-up.",
  waiting: "Part of the time in system spent in lines, mean over departed entities.",
  worked:
    "Part of the time in system spent being worked on, but for time in which the work stood still, mean over departed entities.",
  moving: "Part of the time in system spent on links, mean over departed entities.",
  dwelling: "Part of the time in system spent in dwells, mean over departed entities.",
  blocked: "Part of the time in system spent with work done but no room ahead, mean over departed entities.",
  utilization: "Ratio of averages: time at work divided by time on shift, over all slots or units.",
  "utilization.average":
    "Average of ratios: at work over available (on shift and not down) at each moment, averaged over the time in which any is available. Equal to the ratio of averages while that number does not change.",
  "state.settingUp": "Share of slot time in which a slot is set up or torn down.",
  "state.needing": "Share of slot time in which work cannot begin or go on for want of a resource.",
  "state.down": "Share of slot time broken down or under repair, while on shift.",
  "state.offShift": "Share of slot time off shift, by the calendar and the rule for work in progress.",
  length: "From the start to what ended the replication.",
  mean: "Integral over time divided by the measured time.",
  share: "Time in which the condition holds, divided by the measured time.",
  setups: "Setups begun.",
  reworked: "Times that work was done again.",
  breakdowns: "Breakdowns.",
  scrapped: "Entities whose work a breakdown spoiled.",
  cost: "Time at work and time on shift by their cost rates, and the cost of each entity finished.",
  "cost.each": "The cost divided by the entities finished.",
  taken: "Claims that were met.",
  joins: "Joins made.",
  split: "Entities that came to be split.",
  parts: "Entities set free, copied or cut off.",
  consumed: "Entities that became part of another for good, were cut into pieces, or had only held others.",
  held: "Part of the time in system spent inside another entity, mean over departed entities.",
  "state.busy": "Share of slot time in which entities are worked on.",
  "state.blocked": "Share of slot time in which a finished entity cannot leave for want of room.",
  "state.idle": "Share of slot time in which nothing is in the slot, or only an entity on its way to it.",
  line: "Entities in line: integral over time divided by the measured time.",
  wait: "Wait in line, over all entities that left the line, those who gave up and zero waits included.",
  "waited.mean": "Mean wait over those who waited at all.",
  "waited.p95": "The wait that 95 % of those who waited at all stay at or below.",
  done: "Entities whose work was finished.",
  left: "Entities that left.",
  throughput: "Number per measured time.",
  outside: "Arrived entities that find no room at the first place and wait outside.",
  inside: "Entities staying: integral over time divided by the measured time.",
  stay: "Length of stay.",
  passed: "Entities that set out on the link.",
  underWay: "Entities on the link: integral over time divided by the measured time.",
};
