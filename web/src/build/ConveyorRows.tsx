import { CONVEYOR_DEFAULTS, type Link, LINK_SETTINGS, type Problem, type Study } from "@busy-harbor/core";
import { ChoiceRow, TextRow } from "./fields.tsx";

const BEHIND = [
  ["close up", "close up to it"],
  ["stand", "stand, as all on the belt"],
] as const;

/** Settings of a conveyor that are expressions, in the order of the card, with what stands where one is empty. */
const ROWS = [
  ["radius", "corners"],
  ["beltSpeed", ""],
  ["beltRoom", ""],
  ["beltStands", "never"],
  ["beltEvery", "no breakdowns"],
  ["beltRepair", ""],
  ["precedence", "0, first come"],
] as const;

type ConveyorField = (typeof ROWS)[number][0] | "accumulates" | "calendar";

/** What the card of a conveyor has besides its length. */
export function ConveyorRows({
  link,
  study,
  original,
  problems,
  set,
}: {
  link: Link;
  study: Study;
  /** The link of the design that this one was copied from. */
  original: Link | undefined;
  problems: readonly Problem[];
  set: (field: ConveyorField, value: unknown) => void;
}) {
  const of = (field: string) => problems.filter((p) => p.field === field);
  const calendars = study.calendars.filter(({ gives }) => gives === "capacity");
  const nameOf = (id: string | undefined) => calendars.find((c) => c.id === id)?.name ?? "none: always";
  const behindOf = ({ accumulates }: Link) => (accumulates === false ? "stand" : "close up");
  const textOf = (of: Link, field: (typeof ROWS)[number][0]) =>
    of[field] ?? (CONVEYOR_DEFAULTS as Readonly<Record<string, string>>)[field] ?? "";
  const rows = ROWS.filter(([field]) => field !== "beltRepair" || textOf(link, "beltEvery") !== "" || link.beltRepair);
  return (
    <>
      {rows.slice(0, 3).map(row)}
      <ChoiceRow
        name="accumulates"
        label="Others"
        help="What those behind one do that waits at the end: close up to it, or stand where they are while the belt stands."
        was={
          original && behindOf(original) !== behindOf(link)
            ? BEHIND.find(([v]) => v === behindOf(original))![1]
            : undefined
        }
        value={behindOf(link)}
        choices={BEHIND}
        problems={of("accumulates")}
        onChange={(v) => set("accumulates", v === "stand" ? false : undefined)}
      />
      <ChoiceRow
        name="calendar"
        label="Runs by"
        help="The calendar by which it runs: it stands where that gives 0."
        was={original && original.calendar !== link.calendar ? nameOf(original.calendar) : undefined}
        value={link.calendar ?? ""}
        choices={[["", "none: always"], ...calendars.map((c) => [c.id, c.name] as const)]}
        problems={of("calendar")}
        onChange={(v) => set("calendar", v === "" ? undefined : v)}
      />
      {rows.slice(3).map(row)}
    </>
  );

  function row([field, placeholder]: (typeof ROWS)[number]) {
    const { label, help, entity = false, type, draws } = LINK_SETTINGS[field];
    return (
      <TextRow
        key={field}
        name={field}
        label={label}
        help={help}
        was={original && textOf(original, field) !== textOf(link, field) ? textOf(original, field) : undefined}
        expression={{ entity, ...(draws === undefined ? {} : { draws: type }) }}
        placeholder={placeholder}
        value={textOf(link, field)}
        problems={of(field)}
        onChange={(v) => set(field, v === "" && !(field in CONVEYOR_DEFAULTS) ? undefined : v)}
      />
    );
  }
}
