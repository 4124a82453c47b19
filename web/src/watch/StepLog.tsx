import {
  type Design,
  everyStep,
  formatClock,
  formatNumber,
  type LogLine,
  type Model,
  type ReachedStep,
  ruleTitle,
  type StepBase,
  stepText,
  valueText,
} from "@busy-harbor/core";
import { Link } from "react-router";
import { useStudy } from "../state/study.ts";

interface Props {
  readonly log: readonly LogLine[];
  readonly reached: ReachedStep | undefined;
  readonly design: Design;
  readonly model: Model;
}

/** What steps tell while watching: where they have stopped it, with what is called by names there, and their log. */
export function StepLog({ log, reached, design, model }: Props) {
  const studyId = useStudy((s) => s.id);
  if (log.length === 0 && !reached) return null;
  const owner =
    design.rules?.find(({ id }) => id === reached?.owner) ?? design.procedures?.find(({ id }) => id === reached?.owner);
  const step = [...everyStep(owner?.steps ?? [])].find(({ id }) => id === reached?.step);
  return (
    <section aria-label="Steps" className="panel float max-h-96 overflow-y-auto px-4 py-3">
      {reached && owner && step && (
        <div className="mb-2 rounded-md border-l-4 border-buoy bg-water px-3 py-2" data-testid="reached">
          <p className="text-xs text-soft">
            Stopped at a step of{" "}
            <Link className="text-action" to={`/study/${studyId}/build/procedures?at=${owner.id}`}>
              {"event" in owner ? ruleTitle(owner, design) : owner.name}
            </Link>
            {reached.entity > 0 ? `, for entity ${reached.entity}` : ""}
          </p>
          <ol className="my-1 max-h-40 overflow-y-auto" aria-label="Its steps">
            {linesOf(owner.steps).map(({ step: one, level }) => (
              <li
                key={one.id}
                ref={one.id === step.id ? showIt : undefined}
                aria-current={one.id === step.id ? "step" : undefined}
                className={`rounded px-1 ${one.id === step.id ? "bg-sheet font-medium" : "text-soft"} ${one.off ? "line-through" : ""}`}
                style={{ marginLeft: level * 14 }}
              >
                {stepText(one, design)}
              </li>
            ))}
          </ol>
          {reached.values.map(({ name, value, type }) => (
            <p key={name} className="mono text-xs">
              {name} = {valueText(model, value, type)}
            </p>
          ))}
        </div>
      )}
      {log.length > 0 && (
        <>
          <h2 className="font-semibold">Log</h2>
          <ol className="text-xs">
            {log.map(({ at, text, value, entity }, i) => (
              <li key={`${at}/${log.length - i}`} className="flex gap-2 tabular-nums">
                <span className="shrink-0 text-soft">{moment(model.days.wall(at))}</span>
                <span>
                  {text}
                  {Number.isNaN(value) ? "" : ` ${formatNumber(value)}`}
                  {entity > 0 ? <span className="text-soft"> (entity {entity})</span> : null}
                </span>
              </li>
            ))}
          </ol>
        </>
      )}
    </section>
  );
}

const linesOf = (steps: readonly StepBase[], level = 0): { readonly step: StepBase; readonly level: number }[] =>
  steps.flatMap((step) => [{ step, level }, ...linesOf(step.steps ?? [], level + 1)]);

const showIt = (line: HTMLLIElement | null) => line?.scrollIntoView({ block: "nearest" });

/** The time of a day, and which day of the run it is after the first. */
const moment = (wall: number): string => {
  const day = Math.floor(wall / 86_400);
  return `${day > 0 ? `day ${day + 1}, ` : ""}${formatClock(wall % 86_400)}`;
};
