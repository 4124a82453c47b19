import { displayUnit, type SearchPlan, type Study, usuallyBetter } from "@busy-harbor/core";
import { Plus, X } from "lucide-react";
import { NumberBox } from "../../../ui/NumberBox.tsx";
import { Choice, type Option } from "../../../ui/Choice.tsx";
import { ToggleGroup } from "../../../ui/ToggleGroup.tsx";
import type { useMeasures } from "../../useMeasures.ts";
import type { EditSearch } from "./editSearch.ts";

const MOST = 5;

/** Further measures of a search: added up with weights, or each kept apart on a front. */
export function FurtherMeasures({
  study,
  plan,
  measures,
  options,
  problem,
  edit,
}: {
  study: Study;
  plan: SearchPlan;
  measures: ReturnType<typeof useMeasures>;
  options: readonly Option<string>[];
  problem: string | undefined;
  edit: EditSearch;
}) {
  const { also = [] } = plan;
  const as = plan.as ?? "sum";
  const unitOf = (key: string) => {
    const info = measures.find((m) => m.key === key);
    return info ? displayUnit(info.dimension, study.units).symbol : "";
  };
  return (
    <div className="pt-2">
      {also.length > 0 && (
        <div className="pb-2">
          <ToggleGroup
            label="How several measures are taken together"
            value={as}
            options={[
              ["sum", "Weighted sum"],
              ["front", "Efficient front"],
            ]}
            onChange={(next) => edit("Change search", (s) => void (s.as = next))}
          />
        </div>
      )}
      {also.map(({ measure, weight, better }, at) => (
        <div key={at} className="flex flex-wrap items-end gap-3 pb-1" data-testid="further-measure">
          <span className="w-72">
            <Choice
              label={`Further measure ${at + 1}`}
              value={measure}
              options={options}
              onChange={(key) =>
                edit("Change search", (s) => {
                  s.also![at].measure = key;
                  const info = measures.find((m) => m.key === key);
                  if (info) s.also![at].better = usuallyBetter(info);
                })
              }
            />
          </span>
          {as === "sum" ? (
            <NumberBox
              label={weightWords(unitOf(measure), unitOf(plan.measure))}
              value={weight}
              onChange={(n) => edit("Change search", (s) => void (s.also![at].weight = n), `also/${at}`)}
            />
          ) : (
            <span className="w-36">
              <Choice
                label={`Which direction of further measure ${at + 1} is better`}
                value={better}
                options={[
                  { value: "less", label: "less is better" },
                  { value: "more", label: "more is better" },
                ]}
                onChange={(next) => edit("Change search", (s) => void (s.also![at].better = next))}
              />
            </span>
          )}
          <button
            type="button"
            className="button px-2!"
            aria-label={`Take further measure ${at + 1} away`}
            onClick={() => edit("Take measure away", (s) => void s.also!.splice(at, 1))}
          >
            <X size={13} />
          </button>
        </div>
      ))}
      {problem && <p className="text-xs text-buoy-deep">{problem}</p>}
      {also.length < MOST && (
        <button
          type="button"
          className="text-action hover:underline"
          onClick={() =>
            edit("Add measure", (s) => {
              const next = measures.find(({ key }) => key !== s.measure && !s.also?.some((one) => one.measure === key));
              s.also = [
                ...(s.also ?? []),
                { measure: next?.key ?? "", weight: 1, better: next ? usuallyBetter(next) : "less" },
              ];
            })
          }
        >
          <Plus size={13} className="inline" /> Add a measure: a weighted sum, or an efficient front
        </button>
      )}
    </div>
  );
}

/** What a weight says: one of the further measure counts as so many of the first. */
const weightWords = (unit: string, first: string): string => `1${unit && ` ${unit}`} counts as${first && `, ${first}`}`;
