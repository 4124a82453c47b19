import {
  BREAKDOWN_CLOCKS,
  type Element,
  type ElementKindName,
  type ElementOf,
  LINE_ORDERS,
  WORK_PHASES,
} from "@busy-harbor/core";
import { Trash2 } from "lucide-react";
import type { ReactNode } from "react";
import { setNeed } from "../../state/edits.ts";
import { useStudy } from "../../state/study.ts";
import { announce } from "../../ui/announce.ts";
import { ChoiceRow, KeptInput, Section } from "../fields.tsx";
import { CalendarRow, Fold, type Kit, ResourcesRow } from "./kit.tsx";
import { BellChoice, BreakdownChoice } from "./RuleChoice.tsx";

const ORDER_LABELS: ReadonlyArray<readonly [(typeof LINE_ORDERS)[number], string]> = [
  ["first come", "who came first"],
  ["last come", "who came last"],
  ["smallest first", "the smallest"],
  ["largest first", "the largest"],
];
const WHEN_FULL = [
  ["wait", "wait at the place before"],
  ["lose", "be turned away"],
] as const;
const CLOCK_LABELS: Readonly<Record<(typeof BREAKDOWN_CLOCKS)[number], string>> = {
  "clock time": "time on the clock",
  "busy time": "time at work",
  jobs: "jobs done",
};

type Breakable = ElementOf<"station"> | ElementOf<"equipment">;
type Line = ElementOf<"station"> | ElementOf<"queue">;
type Breakdown = Breakable["breakdowns"][number];
type Need = ElementOf<"station">["needs"][number];

/** The order of the line, who does not join it and who gives up. */
const lineFold = (kit: Kit<Line>): ReactNode => (
  <Fold
    key="line"
    title="Order and patience of its line"
    keys={["rank", "balk", "patience"]}
    open={kit.element.order !== "first come" || kit.says("balk", "patience")}
  >
    {kit.choice("order", "Next is", ORDER_LABELS)}
    {kit.row("rank")}
    {kit.row("balk")}
    {kit.row("patience")}
  </Fold>
);

function breakdownFold(kit: Kit<Breakable>): ReactNode {
  const { element, design } = kit;
  return (
    <Fold key="breakdowns" title="Breakdowns" keys={["breakdowns"]} open={kit.says("breakdowns")}>
      {kit.rows<Breakdown>(
        "breakdowns",
        "breakdown",
        () => ({
          clock: "clock time",
          every: "exponential(20 h)",
          jobs: "100",
          repair: "exponential(1 h)",
          anyOf: [],
          count: "1",
        }),
        (row, at) => (
          <>
            <ChoiceRow
              name={`${at.key}.clock`}
              label="Counts"
              value={row.clock}
              choices={BREAKDOWN_CLOCKS.map((c) => [c, CLOCK_LABELS[c]] as const)}
              problems={at.of("clock")}
              onChange={(v) => at.set("clock", v)}
            />
            {at.field("every")}
            {at.field("jobs")}
            {at.field("repair")}
            <ResourcesRow
              name={`${at.key}.anyOf`}
              label="Repaired by"
              chosen={row.anyOf}
              design={design}
              self={element.id}
              problems={at.of("anyOf")}
              onChange={(ids) => at.set("anyOf", ids)}
            />
            {at.field("count")}
          </>
        ),
      )}
      {element.kind === "station" && element.breakdowns.length > 0 && (
        <BreakdownChoice
          value={element.onBreakdown}
          onChange={(v) => kit.set("onBreakdown", v, "work on a breakdown")}
        />
      )}
    </Fold>
  );
}

const costFold = (kit: Kit<ElementOf<"station"> | ElementOf<"crew"> | ElementOf<"equipment">>): ReactNode => (
  <Fold
    key="cost"
    title="Cost"
    keys={["costBusy", "costOpen", "costEach"]}
    open={kit.says("costBusy", "costOpen", "costEach")}
  >
    {kit.row("costBusy")}
    {kit.row("costOpen")}
    {kit.row("costEach")}
  </Fold>
);

function hoursFold(kit: Kit<ElementOf<"station"> | ElementOf<"crew"> | ElementOf<"equipment">>): ReactNode {
  const { element } = kit;
  return (
    <Fold key="hours" title="Hours" keys={["calendar"]} open={kit.says("calendar")}>
      <CalendarRow kit={kit} field="calendar" label="Shift calendar" gives="capacity" none="none: always there" />
      {element.calendar !== "" && (
        <BellChoice value={element.atBell} onChange={(v) => kit.set("atBell", v, "work when a pause begins")} />
      )}
    </Fold>
  );
}

/** Entities that are there when a replication starts. */
function initialFold(kit: Kit<Line>): ReactNode {
  const { design } = kit;
  return (
    <Fold key="initial" title="At the start" keys={["initial"]} open={kit.says("initial")}>
      {kit.rows<Line["initial"][number]>(
        "initial",
        "entity type",
        () => ({ entityType: design.entityTypes[0]?.id ?? "", count: "1" }),
        (row, at) => (
          <>
            <ChoiceRow
              name={`${at.key}.entityType`}
              label="Entity type"
              value={row.entityType}
              choices={typeChoices(design, row.entityType)}
              problems={at.of("entityType")}
              onChange={(v) => at.set("entityType", v)}
            />
            {at.field("count")}
          </>
        ),
      )}
    </Fold>
  );
}

function stationForm(kit: Kit<ElementOf<"station">>): ReactNode {
  const { element, design } = kit;
  return (
    <>
      <Section title="Work">
        {kit.row("capacity")}
        {kit.row("time")}
        {kit.row("room")}
        {kit.choice("whenFull", "When full", WHEN_FULL)}
      </Section>
      {lineFold(kit as unknown as Kit<Line>)}
      {hoursFold(kit as unknown as Parameters<typeof hoursFold>[0])}
      <Fold
        title="Setup and teardown"
        keys={["setup", "setupBy", "changeovers", "teardown"]}
        open={kit.says("setup", "teardown", "changeovers") || element.setupWhen === "on change"}
      >
        {kit.choice("setupWhen", "Set up", [
          ["always", "before each"],
          ["on change", "on a change"],
        ])}
        {kit.row("setupBy")}
        {kit.row("setup")}
        {element.setupWhen === "on change" &&
          kit.rows<ElementOf<"station">["changeovers"][number]>(
            "changeovers",
            "changeover",
            () => ({ from: "", to: "", time: "10 min" }),
            (_, at) => (
              <>
                {at.field("from")}
                {at.field("to")}
                {at.field("time")}
              </>
            ),
          )}
        {kit.row("teardown")}
      </Fold>
      <Fold title="Resources" keys={["needs", "priority"]} open={kit.says("needs")}>
        {kit.rows<Need>(
          "needs",
          "need",
          () => ({ anyOf: firstResource(design), count: "1", phases: ["work"] }),
          (row, at) => (
            <>
              <ResourcesRow
                name={`${at.key}.anyOf`}
                label="Needs"
                chosen={row.anyOf}
                design={design}
                self={element.id}
                problems={at.of("anyOf")}
                onChange={(ids) => at.set("anyOf", ids)}
              />
              {at.field("count")}
              <fieldset className="grid grid-cols-[104px_1fr] gap-x-3 py-1">
                <legend className="float-left contents text-soft">
                  <span>For</span>
                </legend>
                <div className="flex flex-wrap gap-x-3">
                  {WORK_PHASES.map((phase) => (
                    <label key={phase} className="flex items-center gap-1">
                      <input
                        type="checkbox"
                        className="accent-action"
                        checked={row.phases.includes(phase)}
                        onChange={(event) => {
                          const phases = WORK_PHASES.filter((p) =>
                            p === phase ? event.target.checked : row.phases.includes(p),
                          );
                          if (phases.length > 0) at.set("phases", phases);
                          else announce("A need is for one phase at least. Delete the need if it is for none.");
                        }}
                      />
                      {phase}
                    </label>
                  ))}
                </div>
              </fieldset>
            </>
          ),
        )}
        {kit.row("priority")}
        {element.needs.length > 0 && (
          <label className="flex items-center gap-2 py-1">
            <input
              type="checkbox"
              className="accent-action"
              checked={element.keepResources}
              onChange={(event) => kit.set("keepResources", event.target.checked, "keeping resources")}
            />
            Kept from phase to phase where the next needs them too
          </label>
        )}
      </Fold>
      {breakdownFold(kit as unknown as Kit<Breakable>)}
      <Fold
        title="Batches"
        keys={["batchLeast", "batchMost", "batchWait"]}
        open={element.batchMost !== "1" || element.batchLeast !== "1" || kit.of("batchMost").length > 0}
      >
        {kit.row("batchLeast")}
        {kit.row("batchMost")}
        {kit.row("batchWait")}
      </Fold>
      <Fold title="Rework" keys={["rework"]} open={kit.says("rework")}>
        {kit.row("rework")}
      </Fold>
      {initialFold(kit as unknown as Kit<Line>)}
      {costFold(kit as unknown as Parameters<typeof costFold>[0])}
    </>
  );
}

const firstResource = (design: Kit["design"]): string[] =>
  design.elements
    .filter((e) => e.kind === "crew" || e.kind === "equipment")
    .slice(0, 1)
    .map((e) => e.id);

const typeChoices = (design: Kit["design"], value: string, none?: string): (readonly [string, string])[] => [
  ...(none !== undefined ? [["", none] as const] : []),
  ...(value !== "" || none === undefined
    ? design.entityTypes.some((t) => t.id === value)
      ? []
      : [[value, "choose …"] as const]
    : []),
  ...design.entityTypes.map((t) => [t.id, t.name] as const),
];

function arrivalsForm(kit: Kit<ElementOf<"arrivals">>): ReactNode {
  const { element, design } = kit;
  const attributes = [...new Set(design.entityTypes.flatMap((t) => t.attributes.map((a) => a.name)))];
  return (
    <>
      <Section title="Arrive">
        {element.mix.length === 0 && kit.choice("entityType", "Entity type", typeChoices(design, element.entityType))}
        {kit.choice("by", "When", [
          ["time between", "by the time between"],
          ["profile", "by a demand profile"],
          ["list", "at listed times"],
        ])}
        {kit.row("between")}
        {kit.row("first")}
        {element.by === "profile" && (
          <>
            <CalendarRow kit={kit} field="profile" label="Profile" gives="rate" none="choose …" />
            {kit.choice(
              "spacing",
              "Spacing",
              [
                ["random", "at random, at that rate"],
                ["even", "even, at that rate"],
              ],
              "Random: a Poisson process whose rate follows the profile exactly.",
            )}
          </>
        )}
        {element.by === "list" && (
          <>
            {kit.choice("listedAs", "Listed are", [
              ["times", "times from the start"],
              ["gaps", "gaps between arrivals"],
            ])}
            <ListedTimes kit={kit} />
          </>
        )}
        {kit.row("group")}
      </Section>
      <Fold title="Mix of entity types" keys={["mix"]} open={kit.says("mix")}>
        {kit.rows<ElementOf<"arrivals">["mix"][number]>(
          "mix",
          "entity type",
          () => ({ entityType: element.entityType, share: "50 %" }),
          (row, at) => (
            <>
              <ChoiceRow
                name={`${at.key}.entityType`}
                label="Entity type"
                value={row.entityType}
                choices={typeChoices(design, row.entityType)}
                problems={at.of("entityType")}
                onChange={(v) => at.set("entityType", v)}
              />
              {at.field("share")}
            </>
          ),
        )}
      </Fold>
      <Fold title="Attributes given at birth" keys={["sets"]} open={kit.says("sets")}>
        {attributes.length === 0 && element.sets.length === 0 ? (
          <p className="text-soft">No entity type has an attribute yet: add one on the design's card.</p>
        ) : (
          kit.rows<ElementOf<"arrivals">["sets"][number]>(
            "sets",
            "attribute",
            () => ({ attribute: attributes[0] ?? "", value: "0" }),
            (row, at) => (
              <>
                <ChoiceRow
                  name={`${at.key}.attribute`}
                  label="Attribute"
                  value={row.attribute}
                  choices={[
                    ...(attributes.includes(row.attribute)
                      ? []
                      : [[row.attribute, row.attribute || "choose …"] as const]),
                    ...attributes.map((a) => [a, a] as const),
                  ]}
                  problems={at.of("attribute")}
                  onChange={(v) => at.set("attribute", v)}
                />
                {at.field("value")}
              </>
            ),
          )
        )}
      </Fold>
      <Fold title="Limits" keys={["limit", "until"]} open={kit.says("limit", "until")}>
        {kit.row("limit")}
        {kit.row("until")}
      </Fold>
    </>
  );
}

/** Times of arrivals, one a line; pasted columns and rows will do. */
function ListedTimes({ kit }: { kit: Kit<ElementOf<"arrivals">> }) {
  const problems = kit.of("listed");
  return (
    <label className="block py-1" data-field="listed">
      <span className="text-soft">Times, one a line</span>
      <textarea
        className="field mono"
        rows={5}
        spellCheck={false}
        maxLength={200_000}
        aria-invalid={problems.length > 0}
        placeholder={"0 min\n12 min\n1.5 h"}
        value={kit.element.listed}
        onChange={(event) => kit.set("listed", event.target.value.replaceAll("\t", "\n"), "listed times")}
      />
      {problems.map((p) => (
        <span key={p.message} className="block text-xs text-buoy-deep">
          {p.message} <span className="text-ink">{p.hint}</span>
        </span>
      ))}
    </label>
  );
}

function queueForm(kit: Kit<ElementOf<"queue">>): ReactNode {
  return (
    <>
      <Section title="Line">
        {kit.row("room")}
        {kit.choice("whenFull", "When full", WHEN_FULL)}
      </Section>
      {lineFold(kit as unknown as Kit<Line>)}
      {initialFold(kit as unknown as Kit<Line>)}
    </>
  );
}

function gateForm(kit: Kit<ElementOf<"gate">>): ReactNode {
  const { element, design } = kit;
  const others = design.elements.filter(
    (e) => e.id !== element.id && e.kind !== "arrivals" && e.kind !== "crew" && e.kind !== "equipment",
  );
  return (
    <Section title="Opens">
      {kit.choice("opens", "By", [
        ["condition", "a condition"],
        ["signal", "a signal"],
        ["calendar", "a calendar"],
      ])}
      {kit.row("condition")}
      {element.opens === "signal" &&
        kit.choice("signal", "When one enters", [
          ...(others.some((e) => e.id === element.signal) ? [] : [[element.signal, "choose …"] as const]),
          ...others.map((e) => [e.id, e.name] as const),
        ])}
      {element.opens === "calendar" && (
        <CalendarRow kit={kit} field="calendar" label="Open in" gives="capacity" none="choose …" />
      )}
      {element.opens !== "calendar" &&
        kit.choice("release", "Lets pass", [
          ["all", "all that wait"],
          ["one", "one, then looks again"],
        ])}
    </Section>
  );
}

function joinForm(kit: Kit<ElementOf<"join">>): ReactNode {
  const { element, design } = kit;
  return (
    <Section title="Join">
      {kit.choice("gathers", "Joins", [
        ["alike", "entities with each other"],
        ["onto a carrier", "parts onto a carrier"],
      ])}
      {element.gathers === "onto a carrier" && kit.choice("carrier", "Carrier", typeChoices(design, element.carrier))}
      {kit.row("count")}
      {kit.row("match")}
      {kit.choice("keeps", "Joined", [
        ["for good", "for good"],
        ["to be undone", "until a split undoes it"],
      ])}
      {element.gathers === "alike" &&
        kit.choice("makes", "Goes on", typeChoices(design, element.makes, "the first of them"))}
    </Section>
  );
}

function splitForm(kit: Kit<ElementOf<"split">>): ReactNode {
  const { element, design } = kit;
  return (
    <Section title="Split">
      {kit.choice("does", "Does", [
        ["undo", "undo what was joined"],
        ["copy", "copy"],
        ["cut", "cut into pieces"],
      ])}
      {kit.row("count")}
      {element.does !== "undo" &&
        kit.choice(
          "makes",
          element.does === "copy" ? "Copies are" : "Pieces are",
          typeChoices(design, element.makes, "of the same type"),
        )}
    </Section>
  );
}

/** Who needs a resource, from its own end. */
function NeededBy({ kit }: { kit: Kit<ElementOf<"crew"> | ElementOf<"equipment">> }) {
  const { element, design } = kit;
  const { changeDesign, select } = useStudy.getState();
  const stations = design.elements.filter((e) => e.kind === "station");
  const users = stations.filter((s) => s.needs.some((n) => n.anyOf.includes(element.id)));
  const repairs = design.elements.filter(
    (e) => "breakdowns" in e && e.breakdowns.some((b) => b.anyOf.includes(element.id)),
  );
  const set = (id: string, name: string, count: string) =>
    changeDesign(
      `Change how many of ${element.name} ${name} needs`,
      (d) => {
        const station = d.elements.find((e) => e.id === id);
        if (station?.kind === "station") setNeed(station, element.id, count);
      },
      `${id}/needs/${element.id}`,
    );
  return (
    <Section title="Needed by">
      {users.map((s) => {
        const need = s.needs.find((n) => n.anyOf.includes(element.id))!;
        return (
          <div key={s.id} className="grid grid-cols-[1fr_76px_16px] items-center gap-2 py-0.5">
            <button
              className="truncate rounded px-1 text-left text-action underline-offset-2 hover:underline"
              onClick={() => select([s.id])}
            >
              {s.name}
              {need.phases.join() === "work" ? "" : `, ${need.phases.join(", ")}`}
              {need.anyOf.length > 1 ? ", or another" : ""}
            </button>
            <KeptInput
              label={`How many ${s.name} needs`}
              shown={need.count}
              read={(text) => text.trim() || undefined}
              wanted="How many?"
              onChange={(count) => set(s.id, s.name, count)}
            />
            <button className="text-soft" aria-label={`Not at ${s.name}`} onClick={() => set(s.id, s.name, "")}>
              <Trash2 size={13} />
            </button>
          </div>
        );
      })}
      {repairs.map((r) => (
        <p key={r.id} className="flex justify-between py-0.5">
          <button
            className="rounded px-1 text-action underline-offset-2 hover:underline"
            onClick={() => select([r.id])}
          >
            {r.name}
          </button>
          <span className="text-soft">repairs</span>
        </p>
      ))}
      {stations.length > users.length && (
        <ChoiceRow
          name="neededBy"
          label={users.length === 0 ? "Work at" : "And at"}
          value=""
          choices={[
            ["", "choose …"],
            ...stations.filter((s) => !users.includes(s)).map((s) => [s.id, s.name] as const),
          ]}
          problems={[]}
          onChange={(id) => id && set(id, stations.find((s) => s.id === id)!.name, "1")}
        />
      )}
    </Section>
  );
}

function poolForm(kit: Kit<ElementOf<"crew"> | ElementOf<"equipment">>): ReactNode {
  const { element } = kit;
  return (
    <>
      <Section title={element.kind === "crew" ? "People" : "Pieces"}>
        {kit.row("count")}
        {kit.choice(
          "order",
          "Served first",
          [
            ["first asked", "who asked first"],
            ["last asked", "who asked last"],
          ],
          "Among those who ask with the same priority.",
        )}
        <label className="flex items-center gap-2 py-1">
          <input
            type="checkbox"
            className="accent-action"
            checked={element.preempt}
            onChange={(event) => kit.set("preempt", event.target.checked, "preemption")}
          />
          Work of higher priority takes them from work of lower
        </label>
      </Section>
      <NeededBy kit={kit} />
      {hoursFold(kit as unknown as Parameters<typeof hoursFold>[0])}
      {element.kind === "equipment" && breakdownFold(kit as unknown as Kit<Breakable>)}
      {costFold(kit as unknown as Parameters<typeof costFold>[0])}
    </>
  );
}

const none = () => null;

/** The settings of each kind, in the order in which an engineer decides them. */
const FORMS: { readonly [K in ElementKindName]: (kit: Kit<ElementOf<K>>) => ReactNode } = {
  arrivals: arrivalsForm,
  queue: queueForm,
  station: stationForm,
  dwell: (kit) => <Section title="Stay">{kit.row("time")}</Section>,
  gate: gateForm,
  join: joinForm,
  split: splitForm,
  junction: none,
  departures: none,
  crew: poolForm as (kit: Kit<ElementOf<"crew">>) => ReactNode,
  equipment: poolForm as (kit: Kit<ElementOf<"equipment">>) => ReactNode,
};

export const formOf = (kit: Kit): ReactNode =>
  (FORMS[kit.element.kind] as unknown as (kit: Kit<Element>) => ReactNode)(kit);
