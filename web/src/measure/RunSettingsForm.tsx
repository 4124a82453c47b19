import { Checkbox } from "../ui/Checkbox.tsx";
import type { Problem, Study } from "@busy-harbor/core";
import { useId, useMemo } from "react";
import { ChoiceRow, KeptInput, TextRow } from "../build/fields.tsx";
import { readTime } from "../ui/readTime.ts";
import { useStudy } from "../state/study.ts";
import { DateField } from "../ui/DateField.tsx";
import { TimeField } from "../ui/TimeField.tsx";
import { numberWithin, useKept } from "../ui/useKept.ts";

/** Run settings of the study. Whole numbers keep what is typed until it can be read. */
export function RunSettingsForm({ study, problems }: { study: Study; problems: readonly Problem[] }) {
  const change = useStudy((s) => s.change);
  const { run } = study;
  const of = (field: string) => problems.filter((p) => p.path[0] === "run" && p.field === field);
  const set = (field: "length" | "warmUp" | "count" | "condition", label: string) => (value: string) =>
    change(`Change ${label}`, (s) => void (s.run[field] = value), `run/${field}`);
  const { ends } = run;
  const bounded = ends === "count" || ends === "condition";
  return (
    <div data-testid="run-settings">
      <DateRow
        label="Start"
        value={run.start}
        problems={of("start")}
        onChange={(v) => change("Change start of run", (s) => void (s.run.start = v), "run/start")}
      />
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
      <ChoiceRow
        name="nights"
        label="Nights"
        value={run.nights}
        choices={[
          ["simulated", "simulated"],
          ["skipped", "skipped"],
        ]}
        problems={[]}
        onChange={(v) => change("Change nights", (s) => void (s.run.nights = v), "run/nights")}
      />
      {run.nights === "skipped" && (
        <>
          <TimeRow
            label="Opens"
            value={run.opens}
            problems={of("opens")}
            onChange={(v) => change("Change operating hours", (s) => void (s.run.opens = v), "run/opens")}
          />
          <TimeRow
            label="Closes"
            value={run.closes}
            problems={of("closes")}
            onChange={(v) => change("Change operating hours", (s) => void (s.run.closes = v), "run/closes")}
          />
          <p className="pb-1 pl-[116px] text-xs text-soft">Lengths are hours of operation.</p>
        </>
      )}
      <ChoiceRow
        name="ends"
        label="Ends"
        value={ends}
        choices={[
          ["time", "after a time"],
          ["date", "at a date"],
          ["count", "after departures"],
          ["condition", "on a condition"],
        ]}
        problems={of("ends")}
        onChange={(v) => change("Change what ends a run", (s) => void (s.run.ends = v), "run/ends")}
      />
      {ends === "date" && (
        <DateRow
          label="End"
          value={run.endDate}
          problems={of("endDate")}
          onChange={(v) => change("Change end of run", (s) => void (s.run.endDate = v), "run/endDate")}
        />
      )}
      {ends === "count" && (
        <TextRow
          name="count"
          label="Departures"
          value={run.count}
          problems={of("count")}
          onChange={set("count", "departures")}
        />
      )}
      {ends === "condition" && (
        <TextRow
          name="condition"
          label="When"
          expression={{}}
          placeholder="Dock.done >= 100"
          help="Looked at when what it reads changes."
          value={run.condition}
          problems={of("condition")}
          onChange={set("condition", "condition")}
        />
      )}
      {ends !== "date" && (
        <TextRow
          name="length"
          label={bounded ? "At the latest" : "Length"}
          expression={{}}
          value={run.length}
          problems={of("length")}
          onChange={set("length", "length of run")}
        />
      )}
      <TextRow
        name="warmUp"
        label="Warm-up"
        expression={{}}
        value={run.warmUp}
        problems={of("warmUp")}
        onChange={set("warmUp", "warm-up")}
      />
      <NumberRow
        name="replications"
        label={{ terminating: "Replications", long: "Batches", pairs: "Pairs" }[run.kind]}
        value={run.replications}
        least={1}
        most={100_000}
        whole
        onChange={(n) => change("Change replications", (s) => void (s.run.replications = n), "run/replications")}
      />
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

interface SettingProps {
  readonly label: string;
  readonly value: string;
  readonly problems: readonly Problem[];
  readonly onChange: (value: string) => void;
}

const Problems = ({ of }: { of: readonly Problem[] }) =>
  of.map((p) => (
    <p key={p.message} className="pt-1 text-xs text-buoy-deep">
      {p.message} <span className="text-ink">{p.hint}</span>
    </p>
  ));

/** A time of day, taken over once it is typed. */
function TimeRow({ label, value, problems, onChange }: SettingProps) {
  const id = useId();
  return (
    <div className="grid grid-cols-[104px_1fr] gap-x-3 py-1" data-field={label.toLowerCase()}>
      <label htmlFor={id} className="pt-1 text-soft">
        {label}
      </label>
      <div className="min-w-0">
        <KeptInput
          id={id}
          label={label}
          shown={value}
          read={readTime}
          wanted="A time of day such as 06:30."
          className="w-full"
          when="leaving"
          onChange={onChange}
        />
        <Problems of={problems} />
      </div>
    </div>
  );
}

/** A calendar date and time, as the run settings keep it. */
function DateRow({ label, value, problems, onChange }: SettingProps) {
  const id = useId();
  return (
    <div className="py-1" data-field={label}>
      <label htmlFor={id} className="block pb-0.5 text-soft">
        {label}
      </label>
      <div className="min-w-0">
        <span className="flex gap-2">
          <DateField
            id={id}
            label={label}
            className="min-w-0 grow"
            value={value.slice(0, 10)}
            invalid={problems.length > 0}
            onChange={(date) => onChange(`${date}T${value.slice(11, 16) || "00:00"}`)}
          />
          <TimeField
            label={`${label}, time of day`}
            value={value.slice(11, 16)}
            onChange={(time) => onChange(`${value.slice(0, 10)}T${time}`)}
          />
        </span>
        <Problems of={problems} />
      </div>
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
