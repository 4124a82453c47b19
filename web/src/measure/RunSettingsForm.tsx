import { Checkbox } from "../ui/Checkbox.tsx";
import type { Problem, Study } from "@busy-harbor/core";
import { lazy, Suspense, useMemo, useState } from "react";
import { ChoiceRow, TextRow } from "../build/fields.tsx";
import { PlaceContext } from "../experiments/placeAtHand.ts";
import { useDesign, useStudy } from "../state/study.ts";
import { numberWithin, useKept } from "../ui/useKept.ts";
import { Estimate } from "./Estimate.tsx";
import { KeptList } from "./KeptList.tsx";
import { PeriodForm } from "./PeriodForm.tsx";
import { PrecisionForm } from "./PrecisionForm.tsx";

const WarmUpDialog = lazy(() => import("./WarmUpDialog.tsx"));

const RUN = ["run"];

/** Run settings of the study. Whole numbers keep what is typed until it can be read. */
export function RunSettingsForm({ study, problems }: { study: Study; problems: readonly Problem[] }) {
  const change = useStudy((s) => s.change);
  const { run } = study;
  const design = useDesign();
  const [settling, setSettling] = useState(false);
  const canRun = !problems.some(({ severity }) => severity === "error");
  return (
    <div data-testid="run-settings">
      <PlaceContext value={RUN}>
        <PeriodForm study={study} problems={problems} />
      </PlaceContext>
      <div className="pb-1 pl-[116px]">
        <button
          className="text-action underline-offset-2 hover:underline disabled:text-soft"
          disabled={!canRun}
          onClick={() => setSettling(true)}
        >
          See how it settles …
        </button>
      </div>
      {settling && design && (
        <Suspense>
          <WarmUpDialog study={study} designId={design.id} onClose={() => setSettling(false)} />
        </Suspense>
      )}
      <ChoiceRow
        name="kind"
        label="Type"
        help="A system that ends by itself is run again and again; one that goes on for ever may be run once, for long, and cut into batches. In antithetic pairs each replication is run again with 1 - u in place of every uniform draw u: where more of one makes more of the other, the mean of the two varies less. Intervals are over pairs."
        value={run.kind}
        choices={[
          ["terminating", "replications"],
          ["long", "one long run"],
          ["pairs", "antithetic pairs"],
        ]}
        problems={[]}
        onChange={(v) => change("Change type of run", (s) => void (s.run.kind = v), "run/kind")}
      />
      {!run.precision && (
        <NumberRow
          name="replications"
          label={{ terminating: "Replications", long: "Batches", pairs: "Pairs" }[run.kind]}
          value={run.replications}
          least={1}
          most={100_000}
          whole
          onChange={(n) => change("Change replications", (s) => void (s.run.replications = n), "run/replications")}
        />
      )}
      {(run.kind !== "long" || run.precision) && <PrecisionForm study={study} />}
      <NumberRow
        name="seed"
        label="Seed"
        value={run.seed}
        least={0}
        most={Number.MAX_SAFE_INTEGER}
        whole
        onChange={(n) => change("Change seed", (s) => void (s.run.seed = n), "run/seed")}
      />
      <NumberRow
        name="level"
        label="Level, %"
        value={Number((run.level * 100).toPrecision(12))}
        least={50}
        most={99.99}
        onChange={(n) => change("Change level", (s) => void (s.run.level = n / 100), "run/level")}
      />
      <Checkbox
        checked={run.observations ?? false}
        className="flex items-center gap-2 py-1 text-soft"
        title="Each entity that leaves after the warm-up is a row of a file, written while the run goes on: when and by which element, its type, its times and its attributes."
        onChange={(on) => change("Write observations", (s) => void (s.run.observations = on || undefined))}
      >
        Write each departure to a file
      </Checkbox>
      <KeptList study={study} />
      {canRun && design && <Estimate study={study} designId={design.id} />}
      <details className="pt-1">
        <summary className="py-1 text-soft">Limits</summary>
        <NumberRow
          name="mostEntities"
          label="Entities above"
          value={run.mostEntities}
          least={1}
          most={10_000_000}
          whole
          onChange={(n) => change("Change guard", (s) => void (s.run.mostEntities = n), "run/mostEntities")}
        />
        <NumberRow
          name="mostEvents"
          label="Events above"
          value={run.mostEvents}
          least={1}
          most={20_000_000_000}
          whole
          onChange={(n) => change("Change guard", (s) => void (s.run.mostEvents = n), "run/mostEvents")}
        />
      </details>
    </div>
  );
}

function NumberRow({
  name,
  label,
  value,
  least,
  most,
  whole = false,
  onChange,
}: {
  name: string;
  label: string;
  value: number;
  least: number;
  most: number;
  whole?: boolean;
  onChange: (value: number) => void;
}) {
  const schema = useMemo(() => numberWithin(least, most, whole), [least, most, whole]);
  const kept = useKept({ shown: String(value), schema, onChange });
  const problems: Problem[] = kept.problem
    ? [
        {
          code: "bad-number",
          severity: "error",
          path: ["run", name],
          message: kept.problem,
          hint: `${value} is used until then.`,
        },
      ]
    : [];
  return (
    <div onBlur={kept.onBlur}>
      <TextRow name={name} label={label} value={kept.text} problems={problems} onChange={kept.onChange} />
    </div>
  );
}
