import type { ExperimentPlan, Study } from "@busy-harbor/core";
import type { ToldFactor } from "../columns.tsx";
import type { Comparable } from "../comparable.ts";
import type { Response, ScenarioRow } from "../rows.ts";

/** What every way of reading is given. */
export interface ReadingProps {
  readonly study: Study;
  readonly experiment: ExperimentPlan;
  readonly rows: readonly ScenarioRow[];
  readonly responses: readonly Response[];
  readonly factors: readonly ToldFactor[];
  /** Which response. */
  readonly at: number;
  /** The rows that can be held against each other by it. */
  readonly found: Comparable | undefined;
}

/** Said where too little has been run to compare. */
export const TooFew = () => (
  <p className="text-soft">
    Two scenarios with two replications each, by this response, are the least that can be compared.
  </p>
);
