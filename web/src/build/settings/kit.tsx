import {
  type Calendar,
  type Design,
  type Element,
  expressionsIn,
  type FieldSpec,
  kindOf,
  type Node,
  type Problem,
  type Setting,
  settingsIn,
  type Study,
  type ValueType,
} from "@busy-harbor/core";
import { ChevronDown, ChevronRight, Plus, Trash2, X } from "lucide-react";
import { type ReactNode, useState } from "react";
import { useNavigate } from "react-router";
import { addCalendar } from "../../calendars/edits.ts";
import { isResource, newId } from "../../state/edits.ts";
import { useStudy } from "../../state/study.ts";
import { useBuild } from "../buildStore.ts";
import { SortableList } from "../../ui/SortableList.tsx";
import { moved } from "../../ui/sorting.ts";
import { ChoiceRow, TextRow } from "../fields.tsx";
import { originOf } from "../../fitting/uses.ts";
import { sampleOf } from "./sample.ts";

/** What a setting yields, where it may draw it. */
const drawn = ({ type, fixed, steady, chance, any }: FieldSpec): ValueType | undefined =>
  fixed || steady || chance || any || type.kind !== "number" ? undefined : type;

export type Settings = Readonly<Record<string, unknown>>;
export interface ListRow {
  readonly id: string;
}

/** What the forms of all kinds are made of: the element, its problems, and ways to show and change its settings. */
export interface Kit<E extends Element = Element> {
  readonly element: E;
  readonly design: Design;
  readonly study: Study;
  readonly problems: readonly Problem[];
  /** A setting that holds an expression, by its name. Nothing where the element has no use for it. */
  row(name: string): ReactNode;
  /** A setting of a few words. */
  choice<T extends string>(
    name: string,
    label: string,
    choices: ReadonlyArray<readonly [value: T, label: string]>,
    help?: string,
  ): ReactNode;
  /** Whether any of these settings is not as at first, or has a problem, so that its section is open. */
  differs(...settings: Setting[]): boolean;
  /** What a setting says. */
  value(name: string): unknown;
  set(field: string, value: unknown, label: string): void;
  of(field: string): readonly Problem[];
  was(field: string): string | undefined;
  /** Rows of a list, each in a frame with a way to delete it, and a button that adds one. */
  rows(name: string, one: string, fresh: () => Settings, show: (row: ListRow, at: RowKit) => ReactNode): ReactNode;
}

/** Ways to show and change the settings of one row of a list. */
export interface RowKit {
  field(name: string): ReactNode;
  set(name: string, value: unknown): void;
  of(name: string): readonly Problem[];
  readonly key: string;
}

export function makeKit<E extends Element>(
  element: E,
  design: Design,
  study: Study,
  node: Node | undefined,
  problems: readonly Problem[],
): Kit<E> {
  const { changeDesign } = useStudy.getState();
  const values = element as unknown as Settings;
  const kind = kindOf(element);
  const original = study.designs
    .find((d) => d.id === design.copiedFrom)
    ?.elements.find((e) => e.id === element.id) as unknown as Settings | undefined;
  const { table: rows = "" } = values as { table?: string };
  const atHand = element.family ? { family: element.id } : rows === "" ? {} : { rows };
  const of = (field: string) => problems.filter((p) => p.field === field);
  const was = (field: string) => {
    const [now, then] = [values[field], original?.[field]].map((v) => (v === undefined ? undefined : String(v)));
    return then === undefined || then === now ? undefined : then;
  };
  const change = (what: string, mergeKey: string, recipe: (settings: Record<string, unknown>) => void) =>
    changeDesign(
      `Change ${what.toLowerCase()} of ${element.name}`,
      (d) => {
        const target = d.elements.find((e) => e.id === element.id);
        if (target) recipe(target as unknown as Record<string, unknown>);
      },
      `${element.id}/${mergeKey}`,
    );
  const set = (field: string, value: unknown, label: string) =>
    change(label, field, (target) => void (target[field] = value));
  const textRow = (
    field: FieldSpec,
    key: string,
    value: string,
    onChange: (value: string) => void,
    before?: string,
    who?: readonly string[],
  ) => (
    <TextRow
      key={key}
      name={key}
      label={field.label}
      help={field.help}
      placeholder={field.optional ? field.help : undefined}
      value={value}
      expression={{ entity: field.entity, words: field.words, draws: drawn(field), ...atHand, ...(who && { who }) }}
      was={before}
      problems={of(key)}
      sample={[sampleOf(node?.settings.get(key)), originOf(study, element.id, key, value)]
        .filter((words) => words !== undefined)
        .join("; ")}
      onChange={onChange}
    />
  );
  return {
    element,
    design,
    study,
    problems,
    set,
    of,
    was,
    row(name) {
      const field = expressionsIn(kind.settings).find((f) => f.name === name);
      if (!field || field.used?.(values) === false) return null;
      return textRow(field, name, String(values[name] ?? ""), (v) => set(name, v, field.label), was(name));
    },
    choice: (name, label, choices, help) => (
      <ChoiceRow
        key={name}
        name={name}
        label={label}
        help={help}
        was={choices.find(([v]) => v === was(name))?.[1]}
        value={String(values[name]) as (typeof choices)[number][0]}
        choices={choices}
        problems={of(name)}
        onChange={(v) => set(name, v, label)}
      />
    ),
    value: (name) => values[name],
    differs: (...settings) =>
      settings.some(
        ({ name, schema }) =>
          JSON.stringify(values[name]) !== JSON.stringify(schema.parse(undefined)) ||
          problems.some((p) => p.field === name || p.field?.startsWith(`${name}.`)),
      ),
    rows(name, one, fresh, show) {
      const list = settingsIn(kind.settings).find((s) => s.name === name);
      const specs = list?.form === "rows" ? expressionsIn(list.row) : [];
      const items = values[name] as readonly ListRow[];
      const edit = (what: string, key: string, recipe: (rows: ListRow[]) => void) =>
        change(what, key, (target) => recipe(target[name] as ListRow[]));
      return (
        <div key={name}>
          <SortableList
            ids={items.map((item) => item.id)}
            nameOf={(id) => `${one} ${items.findIndex((item) => item.id === id) + 1}`}
            onMove={(from, to) =>
              edit(`order of ${name}`, `${name}/move/${from}/${to}/${items[from].id}`, (rows) => {
                rows.splice(to, 0, ...rows.splice(from, 1));
              })
            }
          >
            {(_id, i, grip) => {
              const item = items[i];
              if (!item) return null;
              const prefix = `${name}.${item.id}`;
              const setItem = (field: string, value: unknown) =>
                edit(`${one} ${i + 1}`, `${prefix}.${field}${apart(value)}`, (rows) => {
                  const target = rows.find((r) => r.id === item.id);
                  if (target) Object.assign(target, { [field]: value });
                });
              const at: RowKit = {
                key: prefix,
                set: setItem,
                of: (field) => of(`${prefix}.${field}`),
                field(field) {
                  const spec = specs.find((f) => f.name === field);
                  if (!spec || spec.used?.(item as unknown as Settings) === false) return null;
                  const values = item as unknown as Settings;
                  return textRow(
                    spec,
                    `${prefix}.${field}`,
                    String(values[field] ?? ""),
                    (v) => setItem(field, v),
                    undefined,
                    spec.knowsWho ? (values.anyOf as string[]) : undefined,
                  );
                },
              };
              return (
                <div
                  role="group"
                  aria-label={`${one} ${i + 1}`}
                  className="relative mt-1.5 rounded-lg border border-line py-1 pr-8 pl-2.5"
                >
                  {show(item, at)}
                  <span className="absolute top-8 right-2">{grip}</span>
                  <button
                    className="absolute top-2 right-2 text-soft"
                    aria-label={`Delete ${one} ${i + 1}`}
                    data-tip={`Delete this ${one}`}
                    onClick={() =>
                      edit(
                        one,
                        `${name}/delete/${item.id}`,
                        (rows) =>
                          void rows.splice(
                            rows.findIndex((r) => r.id === item.id),
                            1,
                          ),
                      )
                    }
                  >
                    <Trash2 size={13} />
                  </button>
                </div>
              );
            }}
          </SortableList>
          <button
            className="button mt-1.5"
            onClick={() =>
              edit(
                one,
                `${name}/add/${items.length}`,
                (rows) => void rows.push({ id: newId(one.slice(0, 1)), ...fresh() } as ListRow),
              )
            }
          >
            <Plus size={14} /> {one.charAt(0).toUpperCase() + one.slice(1)}
          </button>
        </div>
      );
    },
  };
}

/** Letters typed one after the other are one step to undo; each choice and each change of an order is its own. */
const apart = (value: unknown): string => (Array.isArray(value) ? `/${value.join(" ")}` : "");

/** A part of the card that is folded until it says something, or is asked for. */
export function Fold({
  title,
  open: says,
  keys,
  children,
}: {
  title: string;
  open: boolean;
  /** Settings in it: it opens for one that is gone to. */ keys?: readonly string[];
  children: ReactNode;
}) {
  const [chosen, setChosen] = useState<boolean>();
  const focus = useBuild((s) => s.focusField);
  const open =
    (focus !== undefined && keys?.some((key) => focus === key || focus.startsWith(`${key}.`))) || (chosen ?? says);
  return (
    <section className="border-t border-line py-1.5">
      <h3>
        <button
          className="caps flex w-full items-center gap-1 py-0.5 text-left"
          aria-expanded={open}
          onClick={() => setChosen(!open)}
        >
          {open ? <ChevronDown size={12} /> : <ChevronRight size={12} />} {title}
        </button>
      </h3>
      {open && <div className="pb-1">{children}</div>}
    </section>
  );
}

/** Chooses a calendar of the study, or begins a new one. */
export function CalendarRow<E extends Element>({
  kit,
  field,
  label,
  gives,
  none,
}: {
  kit: Kit<E>;
  field: string;
  label: string;
  gives: Calendar["gives"];
  none: string;
}) {
  const navigate = useNavigate();
  const { study, element, of, set, was } = kit;
  const value = String((element as unknown as Settings)[field] ?? "");
  const calendars = study.calendars.filter((c) => c.gives === gives || c.id === value);
  const open = (id: string) => void navigate(`/study/${useStudy.getState().id}/build/calendars?calendar=${id}`);
  return (
    <div className="relative">
      <ChoiceRow
        name={field}
        label={label}
        was={was(field) === undefined ? undefined : (study.calendars.find((c) => c.id === was(field))?.name ?? "none")}
        value={value}
        choices={[
          ["", none],
          ...calendars.map((c) => [c.id, c.name] as const),
          ...(value !== "" && !calendars.some((c) => c.id === value) ? [[value, "a deleted calendar"] as const] : []),
        ]}
        problems={of(field)}
        onChange={(v) => set(field, v, label)}
      />
      <div className="flex gap-3 pb-1 pl-[116px] text-xs whitespace-nowrap">
        {calendars.some((c) => c.id === value) && (
          <button className="text-action underline-offset-2 hover:underline" onClick={() => open(value)}>
            Its hours
          </button>
        )}
        <button
          className="text-action underline-offset-2 hover:underline"
          onClick={() => {
            let id = "";
            useStudy
              .getState()
              .change(`New ${gives === "rate" ? "demand profile" : "shift calendar"} for ${element.name}`, (s) => {
                id = addCalendar(s, gives);
                for (const d of s.designs) {
                  if (d.id !== kit.design.id) continue;
                  const target = d.elements.find((e) => e.id === element.id);
                  if (target) Object.assign(target, { [field]: id });
                }
              });
            open(id);
          }}
        >
          New calendar
        </button>
      </div>
    </div>
  );
}

/** Chooses any of the crews and equipment, the preferred first. */
export function ResourcesRow({
  name,
  label,
  chosen,
  design,
  self,
  problems,
  onChange,
}: {
  name: string;
  label: string;
  chosen: readonly string[];
  design: Design;
  self: string;
  problems: readonly Problem[];
  onChange: (ids: string[]) => void;
}) {
  const resources = design.elements.filter((e) => isResource(e) && e.id !== self);
  const open = resources.filter((r) => !chosen.includes(r.id));
  const nameOf = (id: string) => resources.find((r) => r.id === id)?.name ?? "a deleted resource";
  return (
    <>
      <SortableList ids={chosen} nameOf={nameOf} onMove={(from, to) => onChange(moved(chosen, from, to))}>
        {(id, i, grip) => (
          <div className="grid grid-cols-[104px_1fr_auto] items-center gap-x-3 py-0.5">
            <span className="text-soft">{i === 0 ? label : "or"}</span>
            <span className="min-w-0 truncate">{nameOf(id)}</span>
            {chosen.length > 1 ? (
              <span className="flex gap-1">
                {grip}
                <button
                  className="text-soft"
                  aria-label={`Without ${nameOf(id)}`}
                  onClick={() => onChange(chosen.filter((c) => c !== id))}
                >
                  <X size={13} />
                </button>
              </span>
            ) : (
              <span />
            )}
          </div>
        )}
      </SortableList>
      {resources.length === 0 ? (
        <p className="py-1 text-soft">There is no crew, equipment or place yet: put one there from the dock.</p>
      ) : (
        open.length > 0 && (
          <ChoiceRow
            name={name}
            label={chosen.length === 0 ? label : "or"}
            value=""
            choices={[
              ["", chosen.length === 0 ? "choose …" : "any other …"],
              ...open.map((r) => [r.id, r.name] as const),
            ]}
            problems={problems}
            onChange={(id) => id && onChange([...chosen, id])}
          />
        )
      )}
    </>
  );
}
