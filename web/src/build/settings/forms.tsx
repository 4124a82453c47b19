import { isClaimable, kindOf, type RowsSetting, type Setting, settingsIn } from "@busy-harbor/core";
import { Fragment, type ReactNode } from "react";
import { FactorButton } from "../../experiments/FactorButton.tsx";
import { announce } from "../../ui/announce.ts";
import { ChoiceRow, Section } from "../fields.tsx";
import { besides, CONTROLS } from "./controls.tsx";
import { CalendarRow, Fold, type Kit, type ListRow, ResourcesRow, type RowKit, type Settings } from "./kit.tsx";
import { Checkbox } from "../../ui/Checkbox.tsx";
import { ProblemList } from "../ProblemList.tsx";

/** The settings of an element in the sections of its kind, in the order in which an engineer decides them. */
export function formOf(kit: Kit): ReactNode {
  const { sections, settings } = kindOf(kit.element);
  const byName = new Map(settingsIn(settings).map((setting) => [setting.name, setting]));
  return sections.map(({ title, of, folded }, i) => {
    const shown = of.flatMap((name) => byName.get(name) ?? []);
    const rows = shown.map((setting) => <Fragment key={setting.name}>{settingRow(kit, setting)}</Fragment>);
    return (
      <Fragment key={title}>
        {folded ? (
          <Fold title={title} keys={of} open={kit.differs(...shown)}>
            {rows}
          </Fold>
        ) : (
          <Section title={title}>{rows}</Section>
        )}
        {i === 0 && besides(kit)}
      </Fragment>
    );
  });
}

/** One setting of the element itself. */
function settingRow(kit: Kit, setting: Setting): ReactNode {
  if (setting.used?.(kit.element as unknown as Settings) === false) return null;
  const control = CONTROLS[setting.name];
  if (control) return control(kit);
  const { name, label, help } = setting;
  switch (setting.form) {
    case "expression":
      return kit.row(name);
    case "choice":
      return kit.choice(name, label, setting.choices, help);
    case "flag":
      return (
        <div className="group/row flex items-center" data-place={JSON.stringify(["elements", kit.element.id, name])}>
          <Checkbox
            className="flex items-center gap-2 py-1"
            checked={kit.value(name) === true}
            onChange={(on) => kit.set(name, on, setting.told ?? label)}
          >
            {setting.sentence}
          </Checkbox>
          <FactorButton path={["elements", kit.element.id, name]} label={label} />
        </div>
      );
    case "reference":
      return setting.to === "shift calendar" || setting.to === "demand profile" ? (
        <CalendarRow
          kit={kit}
          field={name}
          label={label}
          gives={setting.to === "shift calendar" ? "capacity" : "rate"}
          none={setting.none ?? "choose …"}
        />
      ) : (
        kit.choice(name, label, referenceChoices(kit, setting, String(kit.value(name))), help)
      );
    case "text":
      return <LongText kit={kit} setting={setting} />;
    case "rows":
      return <Rows kit={kit} list={setting} />;
    default:
      return null;
  }
}

/** What a setting may name, with what stands for none; one that is gone is to be chosen anew. */
function referenceChoices(
  { design, element, study }: Kit,
  setting: Extract<Setting, { form: "reference" }>,
  value: string,
): (readonly [string, string])[] {
  const there =
    setting.to === "entity type"
      ? design.entityTypes
      : setting.to === "table"
        ? study.tables
        : design.elements.filter(
            (e) => (setting.orItself || e.id !== element.id) && (setting.of !== "enterable" || kindOf(e).hasWayIn),
          );
  const known = there.some(({ id }) => id === value) || (value === "" && setting.none !== undefined);
  return [
    ...(setting.none === undefined ? [] : [["", setting.none] as const]),
    ...(known ? [] : [[value, "choose …"] as const]),
    ...there.map(({ id, name }) => [id, name] as const),
  ];
}

const attributesOf = ({ design }: Kit): string[] => [
  ...new Set(design.entityTypes.flatMap((t) => t.attributes.map((a) => a.name))),
];

/** Rows of a list, each with its settings. */
function Rows({ kit, list }: { kit: Kit; list: RowsSetting }): ReactNode {
  const row = settingsIn(list.row);
  const items = kit.value(list.name) as readonly ListRow[];
  if (row.some(({ form }) => form === "attribute") && attributesOf(kit).length === 0 && items.length === 0)
    return <p className="text-soft">No entity type has an attribute yet: add one on the design's card.</p>;
  // What is wrong with the list as a whole stands before its rows.
  const whole = kit.of(list.name);
  return (
    <>
      {whole.length > 0 && <ProblemList problems={whole} />}
      {kit.rows(
        list.name,
        list.one,
        () => freshRow(kit, list),
        (item, at) => row.map((setting) => <Fragment key={setting.name}>{cellOf(kit, setting, item, at)}</Fragment>),
      )}
    </>
  );
}

/** A new row: its defaults, and the first of what it must name. */
function freshRow(kit: Kit, list: RowsSetting): Readonly<Record<string, unknown>> {
  const initial = (setting: Setting): unknown => {
    if (setting.form === "reference" && setting.first) return kit.design.entityTypes[0]?.id ?? "";
    if (setting.form === "attribute") return attributesOf(kit)[0] ?? "";
    if (setting.form === "resources" && setting.required)
      return kit.design.elements
        .filter((e) => isClaimable(e))
        .slice(0, 1)
        .map((e) => e.id);
    return setting.schema.parse(undefined);
  };
  return {
    ...Object.fromEntries(settingsIn(list.row).map((setting) => [setting.name, initial(setting)])),
    ...list.fresh?.(kit.element as unknown as Settings),
  };
}

/** One setting of a row. */
function cellOf(kit: Kit, setting: Setting, item: ListRow, at: RowKit): ReactNode {
  const values = item as unknown as Settings;
  const { name, label } = setting;
  if (setting.used?.(values) === false) return null;
  const row = (choices: readonly (readonly [string, string])[]) => (
    <ChoiceRow
      name={`${at.key}.${name}`}
      label={label}
      value={String(values[name])}
      choices={choices}
      problems={at.of(name)}
      onChange={(v) => at.set(name, v)}
    />
  );
  switch (setting.form) {
    case "expression":
      return at.field(name);
    case "choice":
      return row(setting.choices);
    case "reference":
      return row(referenceChoices(kit, setting, String(values[name])));
    case "attribute": {
      const [known, value] = [attributesOf(kit), String(values[name])];
      return row([
        ...(known.includes(value) ? [] : [[value, value || "choose …"] as const]),
        ...known.map((a) => [a, a] as const),
      ]);
    }
    case "resources":
      return (
        <ResourcesRow
          name={`${at.key}.${name}`}
          label={label}
          chosen={values[name] as readonly string[]}
          design={kit.design}
          self={kit.element.id}
          problems={at.of(name)}
          onChange={(ids) => at.set(name, ids)}
        />
      );
    case "several":
      return <Several setting={setting} chosen={values[name] as readonly string[]} set={(v) => at.set(name, v)} />;
    default:
      return null;
  }
}

/** Some of a few words, one at least. */
function Several({
  setting,
  chosen,
  set,
}: {
  setting: Extract<Setting, { form: "several" }>;
  chosen: readonly string[];
  set: (chosen: readonly string[]) => void;
}) {
  return (
    <fieldset className="grid grid-cols-[104px_1fr] gap-x-3 py-1">
      <legend className="float-left contents text-soft">
        <span>{setting.label}</span>
      </legend>
      <div className="flex flex-wrap gap-x-3">
        {setting.choices.map((choice) => (
          <Checkbox
            key={choice}
            className="flex items-center gap-1"
            checked={chosen.includes(choice)}
            onChange={(on) => {
              const next = setting.choices.filter((c) => (c === choice ? on : chosen.includes(c)));
              if (next.length > 0) set(next);
              else announce("It is for one of these at least. Delete the row if it is for none.");
            }}
          >
            {choice}
          </Checkbox>
        ))}
      </div>
    </fieldset>
  );
}

/** A text of several lines; pasted columns and rows will do. */
function LongText({ kit, setting }: { kit: Kit; setting: Extract<Setting, { form: "text" }> }) {
  const { name, label, told, example } = setting;
  const problems = kit.of(name);
  return (
    <label className="block py-1" data-field={name}>
      <span className="text-soft">{label}</span>
      <textarea
        className="field mono"
        rows={5}
        spellCheck={false}
        maxLength={200_000}
        aria-invalid={problems.length > 0}
        placeholder={example}
        value={String(kit.value(name))}
        onChange={(event) => kit.set(name, event.target.value.replaceAll("\t", "\n"), told ?? label)}
      />
      {problems.map((p) => (
        <span key={p.message} className="block text-xs text-buoy-deep">
          {p.message} <span className="text-ink">{p.hint}</span>
        </span>
      ))}
    </label>
  );
}
