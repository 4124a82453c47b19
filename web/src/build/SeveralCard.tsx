import { type Element, expressionsIn, type FieldSpec, freshName, kindOf } from "@busy-harbor/core";
import {
  AlignCenterHorizontal,
  AlignCenterVertical,
  AlignEndHorizontal,
  AlignEndVertical,
  AlignHorizontalSpaceAround,
  AlignStartHorizontal,
  AlignStartVertical,
  AlignVerticalSpaceAround,
  type LucideIcon,
  Sigma,
} from "lucide-react";
import { perform } from "../commands/commandStore.ts";
import { newId } from "../state/edits.ts";
import { useStudy } from "../state/study.ts";
import { buildCommands } from "./buildCommands.ts";
import { Section, TextRow } from "./fields.tsx";
import { groupBy } from "../groupBy.ts";

const ICONS: Readonly<Record<string, LucideIcon>> = {
  "align-left": AlignStartVertical,
  "align-column": AlignCenterVertical,
  "align-right": AlignEndVertical,
  "align-top": AlignStartHorizontal,
  "align-row": AlignCenterHorizontal,
  "align-bottom": AlignEndHorizontal,
  "distribute-across": AlignHorizontalSpaceAround,
  "distribute-down": AlignVerticalSpaceAround,
};

/** Settings that all these elements have under the same name and with the same meaning. */
export function sharedFields(elements: readonly Element[]): FieldSpec[] {
  const [first, ...others] = elements;
  if (!first) return [];
  return expressionsIn(kindOf(first).settings).filter((field) =>
    others.every((e) =>
      expressionsIn(kindOf(e).settings).some(
        (f) =>
          f.name === field.name && f.label === field.label && JSON.stringify(f.type) === JSON.stringify(field.type),
      ),
    ),
  );
}

/** Their common value of a setting; undefined when they differ. */
export function commonValue(elements: readonly Element[], field: string): string | undefined {
  const values = new Set(elements.map((e) => String((e as unknown as Record<string, unknown>)[field] ?? "")));
  return values.size === 1 ? [...values][0] : undefined;
}

/** The card of several elements: the settings they share, edited at once, and how they stand. */
export function SeveralCard({ elements }: { elements: readonly Element[] }) {
  const { changeDesign } = useStudy();
  const ids = new Set(elements.map((e) => e.id));
  const set = (field: FieldSpec, value: string) =>
    changeDesign(
      `Change ${field.label.toLowerCase()} of ${elements.length}`,
      (d) => {
        for (const element of d.elements) if (ids.has(element.id)) Object.assign(element, { [field.name]: value });
      },
      `several/${field.name}/${[...ids].join()}`,
    );
  const fields = sharedFields(elements);
  const kinds = groupBy(elements, (e) => e.kind);
  return (
    <>
      <p className="pb-2 text-soft">
        {[...kinds]
          .map(
            ([kind, members]) =>
              `${members.length} ${(members.length === 1 ? kindOf({ kind }).label : kindOf({ kind }).plural).toLowerCase()}`,
          )
          .join(", ")}
      </p>
      {elements.length > 1 && (
        <div role="toolbar" aria-label="Arrange" className="mb-2 flex flex-wrap gap-1">
          {buildCommands
            .filter((c) => ICONS[c.id])
            .map((command) => {
              const Icon = ICONS[command.id];
              return (
                <button
                  key={command.id}
                  className="button px-1.5!"
                  aria-label={command.label}
                  data-tip={command.label}
                  disabled={command.refusal?.() !== undefined}
                  onClick={() => perform(command)}
                >
                  <Icon size={15} />
                </button>
              );
            })}
        </div>
      )}
      <button
        className="button mb-2"
        data-tip="Their lines, waits and shares of time as those of one, with the right weights"
        onClick={() =>
          changeDesign(
            `Merge measures of ${elements.length}`,
            (d) =>
              void d.measures.push({
                kind: "group",
                id: newId("measure"),
                name: freshName("Group", d.measures),
                elements: elements.map((e) => e.id),
              }),
          )
        }
      >
        <Sigma size={14} /> Measure them together
      </button>
      {fields.length > 0 && (
        <Section title="Shared settings">
          {fields.map((field) => {
            const value = commonValue(elements, field.name);
            return (
              <TextRow
                key={field.name}
                name={field.name}
                label={field.label}
                help={field.help}
                value={value ?? ""}
                placeholder={value === undefined ? "mixed" : undefined}
                expression={{ entity: field.entity, words: field.words }}
                problems={[]}
                onChange={(v) => set(field, v)}
              />
            );
          })}
        </Section>
      )}
    </>
  );
}
