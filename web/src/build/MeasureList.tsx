import { type CustomMeasure, customMeasureSchema, type Design, freshName, type Problem } from "@busy-harbor/core";
import { Plus, Trash2 } from "lucide-react";
import { newId } from "../state/edits.ts";
import { useStudy } from "../state/study.ts";
import { ChoiceRow, Details, NameRow, Section, TextRow } from "./fields.tsx";
import { Checkbox } from "../ui/Checkbox.tsx";

type Kind = CustomMeasure["kind"];

const KINDS: ReadonlyArray<readonly [Kind, string]> = [
  ["average", "average over time"],
  ["ranges", "share of time in ranges"],
  ["condition", "share of time a condition holds"],
  ["recorded", "values that steps record"],
  ["derived", "worked out of measures before it"],
  ["group", "elements merged"],
];

const RECORDED_AS = [
  ["observations", "single observations"],
  ["level", "a level over time"],
  ["count", "a count, or a sum"],
  ["state", "a state, by its name"],
] as const;

/** What is measured besides everything that is measured with no set-up. */
export function MeasureList({ design, problems }: { design: Design; problems: readonly Problem[] }) {
  const { changeDesign } = useStudy.getState();
  const edit = (what: string, key: string, id: string, recipe: (measure: CustomMeasure, design: Design) => void) =>
    changeDesign(
      what,
      (d) => {
        const target = d.measures.find((m) => m.id === id);
        if (target) recipe(target, d);
      },
      `measures/${id}/${key}`,
    );
  return (
    <Section title="Measures of your own">
      {design.measures.map((measure) => {
        const of = (field: string) => problems.filter((p) => p.id === measure.id && p.field === field);
        const { id, name } = measure;
        return (
          <Details
            key={id}
            open={problems.some((p) => p.id === id)}
            summary={
              <>
                <span className="min-w-0 grow truncate">{name}</span>
                <button
                  className="text-soft"
                  aria-label={`Delete measure ${name}`}
                  onClick={() =>
                    changeDesign(
                      `Delete measure ${name}`,
                      (d) => void (d.measures = d.measures.filter((m) => m.id !== id)),
                    )
                  }
                >
                  <Trash2 size={13} />
                </button>
              </>
            }
          >
            <NameRow
              name={`measure-name-${id}`}
              label="Name"
              value={name}
              problems={[]}
              onChange={(v) => edit("Rename measure", "name", id, (m) => void (m.name = v))}
            />
            <ChoiceRow
              name={`measure-kind-${id}`}
              label="Is the"
              value={measure.kind}
              choices={KINDS}
              problems={[]}
              onChange={(kind) =>
                edit(
                  `Change measure ${name}`,
                  "kind",
                  id,
                  (m, d) => void d.measures.splice(d.measures.indexOf(m), 1, fresh(kind, id, name, textOf(measure))),
                )
              }
            />
            {(measure.kind === "average" || measure.kind === "ranges") && (
              <TextRow
                name="value"
                label="Of"
                expression={{}}
                placeholder="Dock.queue.length"
                value={measure.value}
                problems={of("value")}
                onChange={(v) => edit(`Change measure ${name}`, "value", id, (m) => "value" in m && void (m.value = v))}
              />
            )}
            {measure.kind === "derived" && (
              <TextRow
                name="value"
                label="Is"
                help="Of measures of your own that stand before it, by their names: an average, a share, a sum or a mean each."
                placeholder="Fees / Visits"
                value={measure.value}
                problems={of("value")}
                onChange={(v) => edit(`Change measure ${name}`, "value", id, (m) => "value" in m && void (m.value = v))}
              />
            )}
            {measure.kind === "condition" && (
              <TextRow
                name="condition"
                label="While"
                expression={{}}
                placeholder="Dock.queue.length > 5"
                value={measure.condition}
                problems={of("condition")}
                onChange={(v) =>
                  edit(`Change measure ${name}`, "condition", id, (m) => "condition" in m && void (m.condition = v))
                }
              />
            )}
            {measure.kind === "ranges" && (
              <TextRow
                name="bounds.0"
                label="Bounds"
                help="Rising, separated by commas."
                value={measure.bounds.join(", ")}
                sample={rangeWords(measure.bounds)}
                problems={problems.filter((p) => p.id === id && p.field?.startsWith("bounds."))}
                onChange={(v) =>
                  edit(
                    `Change measure ${name}`,
                    "bounds",
                    id,
                    (m) =>
                      "bounds" in m &&
                      void (m.bounds = v
                        .split(",")
                        .map((b) => b.trim())
                        .slice(0, 20)),
                  )
                }
              />
            )}
            {measure.kind === "recorded" && (
              <>
                <ChoiceRow
                  name={`measure-as-${id}`}
                  label="As"
                  value={measure.as}
                  choices={RECORDED_AS}
                  problems={[]}
                  onChange={(as) =>
                    edit(`Change measure ${name}`, `as/${as}`, id, (m) => m.kind === "recorded" && void (m.as = as))
                  }
                />
                {(measure.as === "observations" || measure.as === "level") && (
                  <TextRow
                    name="bounds.0"
                    label="Ranges"
                    help="Rising bounds, separated by commas: the shares below, between and above are measured too."
                    placeholder="5 min, 10 min"
                    value={(measure.bounds ?? []).join(", ")}
                    sample={measure.bounds?.length ? rangeWords(measure.bounds) : undefined}
                    problems={problems.filter((p) => p.id === id && p.field?.startsWith("bounds."))}
                    onChange={(v) =>
                      edit(
                        `Change measure ${name}`,
                        "bounds",
                        id,
                        (m) => m.kind === "recorded" && setList(m, "bounds", v),
                      )
                    }
                  />
                )}
                {measure.as === "state" && (
                  <TextRow
                    name="states"
                    label="States"
                    help="The texts that steps record, separated by commas."
                    placeholder="at sea, in port"
                    value={(measure.states ?? []).join(", ")}
                    problems={of("states")}
                    onChange={(v) =>
                      edit(
                        `Change measure ${name}`,
                        "states",
                        id,
                        (m) => m.kind === "recorded" && setList(m, "states", v),
                      )
                    }
                  />
                )}
                <Checkbox
                  checked={measure.byType}
                  onChange={(on) =>
                    edit(
                      `Change measure ${name}`,
                      `types/${on}`,
                      id,
                      (m) => m.kind === "recorded" && void (m.byType = on),
                    )
                  }
                >
                  Also for each entity type
                </Checkbox>
              </>
            )}
            {measure.kind === "group" && (
              <fieldset className="max-h-40 overflow-y-auto py-1">
                <legend className="text-soft">Elements</legend>
                {design.elements.map((e) => (
                  <Checkbox
                    key={e.id}
                    className="flex items-center gap-2 py-px"
                    checked={measure.elements.includes(e.id)}
                    onChange={(on) =>
                      edit(
                        `Change measure ${name}`,
                        `elements/${e.id}/${on}`,
                        id,
                        (m) =>
                          "elements" in m &&
                          void (m.elements = on ? [...m.elements, e.id] : m.elements.filter((x) => x !== e.id)),
                      )
                    }
                  >
                    {e.name}
                  </Checkbox>
                ))}
                {of("elements").map((p) => (
                  <p key={p.message} className="text-xs text-buoy-deep">
                    {p.message} <span className="text-ink">{p.hint}</span>
                  </p>
                ))}
              </fieldset>
            )}
          </Details>
        );
      })}
      <button
        className="button mt-1"
        onClick={() =>
          changeDesign(
            "Add measure",
            (d) => void d.measures.push(fresh("average", newId("measure"), freshName("Measure", d.measures), "")),
          )
        }
      >
        <Plus size={14} /> Measure
      </button>
    </Section>
  );
}

const textOf = (measure: CustomMeasure): string =>
  "value" in measure ? measure.value : "condition" in measure ? measure.condition : "";

/** A measure of another kind keeps its name and what was typed. */
const fresh = (kind: Kind, id: string, name: string, text: string): CustomMeasure =>
  customMeasureSchema.parse({
    kind,
    id,
    name,
    ...(kind === "average" || kind === "ranges" ? { value: text } : kind === "condition" ? { condition: text } : {}),
  });

/** What is written with commas, as a list of a measure; empty: none. */
function setList(measure: Extract<CustomMeasure, { kind: "recorded" }>, list: "bounds" | "states", text: string): void {
  const parts = text.split(",").map((part) => part.trim());
  if (text.trim() === "") delete measure[list];
  else measure[list] = parts.slice(0, 20);
}

const rangeWords = (bounds: readonly string[]): string =>
  [
    `below ${bounds[0]}`,
    ...bounds.slice(1).map((to, i) => `${bounds[i]} to below ${to}`),
    `from ${bounds[bounds.length - 1]}`,
  ].join("; ");
