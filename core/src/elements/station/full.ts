import { WaitList } from "../../kernel/claims.ts";
import { EventClass } from "../../kernel/kernel.ts";
import type { Lowering } from "../../lowering/lowering.ts";
import type { Measured } from "../../lowering/measured.ts";
import { UNIT, Units } from "../../lowering/units.ts";
import type { Model, Node } from "../../model/model.ts";
import { Breakdowns } from "../breakdowns.ts";
import { comeInAtStart } from "../initial.ts";
import type { Prepared } from "../kind.ts";
import { tellShifts } from "../hours.ts";
import { Line, TurnedAway } from "../line.ts";
import { countWriter, SettableRoom, unitWriters } from "../setWhileRunning.ts";
import { lowerBatchLine } from "./batchLine.ts";
import { costs } from "./costs.ts";
import { lowerPhases } from "./phases.ts";
import type { FullStation } from "./fullStation.ts";
import { roomInLine } from "./room.ts";
import type { Station, STATION_MEASURES, StationProperty } from "./settings.ts";
import { Slots } from "./slots.ts";

/**
 * A station with some of: calendar, setups, resources, breakdowns, batches, rework, a line in an order of its own.
 * Each slot is a unit that is given to the entity, or to the first of the batch, that is worked on. That one goes
 * through setup, work and teardown; before each it claims what the phase needs, and during each its work stands still
 * while the slot or a resource it holds is off shift or down. Batches, and who is next in a line that is not in the
 * order of coming, are decided at the end of the instant, when all who come at it stand in line.
 */
export function prepareFull(
  node: Node<Station>,
  lowering: Lowering,
  measured: Measured<typeof STATION_MEASURES>,
): Prepared<StationProperty> {
  const station = makeStation(node, lowering);
  declareMeasures(station, measured);
  const { units, line, inLine } = station;
  lowering.replication.atStart(() => inLine.reset());
  lowering.shown.count(node, () => line.length.value);
  lowering.shown.units(node, units);
  return {
    readers: {
      busy: () => units.levels[UNIT.busy].value,
      blocked: () => units.levels[UNIT.blocked].value,
      down: () => units.levels[UNIT.down].value,
      offShift: () => units.levels[UNIT.offShift].value,
      free: () => units.free,
      capacity: () => units.mostInUse,
      keepsHours: () => (units.hoursKept ? 1 : 0),
      "queue.length": () => line.length.value,
      "queue.room": () => station.lineRoom.value,
    },
    writers: {
      ...unitWriters(node, lowering, "capacity", units),
      "queue.room": countWriter(node, lowering, "room", Infinity, (places) => station.lineRoom.set(places)),
    },
    lower() {
      comeInAtStart(node, lowering);
      const { work } = lowering.resources;
      const slots = new Slots(lowering.kernel.pool, work, units, station.room, station.batched, lowering.replication);
      const { start, spoil } = lowerPhases(station, slots);
      lowerBatchLine(station, slots, start);
      if (node.element.breakdowns.length > 0) station.breakdowns = lowerBreakdowns(station, spoil);
    },
  };
}

function makeStation(node: Node<Station>, lowering: Lowering): FullStation {
  const { element, index, settings } = node;
  const { meters, network, replication } = lowering;
  const { work } = lowering.resources;
  const capacity = settings.get("capacity")?.constant ?? 1;
  const [least, most] = [settings.get("batchLeast")?.constant ?? 1, settings.get("batchMost")?.constant ?? 1];
  const places = roomInLine(node, lowering.model);
  const line = new Line(lowering, node);
  const counters = {
    done: meters.counter(),
    setups: meters.counter(),
    reworked: meters.counter(),
    scrapped: meters.counter(),
    brokeDown: meters.counter(),
  };
  const batched = most > 1;
  const decidesLater = batched || element.order !== "first come";
  const loses = element.whenFull === "lose" && places !== Infinity;
  const room = places === Infinity ? undefined : replication.claimable(capacity * most + places, index);
  if (room && !loses) network.admit(node, room);
  const serveLater = decidesLater
    ? replication.atEndOfInstant(batched ? EventClass.batches : EventClass.lines, () => station.serveNow())
    : undefined;
  const units = new Units(lowering, {
    count: capacity,
    timetable: lowering.model.timetables.get(element.calendar),
    atBell: element.atBell,
    hooks: {
      available: () => station.serve(),
      stop: (token) => work.stop(token),
      go: (token) => work.go(token),
      opened: (change) => room?.adjust(change * most),
      shifted: tellShifts(node, lowering),
      working: () => station.breakdowns?.working(units.levels[UNIT.busy].value > 0),
    },
  });
  const station: FullStation = {
    node,
    lowering,
    least,
    most,
    batched,
    decidesLater,
    loses,
    room,
    lineRoom: new SettableRoom(room, places, lowering),
    needsAny: element.needs.length > 0,
    line,
    inLine: new WaitList(),
    units,
    turnedAway: new TurnedAway(lowering),
    counters,
    breakdowns: undefined,
    serveNow: () => undefined,
    serve: () => (serveLater ? serveLater() : station.serveNow()),
  };
  return station;
}

/** Whether somebody that work here needs walks to it. */
const needsWalkers = ({ element }: Node<Station>, { nodes }: Pick<Model, "nodes">): boolean =>
  nodes.some(
    ({ element: of }) => "walks" in of && of.walks !== "no" && element.needs.some(({ anyOf }) => anyOf.includes(of.id)),
  );

function declareMeasures(
  { node, lowering, units, line, counters, turnedAway, loses }: FullStation,
  measured: Measured<typeof STATION_MEASURES>,
): void {
  const { element, settings } = node;
  const { done, setups, reworked, scrapped, brokeDown } = counters;
  units.measures(measured, [
    UNIT.busy,
    UNIT.settingUp,
    UNIT.needing,
    UNIT.blocked,
    UNIT.down,
    UNIT.offShift,
    UNIT.idle,
    ...(needsWalkers(node, lowering.model) ? [UNIT.awaiting] : []),
  ]);
  line.measures(measured);
  measured.add("done", () => done.n);
  lowering.meters.throughput(measured, done);
  if (settings.has("setup") || element.setupWhen === "on change") measured.add("setups", () => setups.n);
  if (settings.has("rework")) measured.add("reworked", () => reworked.n);
  if (element.breakdowns.length > 0) measured.add("breakdowns", () => brokeDown.n);
  if (element.onBreakdown === "scrap") measured.add("scrapped", () => scrapped.n);
  turnedAway.measures(measured, node, loses, line.wait);
  costs(node, measured, {
    busy: () => units.levels[UNIT.busy].integral + units.levels[UNIT.settingUp].integral,
    open: () => units.count * lowering.meters.time - units.levels[UNIT.offShift].integral,
    done,
  });
}

/** All slots break down together. */
function lowerBreakdowns({ node, lowering, units, counters }: FullStation, spoil: (token: number) => void): Breakdowns {
  return new Breakdowns(node, lowering, {
    count: counters.brokeDown,
    fail() {
      for (let slot = 0; slot < units.count; slot++) {
        const doing = units.state[slot];
        units.breakDown(slot);
        if (doing === UNIT.busy || doing === UNIT.settingUp) spoil(units.occupant[slot]);
      }
    },
    repair() {
      for (let slot = 0; slot < units.count; slot++) units.repair(slot);
    },
  });
}
