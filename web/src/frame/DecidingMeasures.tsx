import {
  type Compilation,
  type Deciding,
  type DecidingModel,
  decidingSchema,
  definitionOf,
  displayUnit,
  measuresOf,
  readDeciding,
  type Study,
  type StudyFrame,
  usuallyBetter,
} from "@busy-harbor/core";
import { Plus, Trash2 } from "lucide-react";
import { useMemo } from "react";
import { newId } from "../state/edits.ts";
import { Choice } from "../ui/Choice.tsx";
import { SearchedChoice } from "../ui/SearchedChoice.tsx";
import { SortableList } from "../ui/SortableList.tsx";
import { moved } from "../ui/sorting.ts";
import type { EditFrame } from "./edit.ts";

const BETTER = [
  { value: "less", label: "less is better" },
  { value: "more", label: "more is better" },
] as const;

/** The measures that decide: for each which direction is better, a target, and the smallest difference that matters. */
export function DecidingMeasures({
  study,
  frame,
  compilation,
  edit,
}: {
  study: Study;
  frame: StudyFrame;
  compilation: Compilation | undefined;
  edit: EditFrame;
}) {
  const program = compilation?.program;
  const measures = useMemo(() => (program ? measuresOf(program) : []), [program]);
  const deciding = useMemo(() => readDeciding(frame.deciding, measures), [frame.deciding, measures]);
  const chosen = new Set(frame.deciding.map(({ measure }) => measure));
  const add = (key: string) => {
    const info = measures.find((m) => m.key === key);
    if (!info) return;
    const made = decidingSchema.parse({ id: newId("deciding"), measure: key, better: usuallyBetter(info) });
    edit("Add deciding measure", (f) => void f.deciding.push(made));
  };
  return (
    <section aria-labelledby="deciding">
      <h2 id="deciding" className="font-semibold">
        Deciding measures
      </h2>
      <p className="pb-2 text-soft">They stand first in Measure and Compare, the weightiest at the top.</p>
      {deciding.length > 0 && (
        <div className="-ml-6">
          <div aria-hidden className="flex items-end gap-2 pl-6 text-xs text-soft">
            <span className="grow">Measure</span>
            <span className="w-36">Better</span>
            <span className="w-28">Target</span>
            <span className="w-28">Difference that matters</span>
            <span className="w-4" />
          </div>
          <SortableList
            ids={deciding.map((one) => one.deciding.id)}
            nameOf={(id) => deciding.find((one) => one.deciding.id === id)?.info?.label ?? "measure"}
            onMove={(from, to) => edit("Move deciding measure", (f) => void (f.deciding = moved(f.deciding, from, to)))}
          >
            {(id, i, grip) =>
              deciding[i] && (
                <Row
                  key={id}
                  model={deciding[i]}
                  grip={grip}
                  unit={unitOf(deciding[i], study)}
                  known={program !== undefined}
                  edit={edit}
                />
              )
            }
          </SortableList>
        </div>
      )}
      {program ? (
        <SearchedChoice
          label="Add a deciding measure"
          options={measures
            .filter(({ key }) => !chosen.has(key))
            .map(({ key, label, owner }) => ({ value: key, label, under: owner }))}
          onChoose={add}
        >
          <Plus size={14} /> Measure
        </SearchedChoice>
      ) : (
        <p className="text-soft">The design has problems: until they are mended in Build, nothing of it is measured.</p>
      )}
    </section>
  );
}

const unitOf = ({ info }: DecidingModel, { units }: Study): string =>
  info ? displayUnit(info.dimension, units).symbol : "";

function Row({
  model: { deciding, info, problems },
  grip,
  unit,
  known,
  edit,
}: {
  model: DecidingModel;
  grip: React.ReactNode;
  unit: string;
  known: boolean;
  edit: EditFrame;
}) {
  const { id } = deciding;
  const name = info ? `${info.owner}: ${info.label}` : deciding.measure;
  const change = (key: string, recipe: (one: Deciding) => void) =>
    edit(
      "Change deciding measure",
      (f) => {
        const one = f.deciding.find((d) => d.id === id);
        if (one) recipe(one);
      },
      `${id}/${key}`,
    );
  const amount = (field: "target" | "matters", label: string, example: string) => (
    <input
      className="field mono w-28! shrink-0"
      aria-label={`${label} of ${name}`}
      aria-invalid={problems[field] !== undefined}
      placeholder={`${example}${unit === "" ? "" : ` ${unit}`}`}
      spellCheck={false}
      maxLength={200}
      value={deciding[field]}
      onChange={({ target }) => change(field, (d) => void (d[field] = target.value))}
    />
  );
  return (
    <div className="py-1" data-deciding={deciding.measure}>
      <div className="flex items-start gap-2">
        <span className="w-4 shrink-0 pt-1.5">{grip}</span>
        <span className="min-w-0 grow" data-tip={info && definitionOf(info)}>
          <span className="block truncate text-xs text-soft">{info?.owner ?? "no longer measured"}</span>
          <span className="block truncate">{info?.label ?? deciding.measure}</span>
        </span>
        <Choice
          label={`Better, of ${name}`}
          className="w-36! shrink-0"
          value={deciding.better}
          options={BETTER}
          onChange={(better) => change(`better/${better}`, (d) => void (d.better = better))}
        />
        {amount("target", "Target", "10")}
        {amount("matters", "Smallest difference that matters", "1")}
        <button
          className="mt-1.5 shrink-0 text-soft"
          aria-label={`Take ${name} out`}
          onClick={() =>
            edit("Take deciding measure out", (f) => void (f.deciding = f.deciding.filter((d) => d.id !== id)))
          }
        >
          <Trash2 size={14} />
        </button>
      </div>
      {(["measure", "target", "matters"] as const)
        .filter((field) => problems[field] !== undefined && (known || field !== "measure"))
        .map((field) => (
          <p key={field} className="pl-6 text-xs text-buoy-deep">
            {field === "measure" ? "" : field === "target" ? "Target: " : "Difference that matters: "}
            {problems[field]}
          </p>
        ))}
    </div>
  );
}
