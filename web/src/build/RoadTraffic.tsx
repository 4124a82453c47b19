import { type Problem, type Road, ROAD_SETTINGS, type Study } from "@busy-harbor/core";
import { Checkbox } from "../ui/Checkbox.tsx";
import { ChoiceRow, TextRow } from "./fields.tsx";

const filled = (text: string | undefined): boolean => (text ?? "").trim() !== "";

/** A number as it is; what is worked out in brackets, or it would be read wrong. */
const factorWords = (text: string): string => (/^[\d.]+$/.test(text.trim()) ? text.trim() : `(${text.trim()})`);

/** What of a way has to do with others on it, and with when it is open, as far as it is said, in words. */
export function trafficWords(road: Road, { calendars }: Study): string {
  const hours = calendars.find(({ id }) => id === road.calendar)?.name;
  return [
    ...(filled(road.room) ? [`room for ${road.room}${road.roomEach ? " each way" : ""}`] : []),
    ...(road.oneAtATime ? ["one direction at a time"] : []),
    ...(road.keepsOrder ? ["nobody passes another"] : []),
    ...(hours === undefined ? [] : [`open by ${hours}`]),
    ...(filled(road.closedWhile) ? [`closed while ${road.closedWhile}`] : []),
    ...(filled(road.every) ? [`breaks down every ${road.every} for ${road.repair || "…"}`] : []),
    ...(filled(road.factor) ? [`counted ${factorWords(road.factor!)} times its length`] : []),
  ]
    .map((words) => `, ${words}`)
    .join("");
}

const PLACEHOLDERS = { room: "no limit", factor: "1", closedWhile: "never", every: "never", repair: "" } as const;

/** Who may be on a way at once, who passes whom, when it is open, and how it counts when a way is looked for. */
export function RoadTraffic({
  road,
  study,
  problems,
  set,
}: {
  road: Road;
  study: Study;
  problems: readonly Problem[];
  set: <K extends keyof Road>(field: K, value: Road[K]) => void;
}) {
  const of = (field: string) => problems.filter((p) => p.field === field);
  const calendars = study.calendars.filter(({ gives }) => gives === "capacity");
  const row = (field: keyof typeof PLACEHOLDERS) => (
    <TextRow
      name={field}
      label={ROAD_SETTINGS[field].label}
      help={ROAD_SETTINGS[field].help}
      value={road[field] ?? ""}
      placeholder={PLACEHOLDERS[field]}
      expression={
        ROAD_SETTINGS[field].draws === undefined ? { road: field === "factor" } : { draws: ROAD_SETTINGS[field].type }
      }
      problems={of(field)}
      onChange={(text) => set(field, text === "" ? undefined : text)}
    />
  );
  const mark = (field: "oneAtATime" | "roomEach" | "keepsOrder" | "follow", words: string) => (
    <Checkbox
      checked={road[field] === true}
      className="flex items-center gap-2 py-1"
      onChange={(on) => set(field, on ? true : undefined)}
    >
      {words}
    </Checkbox>
  );
  return (
    <>
      {row("room")}
      <ChoiceRow
        name="calendar"
        label="Open by"
        help="The calendar by which it is open: nobody comes onto it where that gives 0."
        value={road.calendar ?? ""}
        choices={[["", "none: always"], ...calendars.map((c) => [c.id, c.name] as const)]}
        problems={of("calendar")}
        onChange={(v) => set("calendar", v === "" ? undefined : v)}
      />
      {row("closedWhile")}
      {row("every")}
      {filled(road.every) && row("repair")}
      {row("factor")}
      {!road.oneWay && mark("oneAtATime", "One direction at a time")}
      {!road.oneWay && !road.oneAtATime && filled(road.room) && mark("roomEach", "Its room is that of each direction")}
      {mark("keepsOrder", "Nobody passes another who goes the same way")}
      {mark("follow", "Measure who is on it")}
    </>
  );
}
