import {
  type Design,
  type Problem,
  type Setting,
  settingsIn,
  type StepBase,
  type StepModel,
  kindOf,
} from "@busy-harbor/core";
import { Plus, X } from "lucide-react";
import { Fragment, useEffect, useId, useRef } from "react";
import { useBuild } from "../build/buildStore.ts";
import { ExpressionInput } from "../expressions/ExpressionInput.tsx";
import { ColourField } from "../ui/ColourField.tsx";
import { Checkbox } from "../ui/Checkbox.tsx";
import { Choice } from "../ui/Choice.tsx";
import { freshRow, namedBy, resourcesOf } from "./edits.ts";

type Values = Readonly<Record<string, unknown>>;

/** What fields of a step share. */
export interface StepFields {
  readonly step: StepBase;
  readonly design: Design;
  /** As it has been read: what may be named in it. */
  readonly model: () => StepModel | undefined;
  readonly problems: readonly Problem[];
  /** Changes the step: `key` is that of what is typed, which makes one step to undo. */
  readonly edit: (what: string, key: string, recipe: (step: Record<string, unknown>) => void) => void;
  /** Goes on from a field in which one has pressed Enter. */
  readonly onEnter: () => void;
}

/** One setting of a step, within its sentence. */
export function StepField({ setting, ...fields }: StepFields & { setting: Setting }) {
  const { step, design, edit, problems } = fields;
  const values = step as unknown as Values;
  const { name, label } = setting;
  const key = `${step.id}.${name}`;
  const value = values[name];
  const set = (next: unknown) => edit(label, name, (draft) => void (draft[name] = next));
  const invalid = problems.some((p) => p.field === key);
  switch (setting.form) {
    case "expression":
      return (
        <Expression
          {...fields}
          setting={setting}
          path={name}
          {...(setting.knowsWho ? { who: (values.anyOf ?? values.crew ?? []) as string[] } : {})}
          value={String(value ?? "")}
          onChange={set}
        />
      );
    case "text":
      return (
        <input
          className="field w-64! max-w-full leading-normal"
          aria-label={label}
          value={String(value ?? "")}
          placeholder={setting.example}
          maxLength={1000}
          onChange={(event) => set(event.target.value)}
        />
      );
    case "colour":
      return (
        <ColourField
          label={label}
          value={String(value)}
          className="inline-block h-6 w-10 align-middle"
          onChange={set}
        />
      );
    case "choice":
      return (
        <Choice
          className="inline-flex! w-auto! leading-normal"
          label={label}
          value={String(value)}
          options={setting.choices.map(([choice, words]) => ({ value: choice, label: words }))}
          onChange={set}
        />
      );
    case "flag":
      return (
        <Checkbox className="inline-flex items-center gap-1.5" checked={value === true} onChange={set}>
          {setting.sentence}
        </Checkbox>
      );
    case "reference":
      return (
        <Choice
          className="inline-flex! w-auto! leading-normal"
          label={label}
          value={String(value ?? "")}
          invalid={invalid}
          placeholder="choose …"
          options={namedBy(setting, design).map((one) => ({ value: one.id, label: one.name }))}
          onChange={(id) => {
            edit(label, name, (draft) => {
              draft[name] = id;
              if (setting.to === "procedure") draft.args = argsFor(design, id, draft.args as { id: string }[]);
            });
          }}
        />
      );
    case "resources":
      return (
        <Resources
          label={label}
          chosen={(value ?? []) as string[]}
          design={design}
          {...(setting.none === undefined ? {} : { none: setting.none })}
          placesOnly={setting.places === true}
          onChange={set}
        />
      );
    case "rows":
      return (
        <Rows {...fields} setting={setting} rows={(value ?? []) as readonly (Values & { readonly id: string })[]} />
      );
    default:
      return null;
  }
}

/** A value for each parameter of a procedure; those that were there stay. */
function argsFor({ procedures = [] }: Design, id: string, known: readonly { readonly id: string }[]) {
  const parameters = procedures.find((p) => p.id === id)?.parameters ?? [];
  return parameters.map((parameter) => known.find((arg) => arg.id === parameter.id) ?? { id: parameter.id, value: "" });
}

/** An expression within a sentence: as wide as what it says. */
function Expression({
  step,
  model,
  problems,
  onEnter,
  setting,
  path,
  who,
  value,
  onChange,
}: StepFields & {
  setting: Extract<Setting, { form: "expression" }>;
  /** Ids of the resources of a member of which it may ask. */
  who?: readonly string[];
  path: string;
  value: string;
  onChange: (value: string) => void;
}) {
  const id = useId();
  const ref = useRef<{ focus(): void; scrollIntoView(options: ScrollIntoViewOptions): void }>(null);
  const key = `${step.id}.${path}`;
  const focusField = useBuild((s) => s.focusField);
  useEffect(() => {
    if (focusField !== key || !ref.current) return;
    ref.current.focus();
    ref.current.scrollIntoView({ block: "center" });
    useBuild.setState({ focusField: undefined });
  }, [focusField, key]);
  const isName = setting.names === "new";
  return (
    <span
      className="inline-block max-w-full min-w-14 align-middle leading-normal"
      data-field={key}
      data-tip={setting.help}
    >
      <span id={`${id}-label`} className="sr-only">
        {setting.label}
      </span>
      {isName ? (
        <input
          ref={(field) => void (ref.current = field)}
          id={id}
          className="field mono field-sizing-content min-w-16 w-auto!"
          aria-labelledby={`${id}-label`}
          aria-invalid={problems.some((p) => p.field === key)}
          value={value}
          placeholder={setting.label.toLowerCase()}
          maxLength={80}
          spellCheck={false}
          autoComplete="off"
          onKeyDown={(event) => {
            if (event.key !== "Enter") return;
            event.preventDefault();
            onEnter();
          }}
          onChange={(event) => onChange(event.target.value)}
        />
      ) : (
        <ExpressionInput
          ref={ref}
          id={id}
          value={value}
          of={{ entity: setting.entity, scope: () => model()?.scope, ...(who && { who }) }}
          problems={problems.filter((p) => p.field === key)}
          labelledBy={`${id}-label`}
          describedBy={undefined}
          placeholder={setting.label.toLowerCase()}
          onChange={onChange}
          onEnter={onEnter}
        />
      )}
    </span>
  );
}

/** Resources, any one of which will do. */
function Resources({
  label,
  chosen,
  design,
  none,
  placesOnly = false,
  onChange,
}: {
  label: string;
  chosen: readonly string[];
  design: Design;
  none?: string;
  placesOnly?: boolean;
  onChange: (ids: string[]) => void;
}) {
  const all = resourcesOf(design).filter((e) => !placesOnly || kindOf(e).hasSpots);
  const open = all.filter(({ id }) => !chosen.includes(id));
  const nameOf = (id: string) => all.find((r) => r.id === id)?.name ?? "a deleted resource";
  return (
    <span className="inline-flex flex-wrap items-center gap-1 align-middle">
      {chosen.map((id, i) => (
        <span key={id} className="inline-flex items-center gap-1">
          {i > 0 && <span className="text-soft">or</span>}
          <span className="inline-flex items-center gap-1 rounded border border-line px-1.5 py-0.5">
            {nameOf(id)}
            <button
              className="text-soft"
              aria-label={`Without ${nameOf(id)}`}
              onClick={() => onChange(chosen.filter((c) => c !== id))}
            >
              <X size={12} />
            </button>
          </span>
        </span>
      ))}
      {open.length > 0 && (
        <Choice
          className="inline-flex! w-auto! leading-normal"
          label={chosen.length === 0 ? label : `Or another of ${label.toLowerCase()}`}
          value=""
          placeholder={chosen.length === 0 ? (none ?? "choose …") : "or …"}
          options={open.map(({ id, name }) => ({ value: id, label: name }))}
          onChange={(id) => onChange([...chosen, id])}
        />
      )}
      {all.length === 0 && (
        <span className="text-soft">
          {placesOnly ? "no place yet" : "no crew, equipment or place yet"}: put one on the floor
        </span>
      )}
    </span>
  );
}

/** Whether members of what a row names have rows of a table, so that it may ask who of them can. */
const hasRows = ({ elements }: Design, { anyOf, can }: Values): boolean =>
  String(can ?? "") !== "" ||
  elements.some((e) => (anyOf as string[]).includes(e.id) && "table" in e && e.table !== "");

/** Rows of a list: what is set, what is claimed, values for a procedure. */
function Rows({
  setting,
  rows,
  ...fields
}: StepFields & {
  setting: Extract<Setting, { form: "rows" }>;
  rows: readonly (Values & { readonly id: string })[];
}) {
  const { step, design, edit } = fields;
  const list = setting.name;
  const write = (id: string, name: string, next: unknown) =>
    edit(setting.label, `${list}/${id}/${name}`, (draft) => {
      const row = (draft[list] as Record<string, unknown>[]).find((one) => one.id === id);
      if (row) row[name] = next;
    });
  const isCall = list === "args";
  const parameters = isCall
    ? (design.procedures?.find(({ id }) => id === (step as unknown as Values).procedure)?.parameters ?? [])
    : [];
  const cell = (row: Values & { readonly id: string }, name: string) => {
    const of = settingsIn(setting.row).find((one) => one.name === name);
    if (of?.form === "expression")
      return (
        <Expression
          {...fields}
          setting={of}
          path={`${list}.${row.id}.${name}`}
          {...(of.knowsWho ? { who: (row.anyOf ?? []) as string[] } : {})}
          value={String(row[name] ?? "")}
          onChange={(next) => write(row.id, name, next)}
        />
      );
    return (
      <Resources
        label={of?.label ?? ""}
        chosen={(row[name] ?? []) as string[]}
        design={design}
        onChange={(ids) => write(row.id, name, ids)}
      />
    );
  };
  const shown = isCall ? parameters.map(({ id }) => rows.find((row) => row.id === id) ?? { id, value: "" }) : rows;
  if (isCall && shown.length === 0) return <span className="text-soft">nothing</span>;
  return (
    <span className="inline-flex flex-wrap items-center gap-x-2 gap-y-1 align-middle">
      {shown.map((row, i) => (
        <span key={row.id} className="inline-flex items-center gap-1.5">
          {isCall ? (
            <>
              <span>{parameters[i].name} =</span> {cell(row, "value")}
            </>
          ) : list === "needs" ? (
            <>
              {cell(row, "count")} {cell(row, "anyOf")}
              {hasRows(design, row) && (
                <>
                  <span>where</span> {cell(row, "can")}
                </>
              )}
            </>
          ) : list === "values" && step.do === "write" ? (
            <>
              {cell(row, "column")} <span className="text-soft">=</span> {cell(row, "to")}
            </>
          ) : (
            <>
              {cell(row, "what")} <span className="text-soft">to</span> {cell(row, "to")}
            </>
          )}
          {!isCall && rows.length > 1 && (
            <button
              className="text-soft"
              aria-label={`Delete ${setting.one} ${i + 1}`}
              onClick={() =>
                edit(setting.label, `${list}/delete/${row.id}`, (draft) => {
                  draft[list] = (draft[list] as { id: string }[]).filter(({ id }) => id !== row.id);
                })
              }
            >
              <X size={12} />
            </button>
          )}
          {i < shown.length - 1 && <Fragment>{list === "needs" ? "and" : ";"}</Fragment>}
        </span>
      ))}
      {!isCall && (
        <button
          className="rounded p-0.5 text-soft hover:bg-water"
          aria-label={`Add ${setting.one}`}
          data-tip={`Add ${setting.one}`}
          onClick={() => {
            const row = freshRow(setting, design);
            edit(setting.label, `${list}/add/${row.id}`, (draft) => {
              draft[list] = [...(draft[list] as object[]), row];
            });
            const [first] = settingsIn(setting.row).filter(({ form }) => form === "expression");
            if (first) useBuild.setState({ focusField: `${step.id}.${list}.${row.id}.${first.name}` });
          }}
        >
          <Plus size={13} />
        </button>
      )}
    </span>
  );
}
