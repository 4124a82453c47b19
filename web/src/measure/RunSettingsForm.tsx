import type { Problem, Study } from "@busy-harbor/core";
import { useState } from "react";
import { TextRow } from "../build/fields.tsx";
import { useStudy } from "../state/study.ts";

/** Run settings of the study. Whole numbers keep what is typed until it can be read. */
export function RunSettingsForm({ study, problems }: { study: Study; problems: readonly Problem[] }) {
  const change = useStudy((s) => s.change);
  const { run } = study;
  const of = (field: string) => problems.filter((p) => p.path[0] === "run" && p.field === field);
  const set = (field: "length" | "warmUp" | "start", label: string) => (value: string) => change(`Change ${label}`, (s) => void (s.run[field] = value), `run/${field}`);
  return (
    <div data-testid="run-settings">
      <TextRow name="length" label="Length" value={run.length} problems={of("length")} onChange={set("length", "length of run")} />
      <TextRow name="warmUp" label="Warm-up" value={run.warmUp} problems={of("warmUp")} onChange={set("warmUp", "warm-up")} />
      <NumberRow name="replications" label="Replications" value={run.replications} least={1} most={100_000} whole onChange={(n) => change("Change replications", (s) => void (s.run.replications = n), "run/replications")} />
      <NumberRow name="seed" label="Seed" value={run.seed} least={0} most={Number.MAX_SAFE_INTEGER} whole onChange={(n) => change("Change seed", (s) => void (s.run.seed = n), "run/seed")} />
      <NumberRow name="level" label="Level, %" value={Number((run.level * 100).toPrecision(12))} least={50} most={99.99} onChange={(n) => change("Change level", (s) => void (s.run.level = n / 100), "run/level")} />
    </div>
  );
}

function NumberRow({ name, label, value, least, most, whole = false, onChange }: { name: string; label: string; value: number; least: number; most: number; whole?: boolean; onChange: (value: number) => void }) {
  const [typed, setTyped] = useState<string>();
  const text = typed ?? String(value);
  const number = Number(text);
  const good = text.trim() !== "" && Number.isFinite(number) && number >= least && number <= most && (!whole || Number.isInteger(number));
  const problem: Problem = { code: "bad-number", severity: "error", path: ["run", name], message: `${whole ? "A whole number" : "A number"} from ${least} to ${most} is wanted.`, hint: `${value} is used until then.` };
  return (
    <TextRow
      name={name}
      label={label}
      value={text}
      problems={good ? [] : [problem]}
      onChange={(next) => {
        setTyped(next);
        const n = Number(next);
        if (next.trim() !== "" && Number.isFinite(n) && n >= least && n <= most && (!whole || Number.isInteger(n))) {
          onChange(n);
          if (String(n) === next) setTyped(undefined);
        }
      }}
    />
  );
}
