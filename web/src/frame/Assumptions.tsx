import { type Assumption, assumptionSchema, type StudyFrame } from "@busy-harbor/core";
import { Plus, Trash2 } from "lucide-react";
import { newId } from "../state/edits.ts";
import { Choice } from "../ui/Choice.tsx";
import { DateField } from "../ui/DateField.tsx";
import { SortableList } from "../ui/SortableList.tsx";
import { moved } from "../ui/sorting.ts";
import type { EditFrame } from "./edit.ts";

const STATES = [
  { value: "open", label: "open" },
  { value: "confirmed", label: "confirmed" },
  { value: "refuted", label: "refuted" },
] as const;

/** What is taken to be so: open, confirmed or refuted; who said so, and when. */
export function Assumptions({ frame, edit }: { frame: StudyFrame; edit: EditFrame }) {
  const { assumptions } = frame;
  const change = (id: string, what: string, recipe: (one: Assumption) => void) =>
    edit(
      `Change assumption`,
      (f) => {
        const one = f.assumptions.find((a) => a.id === id);
        if (one) recipe(one);
      },
      `${id}/${what}`,
    );
  const open = assumptions.filter(({ state }) => state === "open").length;
  return (
    <section aria-labelledby="assumptions">
      <h2 id="assumptions" className="pb-1 font-semibold">
        Assumptions{" "}
        {assumptions.length > 0 && (
          <span className="font-normal text-soft">
            {open === 0 ? "none open" : `${open} of ${assumptions.length} open`}
          </span>
        )}
      </h2>
      <div className="-ml-6">
        <SortableList
          ids={assumptions.map(({ id }) => id)}
          nameOf={(id) => assumptions.find((a) => a.id === id)?.text || "assumption"}
          onMove={(from, to) => edit("Move assumption", (f) => void (f.assumptions = moved(f.assumptions, from, to)))}
        >
          {(id, i, grip) => {
            const one = assumptions[i];
            if (!one) return null;
            return (
              <div className="flex items-start gap-2 py-1" data-assumption={id}>
                <span className="w-4 shrink-0 pt-1.5">{grip}</span>
                <textarea
                  className="field field-sizing-content min-h-[30px] grow resize-none"
                  rows={1}
                  maxLength={1000}
                  aria-label={`Assumption ${i + 1}`}
                  placeholder="What is taken to be so"
                  value={one.text}
                  onChange={({ target }) => change(id, "text", (a) => void (a.text = target.value))}
                />
                <Choice
                  label={`State of assumption ${i + 1}`}
                  className={`w-28! shrink-0 ${one.state === "refuted" ? "text-buoy-deep" : ""}`}
                  value={one.state}
                  options={STATES}
                  onChange={(state) => change(id, `state/${state}`, (a) => void (a.state = state))}
                />
                <input
                  className="field w-40! shrink-0"
                  aria-label={`Who said so of assumption ${i + 1}`}
                  placeholder="who said so"
                  maxLength={200}
                  value={one.by}
                  onChange={({ target }) => change(id, "by", (a) => void (a.by = target.value))}
                />
                <DateField
                  label={`When, of assumption ${i + 1}`}
                  className="w-36 shrink-0"
                  value={one.on}
                  onChange={(on) => change(id, "on", (a) => void (a.on = on))}
                />
                <button
                  className="mt-1.5 text-soft"
                  aria-label={`Delete assumption ${i + 1}`}
                  onClick={() =>
                    edit("Delete assumption", (f) => void (f.assumptions = f.assumptions.filter((a) => a.id !== id)))
                  }
                >
                  <Trash2 size={14} />
                </button>
              </div>
            );
          }}
        </SortableList>
      </div>
      <button
        className="button mt-1"
        onClick={() =>
          edit("Add assumption", (f) => void f.assumptions.push(assumptionSchema.parse({ id: newId("assumption") })))
        }
      >
        <Plus size={14} /> Assumption
      </button>
    </section>
  );
}
