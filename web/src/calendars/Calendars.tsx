import { type Calendar, calendarFromTable, type Problem, renameCalendar, type Study } from "@busy-harbor/core";
import { History, Copy, Plus, Trash2 } from "lucide-react";
import { lazy, Suspense, useState } from "react";
import { useSearchParams } from "react-router";
import { Surfaces } from "../build/Surfaces.tsx";
import { ChoiceRow, NameRow, ReadRow, Section, TextRow } from "../build/fields.tsx";
import { UndoButtons } from "../build/UndoButtons.tsx";
import { newId } from "../state/edits.ts";
import { useCompiled } from "../state/compiled.ts";
import { useStudy } from "../state/study.ts";
import { addCalendar, keepersOf } from "./edits.ts";
import { FromTable, fromTable } from "./FromTable.tsx";
import { hasStamps } from "./stamps.ts";
import { PatternDrawing } from "./PatternDrawing.tsx";
import { Preview } from "./Preview.tsx";
import { Exceptions, PatternRows, WeekRows } from "./Rows.tsx";
import { wholeUpTo } from "./wholeUpTo.ts";
import { WeekDrawing } from "./WeekDrawing.tsx";
import { ToggleGroup } from "../ui/ToggleGroup.tsx";
import { DateField } from "../ui/DateField.tsx";

const MOST_WEEKS = 52;

/** Rates from time stamps are worked out when they are asked for. */
const StampsDialog = lazy(() => import("./StampsDialog.tsx"));

/** The calendars of the study: shifts, which give capacity, and demand profiles, which give rates. */
export function Calendars() {
  const study = useStudy((s) => s.history?.present);
  const [params, setParams] = useSearchParams();
  const compilation = useCompiled();
  if (!study) return null;
  const shown = study.calendars.find((c) => c.id === params.get("calendar")) ?? study.calendars[0];
  const show = (id: string) => setParams({ calendar: id }, { replace: true });
  const { change } = useStudy.getState();
  const add = (gives: Calendar["gives"]) => {
    let id = "";
    change(gives === "rate" ? "Add demand profile" : "Add shift calendar", (s) => void (id = addCalendar(s, gives)));
    show(id);
  };
  const list = (gives: Calendar["gives"], title: string, one: string) => (
    <section className="pb-4">
      <h2 className="caps pb-1">{title}</h2>
      {study.calendars
        .filter((c) => c.gives === gives)
        .map((c) => {
          const troubled = compilation?.problems.some((p) => p.id === c.id);
          return (
            <button
              key={c.id}
              aria-current={c.id === shown?.id}
              className={`flex w-full items-center justify-between rounded-md px-2 py-1 text-left ${c.id === shown?.id ? "bg-water font-medium" : "hover:bg-water"}`}
              onClick={() => show(c.id)}
            >
              <span className="truncate">{c.name}</span>
              {troubled && <span role="img" aria-label="has problems" className="h-2 w-2 rounded-full bg-buoy" />}
            </button>
          );
        })}
      <button className="button mt-1.5" onClick={() => add(gives)}>
        <Plus size={14} /> {one}
      </button>
    </section>
  );
  return (
    <div className="flex min-h-0 grow flex-col">
      <Surfaces />
      <div className="flex min-h-0 grow">
        <aside aria-label="Calendars" className="w-[220px] shrink-0 overflow-y-auto border-r border-line p-4">
          {list("capacity", "Shift calendars", "Shift calendar")}
          {list("rate", "Demand profiles", "Demand profile")}
          <div className="flex">
            <UndoButtons />
          </div>
        </aside>
        {shown ? (
          <Editor
            key={shown.id}
            calendar={shown}
            study={study}
            problems={compilation?.problems.filter((p) => p.id === shown.id) ?? []}
            onShow={show}
          />
        ) : (
          <main className="flex grow items-center justify-center p-8">
            <p className="max-w-sm text-center text-base text-soft">
              A shift calendar says when stations, crews and equipment are there; a demand profile says how fast
              entities arrive. Add one on the left.
            </p>
          </main>
        )}
      </div>
    </div>
  );
}

function Editor({
  calendar,
  study,
  problems,
  onShow,
}: {
  calendar: Calendar;
  study: Study;
  problems: readonly Problem[];
  onShow: (id: string) => void;
}) {
  const { change } = useStudy.getState();
  const [week, setWeek] = useState(1);
  const [stamps, setStamps] = useState(false);
  const [selected, setSelected] = useState<number>();
  const keepers = keepersOf(study, calendar.id);
  const edit = (what: string, key: string, recipe: (calendar: Calendar) => void) =>
    change(
      `${what} of ${calendar.name}`,
      (s) => {
        const target = s.calendars.find((c) => c.id === calendar.id);
        if (target) recipe(target);
      },
      `${calendar.id}/${key}`,
    );
  const set = (field: keyof Calendar, value: unknown) =>
    edit("Change", field, (c) => void Object.assign(c, { [field]: value }));
  /** Cells of tables that name it go along, unless another is called so too. */
  const renameCells = (from: string, to: string) => {
    if (study.calendars.some((c) => c.id !== calendar.id && c.name === from)) return;
    change(`Rename ${from} in tables`, (s) => {
      renameCalendar([...s.tables, ...s.designs.flatMap((d) => d.tables)], from, to);
    });
  };
  const of = (field: string) => problems.filter((p) => p.field === field);
  const weekly = calendar.repeats === "weeks";
  const general = problems.filter((p) => ["pattern", "rows", "from"].includes(p.field ?? ""));
  return (
    <main className="flex grow flex-wrap content-start gap-x-10 gap-y-4 overflow-y-auto p-5">
      <div className="w-[560px] max-w-full grow-3">
        <div className="grid grid-cols-2 gap-x-8">
          <NameRow
            name="name"
            label="Name"
            value={calendar.name}
            problems={[]}
            onChange={(v) => set("name", v)}
            onRenamed={renameCells}
          />
          <ChoiceRow
            name="gives"
            label="Gives"
            value={calendar.gives}
            choices={[
              ["capacity", "capacity, by shifts"],
              ["rate", "a rate of arrivals"],
            ]}
            problems={[]}
            onChange={(v) => set("gives", v)}
          />
          <ChoiceRow
            name="repeats"
            label="Goes by"
            value={calendar.from ? "table" : calendar.repeats}
            choices={[
              ["weeks", "days of the week"],
              ["pattern", "durations from the start"],
              ...(study.tables.length > 0 || calendar.from ? [["table", "rows of a table"] as const] : []),
            ]}
            problems={[]}
            onChange={(v) =>
              edit("Change what it goes by", "repeats", (c) => {
                c.repeats = v === "weeks" ? "weeks" : "pattern";
                if (v === "table") c.from = fromTable(study.tables[0], c.gives);
                else delete c.from;
              })
            }
          />
          {weekly ? (
            <ReadRow
              name="weeks"
              label="Repeats every"
              shown={String(calendar.weeks)}
              read={(text) => Number(wholeUpTo(MOST_WEEKS, text)) || undefined}
              refusal={{
                message: `A whole number of weeks from 1 to ${MOST_WEEKS} is wanted.`,
                hint: `${calendar.weeks} is used until then.`,
              }}
              sample={calendar.weeks === 1 ? "week" : "weeks"}
              onChange={(n) => set("weeks", n)}
            />
          ) : (
            <ChoiceRow
              name="after"
              label="Afterwards"
              value={calendar.after}
              choices={[
                ["repeat", "begins again"],
                ["hold", "the last row holds on"],
                ["stop", calendar.gives === "rate" ? "none arrive" : "off for good"],
              ]}
              problems={[]}
              onChange={(v) => set("after", v)}
            />
          )}
        </div>
        {general.map((p) => (
          <p
            key={p.message}
            role="alert"
            className={`my-2 rounded-md border-l-[3px] px-3 py-1.5 ${p.severity === "warning" ? "border-amber bg-water" : "border-buoy bg-warn"}`}
          >
            <strong className="font-semibold">{p.message}</strong> {p.hint}
          </p>
        ))}
        {weekly ? (
          <>
            {calendar.weeks > 1 && (
              <div className="flex flex-wrap items-center gap-1 pt-2">
                <span className="pr-1 text-soft">Week</span>
                <ToggleGroup
                  label="Week shown"
                  value={String(week)}
                  options={Array.from({ length: calendar.weeks }, (_, i) => [String(i + 1), String(i + 1)] as const)}
                  nameOf={(shown) => `Week ${shown}`}
                  onChange={(next) => setWeek(Number(next))}
                />
                <span className="ml-auto flex items-center gap-2 whitespace-nowrap text-soft">
                  First week holds{" "}
                  <DateField
                    label="First week holds"
                    value={calendar.firstWeek || study.run.start.slice(0, 10)}
                    onChange={(date) => set("firstWeek", date)}
                  />
                </span>
              </div>
            )}
            <div className="py-2">
              <WeekDrawing
                calendar={calendar}
                week={Math.min(week, calendar.weeks)}
                selected={selected}
                onSelect={setSelected}
                onChange={edit}
              />
            </div>
            <Section title="Rows">
              <WeekRows
                calendar={calendar}
                problems={problems}
                selected={selected}
                onSelect={setSelected}
                onChange={edit}
              />
              {calendar.gives === "rate" && (
                <button
                  className="button mt-2"
                  disabled={!hasStamps(study)}
                  data-tip={
                    hasStamps(study)
                      ? "Rates by interval, from the dates and times at which entities came"
                      : "A table with a column of dates is wanted: the dates and times at which entities came"
                  }
                  onClick={() => setStamps(true)}
                >
                  <History size={14} /> From when they came …
                </button>
              )}
              {stamps && (
                <Suspense>
                  <StampsDialog
                    study={study}
                    calendar={calendar}
                    onClose={() => setStamps(false)}
                    onUse={(rows) =>
                      edit("Take rates from when they came", "rows", (c) => {
                        c.rows = rows;
                        c.weeks = 1;
                      })
                    }
                  />
                </Suspense>
              )}
            </Section>
            <Section title="Dates with other hours">
              <Exceptions
                calendar={calendar}
                problems={problems}
                onChange={edit}
                firstDate={study.run.start.slice(0, 10)}
              />
            </Section>
          </>
        ) : calendar.from ? (
          <FromTable calendar={calendar} from={calendar.from} study={study} problems={problems} onChange={edit} />
        ) : (
          <>
            <div className="py-2">
              <PatternDrawing calendar={calendar} onChange={edit} />
            </div>
            <Section title="Rows">
              <TextRow
                name="fills"
                label="Should fill"
                help="What the durations should come to."
                value={calendar.fills}
                problems={of("fills")}
                onChange={(v) => set("fills", v)}
              />
              <PatternRows calendar={calendar} problems={problems} onChange={edit} />
            </Section>
          </>
        )}
      </div>
      <div className="w-[320px] grow">
        <Section title="The first two weeks of the run">
          <Preview calendar={calendarFromTable(calendar, study.tables).calendar} start={study.run.start} />
        </Section>
        <Section title="Kept by">
          {keepers.length === 0 ? (
            <p className="text-soft">
              Nothing yet: choose it on the card of{" "}
              {calendar.gives === "rate"
                ? "an Arrivals"
                : "a station, place, crew, equipment, vehicle, gate, conveyor or way"}
              .
            </p>
          ) : (
            <p>{keepers.join(", ")}</p>
          )}
        </Section>
        <div className="flex gap-2 border-t border-line pt-2.5">
          <button
            className="button"
            onClick={() => {
              const id = newId("calendar");
              change(
                `Copy ${calendar.name}`,
                (s) =>
                  void s.calendars.push({
                    ...(JSON.parse(JSON.stringify(calendar)) as Calendar),
                    id,
                    name: `${calendar.name}, copy`.slice(0, 80),
                  }),
              );
              onShow(id);
            }}
          >
            <Copy size={14} /> Copy
          </button>
          <button
            className="button"
            onClick={() =>
              change(
                `Delete ${calendar.name}`,
                (s) => void (s.calendars = s.calendars.filter((c) => c.id !== calendar.id)),
              )
            }
          >
            <Trash2 size={14} /> Delete
          </button>
        </div>
      </div>
    </main>
  );
}
