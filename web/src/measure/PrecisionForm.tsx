import { displayUnit, type MeasureInfo, measuresOf, type Problem, type Study } from "@busy-harbor/core";
import { readPrecision } from "@busy-harbor/core/experiments";
import { Plus, X } from "lucide-react";
import { useMemo } from "react";
import { KeptInput } from "../build/fields.tsx";
import { useCompiled } from "../state/compiled.ts";
import { useStudy } from "../state/study.ts";
import { Checkbox } from "../ui/Checkbox.tsx";
import { Choice } from "../ui/Choice.tsx";
import { SearchedChoice } from "../ui/SearchedChoice.tsx";

type Wanted = NonNullable<Study["run"]["precision"]>;
const NO_MEASURES: readonly MeasureInfo[] = [];

/** Whether replications go on until half-widths are small enough, and of which measures. */
export function PrecisionForm({ study }: { study: Study }) {
  const program = useCompiled()?.program;
  const measures = useMemo(() => (program ? measuresOf(program) : NO_MEASURES), [program]);
  const { change } = useStudy.getState();
  const { precision } = study.run;
  const { problems } = useMemo(() => readPrecision(study.run, measures), [study.run, measures]);
  const edit = (what: string, recipe: (wanted: Wanted) => void, key?: string) =>
    change(what, (s) => s.run.precision && recipe(s.run.precision), key && `run/precision/${key}`);
  const turn = (on: boolean) =>
    change(on ? "Stop at a precision" : "Stop after so many replications", (s) => {
      const first = s.frame?.deciding.find(({ measure }) => measures.some(({ key }) => key === measure));
      const key = first?.measure ?? usual(measures);
      s.run.precision =
        on && key !== undefined ? { goals: [{ measure: key, to: "5 %", relative: true }], most: 1000 } : undefined;
    });
  return (
    <div className="py-1" data-testid="precision">
      <Checkbox
        checked={precision !== undefined}
        disabled={!precision && measures.length === 0}
        className="flex items-center gap-2 py-1 text-soft"
        title="Replications go on, from ten, until the half-widths below are small enough. As it is looked at again and again, the level of the intervals then holds approximately."
        onChange={turn}
      >
        Stop at a precision
      </Checkbox>
      {precision && (
        <div className="ml-1 border-l border-line pl-3">
          {precision.goals.map(({ measure, to, relative }, i) => {
            const info = measures.find(({ key }) => key === measure);
            const name = info ? `${info.owner}: ${info.label}` : measure;
            const wrong = problems.filter(({ field }) => field?.startsWith(`precision.${i}.`));
            return (
              <div key={measure} className="pb-2" data-goal={measure}>
                <div className="flex items-start justify-between gap-2">
                  <span>{name}</span>
                  <button
                    className="pt-0.5 text-soft"
                    aria-label={`Without ${name}`}
                    onClick={() =>
                      change("Change precision", (s) => {
                        s.run.precision?.goals.splice(i, 1);
                        if (s.run.precision?.goals.length === 0) s.run.precision = undefined;
                      })
                    }
                  >
                    <X size={13} />
                  </button>
                </div>
                <div className="flex items-center gap-2">
                  <span className="text-soft">±</span>
                  <KeptInput
                    label={`Half-width of ${name}`}
                    className="w-24"
                    shown={to}
                    read={(text) => text}
                    wanted=""
                    onChange={(text) => edit("Change precision", (w) => void (w.goals[i].to = text), `${i}/to`)}
                  />
                  <Choice
                    label={`What the half-width of ${name} is`}
                    value={relative ? "share" : "amount"}
                    options={[
                      { value: "share", label: "of the mean" },
                      { value: "amount", label: info ? unitWords(info, study) : "as an amount" },
                    ]}
                    onChange={(as) => edit("Change precision", (w) => void (w.goals[i].relative = as === "share"))}
                  />
                </div>
                <Wrong problems={wrong} />
              </div>
            );
          })}
          <SearchedChoice
            label="Add a measure"
            options={measures
              .filter(({ key }) => !precision.goals.some((g) => g.measure === key))
              .map(({ key, label, owner }) => ({ value: key, label, under: owner }))}
            onChoose={(key) =>
              edit("Add precision", (w) => void w.goals.push({ measure: key, to: "5 %", relative: true }))
            }
          >
            <Plus size={14} /> Measure
          </SearchedChoice>
          <label className="flex items-center gap-2 pt-2">
            <span className="whitespace-nowrap text-soft">At most</span>
            <KeptInput
              label="Replications at most"
              className="w-16"
              shown={String(precision.most)}
              read={(text) =>
                Number.isInteger(Number(text)) && Number(text) >= 10 && Number(text) <= 100_000 ? text : undefined
              }
              wanted="A whole number from 10 to 100,000 is wanted."
              onChange={(text) => edit("Change precision", (w) => void (w.most = Number(text)), "most")}
            />
            <span className="text-soft">replications</span>
          </label>
        </div>
      )}
    </div>
  );
}

function Wrong({ problems }: { problems: readonly Problem[] }) {
  return problems.map(({ message, hint }) => (
    <p key={message} role="alert" className="pt-0.5 text-xs text-buoy-deep">
      {message} <span className="text-ink">{hint}</span>
    </p>
  ));
}

const unitWords = ({ dimension }: MeasureInfo, { units }: Study): string => {
  const { symbol } = displayUnit(dimension, units);
  return symbol === "" ? "as an amount" : `such as 1 ${symbol}`;
};

/** What is most often asked of a model. */
const usual = (measures: readonly MeasureInfo[]): string | undefined =>
  (measures.find(({ ownerKind, id }) => ownerKind === "entity type" && id === "timeInSystem.mean") ?? measures[0])?.key;
