import {
  type Calendar,
  calendarFromTable,
  calendarSchema,
  type Problem,
  type Study,
  type Table,
} from "@busy-harbor/core";
import { ChoiceRow, Section, TextRow } from "../build/fields.tsx";
import { PatternDrawing } from "./PatternDrawing.tsx";

type From = NonNullable<Calendar["from"]>;

/** The columns of a table that are likely meant: the first of durations or times, and the first of other numbers. */
export function fromTable(table: Table, gives: Calendar["gives"]): From {
  const times = table.columns.find((c) => c.holds === "duration");
  const values = table.columns.find((c) => c.holds === "number" && c !== times);
  // A plain number beside times is how many came.
  const counts = gives === "rate" && values !== undefined && values.unit.trim() === "";
  return calendarSchema.shape.from
    .unwrap()
    .parse({ table: table.id, times: times?.id ?? "", values: values?.id ?? "", counts });
}

/** A calendar whose pattern is the rows of a table: which columns say how long and what. */
export function FromTable({
  calendar,
  from,
  study,
  problems,
  onChange,
}: {
  calendar: Calendar;
  from: From;
  study: Study;
  problems: readonly Problem[];
  onChange: (what: string, key: string, recipe: (calendar: Calendar) => void) => void;
}) {
  const table = study.tables.find(({ id }) => id === from.table);
  const set = (given: Partial<From>, key: string) =>
    onChange("Change the table", `from/${key}`, (c) => c.from && void Object.assign(c.from, given));
  const column = (name: "times" | "values", label: string) => (
    <ChoiceRow
      name={`from.${name}`}
      label={label}
      value={from[name]}
      choices={[
        ...(table?.columns.some((c) => c.id === from[name]) ? [] : [[from[name], "choose …"] as const]),
        ...(table?.columns ?? []).map((c) => [c.id, c.name] as const),
      ]}
      problems={[]}
      onChange={(id) => set({ [name]: id }, name)}
    />
  );
  const read = calendarFromTable(calendar, study.tables).calendar;
  return (
    <>
      {read.repeats === "pattern" && (
        <div className="py-2">
          <PatternDrawing calendar={read} />
        </div>
      )}
      <Section title="From a table">
        <ChoiceRow
          name="from.table"
          label="Rows of"
          value={from.table}
          choices={[
            ...(table ? [] : [[from.table, "choose …"] as const]),
            ...study.tables.map(({ id, name }) => [id, name] as const),
          ]}
          problems={[]}
          onChange={(id) => {
            const chosen = study.tables.find((t) => t.id === id);
            if (chosen) set(fromTable(chosen, calendar.gives), "table");
          }}
        />
        <ChoiceRow
          name="from.by"
          label="Each row"
          value={from.by}
          choices={[
            ["durations", "holds for a duration"],
            ["hours", "holds from an hour of each day on"],
            ["times", "holds from a time since the start on"],
          ]}
          problems={[]}
          onChange={(by) => set({ by }, "by")}
        />
        {column(
          "times",
          from.by === "durations" ? "Duration" : from.by === "hours" ? "From the hour" : "From the start",
        )}
        {column("values", calendar.gives === "rate" ? "What arrives" : "Capacity")}
        {calendar.gives === "rate" && (
          <ChoiceRow
            name="from.counts"
            label="Given as"
            value={from.counts ? "counts" : "rates"}
            choices={[
              ["rates", "rates"],
              ["counts", "counts in each row’s time"],
            ]}
            problems={[]}
            onChange={(as) => set({ counts: as === "counts" }, "counts")}
          />
        )}
        {from.by !== "hours" && (
          <TextRow
            name="fills"
            label="Should fill"
            help="What the durations should come to; the last row from a time on holds up to it."
            value={calendar.fills}
            problems={problems.filter((p) => p.field === "fills")}
            onChange={(fills) => onChange("Change", "fills", (c) => void (c.fills = fills))}
          />
        )}
      </Section>
    </>
  );
}
