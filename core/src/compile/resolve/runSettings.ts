import { RUN_SETTINGS } from "../../document/runSettings.ts";
import type { StudyOf } from "../../document/study.ts";
import type { Checked } from "../../expression/index.ts";
import type { Model } from "../../model/model.ts";
import { expressionsIn } from "../../settings/settingsOf.ts";
import { isMoment, secondsOfMoment } from "../../timetable/index.ts";
import type { Days } from "./calendars.ts";
import { checkField } from "./field.ts";
import type { Problems } from "./problems.ts";
import { readsTime } from "./readsTime.ts";
import type { Scopes } from "./scopes.ts";

/** How long a replication is, what may end it, and from when on it is measured. */
export function readRun(
  { run }: StudyOf,
  { days }: Days,
  scopes: Scopes,
  problems: Problems,
): Pick<Model, "length" | "warmUp" | "stop"> {
  const read = new Map<string, Checked>();
  for (const setting of expressionsIn(RUN_SETTINGS)) {
    if (setting.used?.(run) === false) continue;
    const text = String(run[setting.name as keyof typeof RUN_SETTINGS]);
    const checked = checkField(text, setting, scopes, problems, ["run", setting.name], undefined);
    if (checked) read.set(setting.name, checked);
  }
  const warmUp = read.get("warmUp")?.constant ?? 0;
  const condition = read.get("condition");
  if (condition && readsTime(condition))
    problems.add(
      "condition-of-time",
      ["run", "condition"],
      { field: "condition" },
      "The condition that ends a run does not watch the clock: it is looked at when something else changes.",
      "Give the run a length, or end it at a date.",
    );
  const length = run.ends === "date" ? untilDate(run, days, problems) : (read.get("length")?.constant ?? 0);
  if (run.kind === "long" && (run.ends === "count" || run.ends === "condition")) {
    problems.add(
      "long-run-end",
      ["run", "ends"],
      { field: "ends" },
      "A long run is cut into batches of equal length, so it must be known beforehand when it ends.",
      "End it after a time or at a date.",
    );
  }
  if (length > 0 && warmUp >= length) {
    problems.add(
      "warm-up-too-long",
      ["run", "warmUp"],
      { field: "warmUp" },
      "The warm-up is not shorter than the run.",
      "Shorten the warm-up or lengthen the run.",
    );
  }
  return { length, warmUp, stop: { count: read.get("count")?.constant, condition } };
}

/** Running time from the start to the date at which a run ends, in seconds. */
function untilDate({ start, endDate }: StudyOf["run"], days: Days["days"], problems: Problems): number {
  const length =
    isMoment(endDate) && isMoment(start) ? days.runningTime(secondsOfMoment(endDate) - secondsOfMoment(start)) : 0;
  if (!(length > 0))
    problems.add(
      "bad-end",
      ["run", "endDate"],
      { field: "endDate" },
      endDate === ""
        ? "Nothing says at which date a run ends."
        : "The run ends before it starts, or on a day that does not exist.",
      "Choose a date and time after the start.",
    );
  return length;
}
