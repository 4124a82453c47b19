import type { Problem, Study } from "@busy-harbor/core";
import { useId } from "react";
import { ChoiceRow, KeptInput, TextRow } from "../build/fields.tsx";
import { readTime } from "../ui/readTime.ts";
import { useStudy } from "../state/study.ts";
import { DateField } from "../ui/DateField.tsx";
import { TimeField } from "../ui/TimeField.tsx";

/** The operating period: from when, for how long, by which hours, and what of it is left out at the beginning. */
export function PeriodForm({ study, problems }: { study: Study; problems: readonly Problem[] }) {
  const change = useStudy((s) => s.change);
  const { run } = study;
  const of = (field: string) => problems.filter((p) => p.path[0] === "run" && p.field === field);
  const set = (field: "length" | "warmUp" | "count" | "condition", label: string) => (value: string) =>
    change(`Change ${label}`, (s) => void (s.run[field] = value), `run/${field}`);
  const { ends } = run;
  const bounded = ends === "count" || ends === "condition";
  return (
    <>
      <DateRow
        label="Start"
        value={run.start}
        problems={of("start")}
        onChange={(v) => change("Change start of run", (s) => void (s.run.start = v), "run/start")}
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
    </>
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
