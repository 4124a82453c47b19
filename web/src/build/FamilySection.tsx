import {
  type Design,
  type Element,
  type Family,
  familySchema,
  kindOf,
  type Model,
  MOST_MEMBERS,
  type Problem,
  settingsFromCells,
  type Study,
  type Table,
  tablesOf,
} from "@busy-harbor/core";
import { Plus, X } from "lucide-react";
import { useNavigate } from "react-router";
import { useStudy } from "../state/study.ts";
import { ChoiceRow, LengthRow, ReadRow } from "./fields.tsx";
import { Fold } from "./settings/kit.tsx";

const KEYS = ["family"];
/** Members told one by one on the card. */
const TOLD = 8;

const whole =
  (least: number, most: number) =>
  (text: string): number | undefined => {
    const n = Number(text);
    return text.trim() !== "" && Number.isInteger(n) && n >= least && n <= most ? n : undefined;
  };

/** Whether an element stands for several members: how many, where they lie, and what each has from a table. */
export function FamilySection({
  element,
  design,
  study,
  model,
  problems,
}: {
  element: Element;
  design: Design;
  study: Study;
  model: Model | undefined;
  problems: readonly Problem[];
}) {
  const { changeDesign } = useStudy.getState();
  const { family } = element;
  const tables = tablesOf(study.tables, design.tables);
  const table = tables.find(({ id }) => id === family?.table);
  const of = (field: string) => problems.filter((p) => p.field === field);
  const change = (what: string, recipe: (target: Element) => void, mergeKey?: string) =>
    changeDesign(
      `${what} of ${element.name}`,
      (d) => {
        const target = d.elements.find((e) => e.id === element.id);
        if (target) recipe(target);
      },
      mergeKey && `${element.id}/family/${mergeKey}`,
    );
  const set = (given: Partial<Family>, what: string, mergeKey?: string) =>
    change(what, (e) => e.family && void Object.assign(e.family, given), mergeKey);
  const makes = family === undefined ? "one" : family.table === "" ? "count" : "table";
  const choose = (wish: "one" | "count" | "table") =>
    change("Change members", (e) => {
      if (wish === "one") delete e.family;
      else e.family = { ...(e.family ?? familySchema.parse({})), table: wish === "table" ? (tables[0]?.id ?? "") : "" };
      if (e.family?.table === "" && e.family.lies === "columns") e.family.lies = "line";
    });
  return (
    <Fold title="Family" open={family !== undefined || problems.some((p) => p.field?.startsWith("family"))} keys={KEYS}>
      <ChoiceRow
        name="family"
        label="Stands for"
        value={makes}
        choices={[
          ["one", "itself alone"],
          ["count", "members by count"],
          ...(tables.length > 0 || makes === "table" ? [["table", "a member for each row"] as const] : []),
        ]}
        problems={of("family")}
        onChange={choose}
      />
      {family && makes === "count" && (
        <ReadRow
          name="family.count"
          label="Members"
          shown={String(family.count)}
          read={whole(1, MOST_MEMBERS)}
          refusal={{
            message: `A whole number from 1 to ${MOST_MEMBERS} is wanted.`,
            hint: `${family.count} is used until then.`,
          }}
          onChange={(count) => set({ count }, "Change members", "count")}
        />
      )}
      {family && makes === "table" && (
        <ChoiceRow
          name="family.table"
          label="Rows of"
          value={family.table}
          choices={[
            ...(table ? [] : [[family.table, "choose …"] as const]),
            ...tables.map(({ id, name }) => [id, name] as const),
          ]}
          problems={of("family.table")}
          onChange={(id) => set({ table: id, columns: {}, x: "", y: "" }, "Change members")}
        />
      )}
      {family && <Layout family={family} table={table} study={study} of={of} set={set} />}
      {family && table && <FromTable element={element} family={family} table={table} of={of} set={set} />}
      {family && model && <Members element={element} model={model} table={table} />}
    </Fold>
  );
}

interface PartProps {
  readonly family: Family;
  readonly of: (field: string) => readonly Problem[];
  readonly set: (given: Partial<Family>, what: string, mergeKey?: string) => void;
}

/** Where members lie. */
function Layout({ family, table, study, of, set }: PartProps & { table: Table | undefined; study: Study }) {
  const [dx, dy] = family.step;
  const length = (label: string, axis: 0 | 1) => (
    <LengthRow
      name={`family.step.${axis}`}
      label={label}
      metres={family.step[axis]}
      units={study.units}
      onChange={(metres) => set({ step: axis === 0 ? [metres, dy] : [dx, metres] }, "Move members", `step${axis}`)}
    />
  );
  const column = (name: "x" | "y", label: string) => (
    <ChoiceRow
      name={`family.${name}`}
      label={label}
      value={family[name]}
      choices={[
        ...(table?.columns.some((c) => c.id === family[name]) ? [] : [[family[name], "choose …"] as const]),
        ...(table?.columns ?? []).map((c) => [c.id, c.name] as const),
      ]}
      problems={of(`family.${name}`)}
      onChange={(id) => set({ [name]: id }, "Change places of members")}
    />
  );
  return (
    <>
      <ChoiceRow
        name="family.lies"
        label="They lie"
        value={family.lies}
        choices={[
          ["line", "in a line"],
          ["grid", "in a grid"],
          ...(table ? [["columns", "where columns say"] as const] : []),
        ]}
        problems={[]}
        onChange={(lies) => set({ lies }, "Change places of members")}
      />
      {family.lies === "grid" && (
        <ReadRow
          name="family.across"
          label="In a line"
          shown={String(family.across)}
          read={whole(1, MOST_MEMBERS)}
          refusal={{ message: "A whole number above 0 is wanted.", hint: `${family.across} is used until then.` }}
          onChange={(across) => set({ across }, "Change places of members", "across")}
        />
      )}
      {family.lies === "columns" ? (
        <>
          {column("x", "Across by")}
          {column("y", "Down by")}
        </>
      ) : (
        <>
          {length("Next, across", 0)}
          {length("Next, down", 1)}
        </>
      )}
    </>
  );
}

/** Settings that are no expressions, and that each member has from a column. */
function FromTable({ element, family, table, of, set }: PartProps & { element: Element; table: Table }) {
  const offered = settingsFromCells(kindOf(element).settings);
  const chosen = offered.filter(({ name }) => name in family.columns);
  const free = offered.filter(({ name }) => !(name in family.columns));
  const put = (columns: Family["columns"]) => set({ columns }, "Change settings from the table");
  return (
    <div className="pt-1.5">
      <p className="pb-1 text-xs text-soft">
        Any expression of this card may read the member’s row, as row.{exampleOf(table)}, and its number, as member.
        Other settings can come from a column:
      </p>
      {chosen.map(({ name, label }) => (
        <div key={name} className="flex items-start gap-1">
          <div className="min-w-0 grow">
            <ChoiceRow
              name={`family.columns.${name}`}
              label={label}
              value={family.columns[name]}
              choices={[
                ...(table.columns.some((c) => c.id === family.columns[name])
                  ? []
                  : [[family.columns[name], "choose …"] as const]),
                ...table.columns.map((c) => [c.id, c.name] as const),
              ]}
              problems={of(`family.columns.${name}`)}
              onChange={(id) => put({ ...family.columns, [name]: id })}
            />
          </div>
          <button
            className="button button-quiet mt-1.5 text-soft"
            aria-label={`${label}: all members alike`}
            data-tip="All members alike"
            onClick={() => put(Object.fromEntries(Object.entries(family.columns).filter(([key]) => key !== name)))}
          >
            <X size={14} />
          </button>
        </div>
      ))}
      {free.length > 0 && table.columns.length > 0 && (
        <ChoiceRow
          name="family.columns"
          label="From a column"
          value=""
          choices={[["", "choose a setting …"], ...free.map(({ name, label }) => [name, label] as const)]}
          problems={[]}
          onChange={(name) => name !== "" && put({ ...family.columns, [name]: likelyColumn(table) })}
        />
      )}
    </div>
  );
}

/** The first column of words that members are not known by, or else the first there is. */
const likelyColumn = ({ columns, key }: Table): string => {
  const others = columns.filter((c) => c.id !== key);
  return (others.find((c) => c.holds === "text") ?? others[0] ?? columns[0]).id;
};

const exampleOf = ({ columns, key }: Table): string =>
  (columns.find((c) => c.id !== key)?.name ?? "column").replace(/[^\p{L}\p{N}]/gu, "");

/** The members by name, and the way to where they are told. */
function Members({ element, model, table }: { element: Element; model: Model; table: Table | undefined }) {
  const navigate = useNavigate();
  const studyId = useStudy((s) => s.id);
  const members = model.nodes.filter((node) => node.member?.family.id === element.id);
  const names = members.slice(0, TOLD).map((node) => node.member!.key);
  const more = members.length - names.length;
  return (
    <div className="flex items-start justify-between gap-2 py-1" data-testid="members">
      <p className="min-w-0 text-soft wrap-anywhere">
        {members.length} {members.length === 1 ? "member" : "members"}: {names.join(", ")}
        {more > 0 && `, and ${more} more`}
      </p>
      {table && (
        <button
          className="button shrink-0"
          onClick={() => void navigate(`/study/${studyId}/build/tables?table=${table.id}`)}
        >
          <Plus size={14} /> Rows
        </button>
      )}
    </div>
  );
}
