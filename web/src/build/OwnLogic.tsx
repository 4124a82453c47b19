import {
  type Design,
  displaySchema,
  type Element,
  eventsOf,
  eventWords,
  kindOf,
  nameKey,
  type Problem,
  ruleSentence,
  writeName,
} from "@busy-harbor/core";
import { Activity, ChartSpline, Forward, Plus, Trash2 } from "lucide-react";
import { useNavigate } from "react-router";
import { handOn } from "../logic/edits.ts";
import { ReadyMade } from "../logic/ReadyMade.tsx";
import { useStudy } from "../state/study.ts";
import { newId } from "../state/edits.ts";
import { announce } from "../ui/announce.ts";
import { isMeasured, setMeasured } from "../variables/edits.ts";
import { TextRow } from "./fields.tsx";
import { Fold } from "./settings/kit.tsx";

/** Puts a chart of what is on hand, on order and of the position of a stock point beside it on the floor. */
function chartStock(design: Design, { name, at }: Element): void {
  const of = (property: string) => `${writeName(name)}.${property}`;
  design.displays.push(
    displaySchema.parse({
      kind: "chart",
      id: newId("display"),
      at: [at[0] + 6, at[1] + 6],
      title: name,
      span: "28 d",
      rows: [
        { label: "On hand", value: of("onHand") },
        { label: "On order", value: of("onOrder") },
        { label: "Position", value: of("position") },
      ],
    }),
  );
}

/** What an element has of its own: attributes that steps set, and rules at its events. */
export default function OwnLogic({
  element,
  design,
  problems,
}: {
  element: Element;
  design: Design;
  problems: readonly Problem[];
}) {
  const navigate = useNavigate();
  const { changeDesign } = useStudy.getState();
  const set = (key: string, recipe: (element: Element) => void) =>
    changeDesign(
      `Change attributes of ${element.name}`,
      (d) => {
        const target = d.elements.find((e) => e.id === element.id);
        if (target) recipe(target);
      },
      `${element.id}/attributes/${key}`,
    );
  const attributes = element.attributes ?? [];
  const rules = (design.rules ?? []).filter(
    ({ of, at }) => (of === "element" && at === element.id) || (of === "group" && at !== "" && at === element.group),
  );
  const show = (id: string) => void navigate(`/study/${useStudy.getState().id}/build/procedures?at=${id}`);
  const hasEvents = Object.keys(eventsOf(kindOf(element))).length > 0;
  return (
    <>
      {kindOf(element).isStocked && !element.family && (
        <div className="border-t border-line py-2">
          <button
            className="button"
            onClick={() => {
              changeDesign(`Chart ${element.name}`, (d) => chartStock(d, element));
              announce(`On hand, on order and position of ${element.name} are charted on the floor.`);
            }}
          >
            <ChartSpline size={14} /> Chart it on the floor
          </button>
        </div>
      )}
      <Fold
        title="Attributes of its own"
        open={attributes.length > 0}
        keys={attributes.map(({ name }) => `attribute ${name}`)}
      >
        {attributes.length === 0 && (
          <p className="pb-1 text-xs text-soft">
            A value that belongs to {element.name}, not to the entities here; steps set it, and expressions read it as{" "}
            <span className="mono">{writeName(element.name)}.name</span>.
          </p>
        )}
        {attributes.map((attribute, i) => {
          const read = `${writeName(element.name)}.${attribute.name}`;
          const measured = isMeasured(design, read);
          return (
            <div key={i} className="flex items-start gap-1">
              <div className="min-w-0 grow">
                <TextRow
                  name={`attribute ${attribute.name}`}
                  label={attribute.name}
                  expression={element.family ? { family: element.id } : {}}
                  value={attribute.value}
                  problems={problems.filter((p) => p.field === `attribute ${attribute.name}`)}
                  onChange={(v) => set(attribute.name, (e) => void (e.attributes![i].value = v))}
                />
              </div>
              {!element.family && (
                <button
                  className={`mt-2 ${measured ? "text-action" : "text-soft"}`}
                  aria-label={`Measure ${attribute.name} over time`}
                  aria-pressed={measured}
                  data-tip={measured ? "Measured over time; press to leave it out" : "Measure it over time"}
                  onClick={() =>
                    changeDesign(`${measured ? "No longer measure" : "Measure"} ${read}`, (d) =>
                      setMeasured(d, read, !measured),
                    )
                  }
                >
                  <Activity size={13} />
                </button>
              )}
              {kindOf(element).isSource && (
                <button
                  className="mt-2 text-soft"
                  aria-label={`Give ${attribute.name} to the entities that arrive here`}
                  data-tip="Give it to the entities that arrive here, by a rule"
                  onClick={() => {
                    changeDesign(`Give ${read} to entities`, (d) => handOn(d, element.id, attribute.name));
                    announce(`A rule gives ${attribute.name} to each entity that arrives at ${element.name}.`);
                  }}
                >
                  <Forward size={13} />
                </button>
              )}
              <button
                className="mt-2 text-soft"
                aria-label={`Delete attribute ${attribute.name}`}
                onClick={() =>
                  set("delete", (e) => {
                    e.attributes!.splice(i, 1);
                    if (e.attributes!.length === 0) delete e.attributes;
                  })
                }
              >
                <Trash2 size={13} />
              </button>
            </div>
          );
        })}
        <form
          className="flex gap-1 py-1"
          onSubmit={(event) => {
            event.preventDefault();
            const input = event.currentTarget.elements.namedItem("attribute") as HTMLInputElement;
            const name = input.value.trim();
            if (!/^[\p{L}_][\p{L}\p{N}_]*$/u.test(name) || attributes.some((a) => nameKey(a.name) === nameKey(name)))
              return input.reportValidity();
            set("add", (e) => void (e.attributes ??= []).push({ name, value: "0" }));
            input.value = "";
          }}
        >
          <input
            name="attribute"
            className="field"
            placeholder="New attribute"
            aria-label={`New attribute of ${element.name}`}
            pattern="[\p{L}_][\p{L}\p{N}_]*"
            data-tip="One word of letters and digits"
          />
          <button className="button" aria-label={`Add attribute to ${element.name}`}>
            <Plus size={14} />
          </button>
        </form>
      </Fold>
      {hasEvents && (
        <Fold title="Rules" open={rules.length > 0}>
          {rules.map((rule) => {
            const words = rule.name || eventWords(rule, design);
            return (
              <div key={rule.id} className="py-0.5">
                <button
                  className={`block w-full truncate text-left text-action underline-offset-2 hover:underline ${rule.off ? "line-through" : ""}`}
                  onClick={() => show(rule.id)}
                >
                  {words.charAt(0).toUpperCase() + words.slice(1)}
                  {rule.of === "group" && <span className="text-soft"> (group)</span>}
                </button>
                <p className="line-clamp-4 text-xs text-soft">{ruleSentence(rule, design)}</p>
              </div>
            );
          })}
          <div className="py-1">
            <ReadyMade design={design} at={element.id} onMade={show} />
          </div>
        </Fold>
      )}
    </>
  );
}
