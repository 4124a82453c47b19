import type { Read } from "../../expression/index.ts";
import { WaitList } from "../../kernel/claims.ts";
import { EventClass, SUSPEND } from "../../kernel/kernel.ts";
import { NEXT, NO_TYPE, PART, STRIDE_BITS } from "../../kernel/pool.ts";
import { type Node, streamOf } from "../../model/model.ts";
import { Breakdowns } from "../breakdowns.ts";
import { Line, ranking, TurnedAway } from "../line.ts";
import type { Prepared } from "../kind.ts";
import type { Lowering } from "../../lowering/lowering.ts";
import type { Measured } from "../../lowering/measured.ts";
import type { Asker } from "../../lowering/requests.ts";
import { UNIT, Units, type UnitState } from "../../lowering/units.ts";
import { costs } from "./costs.ts";
import { comeInAtStart } from "../initial.ts";
import { roomInLine } from "./room.ts";
import type { Station, STATION_MEASURES, StationProperty } from "./settings.ts";
import { setupTime } from "./setupTime.ts";

const SETUP = 0;
const WORK = 1;
const TEARDOWN = 2;
const PHASE_NAMES = ["setup", "work", "teardown"] as const;

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
  const { element, index, settings } = node;
  const { kernel } = lowering;
  const { work, requests } = lowering.resources;
  const { pool, clock } = kernel;
  const capacity = settings.get("capacity")?.constant ?? 1;
  const [least, most] = [settings.get("batchLeast")?.constant ?? 1, settings.get("batchMost")?.constant ?? 1];
  const lineRoom = roomInLine(node, lowering.model);
  const line = new Line(lowering);
  const inLine = new WaitList();
  const done = lowering.meters.counter();
  const setups = lowering.meters.counter();
  const reworked = lowering.meters.counter();
  const scrapped = lowering.meters.counter();
  const brokeDown = lowering.meters.counter();
  const turnedAway = new TurnedAway(lowering);
  const { came, lost, balked, gaveUp } = turnedAway;
  const batched = most > 1;
  const decidesLater = batched || element.order !== "first come";
  const loses = element.whenFull === "lose" && lineRoom !== Infinity;
  const room = lineRoom === Infinity ? undefined : lowering.replication.claimable(capacity * most + lineRoom, index);
  if (room && !loses) lowering.network.admit(node, room);
  let serveNow: () => void = () => undefined;
  const serveLater = decidesLater
    ? lowering.replication.atEndOfInstant(batched ? EventClass.batches : EventClass.lines, () => serveNow())
    : undefined;
  const serve = (): void => (serveLater ? serveLater() : serveNow());
  let breakdowns: Breakdowns | undefined;
  const units = new Units(lowering, {
    count: capacity,
    timetable: lowering.model.timetables.get(element.calendar),
    atBell: element.atBell,
    hooks: {
      available: () => serve(),
      stop: (token) => work.stop(token),
      go: (token) => work.go(token),
      opened: (change) => room?.adjust(change * most),
      working: () => breakdowns?.working(units.levels[UNIT.busy].value > 0),
    },
  });
  lowering.replication.atStart(() => inLine.reset());

  const needsAny = element.needs.length > 0;
  units.measures(measured, [
    UNIT.busy,
    UNIT.settingUp,
    UNIT.needing,
    UNIT.blocked,
    UNIT.down,
    UNIT.offShift,
    UNIT.idle,
  ]);
  line.measures(measured);
  measured.add("done", () => done.n);
  lowering.meters.throughput(measured, done);
  if (settings.has("setup") || element.setupWhen === "on change") measured.add("setups", () => setups.n);
  if (settings.has("rework")) measured.add("reworked", () => reworked.n);
  if (element.breakdowns.length > 0) measured.add("breakdowns", () => brokeDown.n);
  if (element.onBreakdown === "scrap") measured.add("scrapped", () => scrapped.n);
  turnedAway.measures(measured, node, loses, line.wait);
  const open = () => capacity * lowering.meters.time - units.levels[UNIT.offShift].integral;
  costs(node, measured, {
    busy: () => units.levels[UNIT.busy].integral + units.levels[UNIT.settingUp].integral,
    open,
    done,
  });
  lowering.shown.count(node, () => line.length.value);
  lowering.shown.units(node, units);

  const readers = {
    busy: () => units.levels[UNIT.busy].value,
    blocked: () => units.levels[UNIT.blocked].value,
    down: () => units.levels[UNIT.down].value,
    offShift: () => units.levels[UNIT.offShift].value,
    free: () => units.free,
    capacity: () => capacity,
    "queue.length": () => line.length.value,
  };

  const lower = (): void => {
    comeInAtStart(node, lowering);
    const optional = (field: string): Read | undefined =>
      settings.has(field) ? lowering.expressions.read(node, field, 0) : undefined;
    const time = lowering.expressions.read(node, "time", 0);
    const setup = setupTime(node, lowering, capacity);
    const teardown = optional("teardown");
    const priority = lowering.expressions.read(node, "priority", 0);
    const again = optional("rework");
    const againBy =
      settings.get("rework")?.type.kind === "yesNo"
        ? undefined
        : lowering.expressions.uniform(streamOf(element, "rework"));
    const balks = optional("balk");
    const patience = optional("patience");
    const batchWait = least > 1 ? optional("batchWait") : undefined;
    const rankOf = ranking(node, lowering);
    if (rankOf) lowering.shown.order(node, (visit) => inLine.each(kernel, visit));
    const waiting = lowering.places.of(node, "waiting");
    const needing = lowering.places.of(node, "needing");
    const places = [
      lowering.places.of(node, "settingUp"),
      lowering.places.of(node, "working"),
      lowering.places.of(node, "settingUp"),
    ];
    const doings: UnitState[] = [UNIT.settingUp, UNIT.busy, UNIT.settingUp];
    const { standing } = lowering.resources;
    const counts = turnedAway.any(node, loses);

    /** By slot: entities in it, the phase of its work, and the time of its setup. */
    const inside = new Int32Array(capacity);
    const phases = new Int32Array(capacity);
    const setupTimes = new Float64Array(capacity);
    lowering.replication.atStart(() => inside.fill(0));
    const slotOf = (token: number) => work.unitOf(token);

    const asker: Asker = {
      id: element.id,
      needs: element.needs.map(({ id, anyOf }) => ({
        anyOf: anyOf.flatMap((resource) => lowering.resources.of(resource) ?? []),
        count: lowering.expressions.read(node, `needs.${id}.count`, 1),
      })),
      yields: true,
      lost(token) {
        creditWork(token);
        eachMember(token, (member) => pool.begin(member, needing, clock));
        units.setDoing(slotOf(token), UNIT.needing);
      },
      regained(token) {
        // It waited meanwhile, whatever else stopped its work.
        standing.sinceTold(token);
        const phase = phases[slotOf(token)];
        eachMember(token, (member) => {
          pool.credit(member, PART.waiting, clock);
          pool.begin(member, places[phase], clock);
        });
        units.setDoing(slotOf(token), doings[phase]);
      },
      broken: (token) => spoil(token),
    };
    const rowsOf = PHASE_NAMES.map((phase) =>
      element.needs.reduce((rows, need, row) => (need.phases.includes(phase) ? rows | (1 << row) : rows), 0),
    );

    const eachMember = (leader: number, act: (token: number) => void): void => {
      for (let token = leader, left = inside[slotOf(leader)]; left > 0; left--) {
        const next = pool.ints[(token << STRIDE_BITS) + NEXT];
        act(token);
        token = next;
      }
    };

    /** What has passed of a phase was work, but for the time in which it stood still. */
    const creditWork = (leader: number): void => {
      const stood = standing.sinceTold(leader);
      eachMember(leader, (member) => {
        pool.credit(member, PART.worked, clock);
        standing.move(member, stood);
      });
    };

    /** A phase begins: with what it needs, or once that is given. */
    const goOn = (token: number, phase: number): number => {
      const slot = slotOf(token);
      phases[slot] = phase;
      if (needsAny) {
        const rows = rowsOf[phase] & ~requests.held(token);
        if (rows !== 0) {
          units.setDoing(slot, UNIT.needing);
          eachMember(token, (member) => pool.begin(member, needing, clock));
          pool.setPc(token, given);
          requests.ask(token, asker, rows, priority(token));
          return SUSPEND;
        }
      }
      return begin(token);
    };
    const given = kernel.emit((token) => {
      eachMember(token, (member) => pool.credit(member, PART.waiting, clock));
      return begin(token);
    });
    const begin = (token: number): number => {
      const slot = slotOf(token);
      const phase = phases[slot];
      units.setDoing(slot, doings[phase]);
      eachMember(token, (member) => pool.begin(member, places[phase], clock));
      pool.setPc(token, ended);
      const duration = phase === SETUP ? setupTimes[slot] : phase === WORK ? time(token) : teardown!(token);
      work.begin(token, duration, element.id, phase === WORK ? "time" : PHASE_NAMES[phase]);
      return SUSPEND;
    };
    const ended = kernel.emit((token) => {
      work.end(token);
      creditWork(token);
      const slot = slotOf(token);
      const phase = phases[slot];
      if (phase === WORK && again) {
        const chance = again(token);
        if (againBy ? againBy() < chance : chance !== 0) {
          reworked.total += 1;
          return goOn(token, WORK);
        }
      }
      const next = phase === SETUP ? WORK : phase === WORK && teardown ? TEARDOWN : undefined;
      if (needsAny) {
        const kept = next !== undefined && element.keepResources ? rowsOf[next] : 0;
        requests.free(token, ~kept);
      }
      if (next !== undefined) return goOn(token, next);
      done.total += inside[slot];
      units.setDoing(slot, UNIT.blocked);
      breakdowns?.jobDone();
      return letGo(token, away);
    });
    /** All that were worked on together go on at step `pc`, one after another. */
    const letGo = (leader: number, pc: number): number => {
      if (batched) {
        eachMember(leader, (member) => {
          pool.setPc(member, pc);
          if (member !== leader) kernel.resume(member);
        });
      }
      return pc;
    };
    const leaveSlot = (slot: number): void => {
      if (--inside[slot] === 0) units.vacate(slot);
      room?.release();
    };

    /** Work in progress meets a breakdown, its own or that of a resource it holds. */
    const spoil = (token: number): void => {
      if (element.onBreakdown === "start over") work.startOver(token);
      else if (element.onBreakdown === "scrap" && work.isPaused(token)) {
        work.end(token);
        requests.free(token);
        const slot = slotOf(token);
        creditWork(token);
        scrapped.total += inside[slot];
        units.setDoing(slot, UNIT.blocked);
        kernel.resume(token);
        letGo(token, scrap);
        pool.setPc(token, scrap);
      }
    };
    const sendOff = lowering.network.sendAside(node, node.scrapped);
    const scrap = kernel.emit((token) => {
      leaveSlot(slotOf(token));
      return sendOff(token);
    });

    /** Gives a slot to the first of a batch of `size`, whose members follow it. */
    const seize = (leader: number, size: number): void => {
      work.clear(leader);
      const slot = units.occupy(leader, UNIT.busy);
      inside[slot] = size;
      for (let token = leader, left = size; left > 0; left--) {
        work.setUnit(token, slot);
        token = pool.ints[(token << STRIDE_BITS) + NEXT];
      }
    };
    const start = kernel.emit((token) => {
      const slot = slotOf(token);
      const needed = setup ? setup(token, slot) : 0;
      if (needed === 0 || needed === Number.NEGATIVE_INFINITY) return goOn(token, WORK);
      setups.total += 1;
      setupTimes[slot] = needed;
      return goOn(token, SETUP);
    });

    const leaveLine = (token: number): void => {
      if (patience) kernel.calendar.cancel(token);
      line.leave(token);
    };
    /** The first in line have waited long enough: fewer than a batch may start. */
    let overdue = false;
    let timer = -1;
    const late = kernel.emit(() => {
      overdue = true;
      serve();
      return SUSPEND;
    });
    if (batchWait) {
      lowering.replication.atStart(() => {
        overdue = false;
        timer = pool.take(NO_TYPE, late, clock);
      });
    }
    /** Sets the clock that lets a small batch start, by who has waited longest. */
    const watchWait = (): void => {
      if (!batchWait) return;
      overdue = false;
      kernel.calendar.cancel(timer);
      if (inLine.head < 0) return;
      let oldest = inLine.head;
      for (let token = inLine.head; token >= 0; token = pool.ints[(token << STRIDE_BITS) + NEXT])
        if (pool.sinceOf(token) < pool.sinceOf(oldest)) oldest = token;
      const limit = batchWait(oldest);
      if (!(limit >= 0)) kernel.failDuration(limit, element.id, "batchWait");
      else if (limit < Infinity)
        kernel.schedule(timer, Math.max(0, pool.sinceOf(oldest) + limit - clock[0]), EventClass.activityEnd);
    };
    serveNow = () => {
      while (units.free > 0 && inLine.head >= 0 && (inLine.length >= least || overdue)) {
        const size = Math.min(most, inLine.length);
        const leader = inLine.shift(kernel);
        leaveLine(leader);
        let last = leader;
        for (let i = 1; i < size; i++) {
          const token = inLine.shift(kernel);
          leaveLine(token);
          pool.ints[(last << STRIDE_BITS) + NEXT] = token;
          last = token;
        }
        pool.ints[(last << STRIDE_BITS) + NEXT] = -1;
        seize(leader, size);
        pool.setPc(leader, start);
        kernel.resume(leader);
        watchWait();
      }
    };

    const turnAway = lowering.network.turnAway(node);
    const giveUp = kernel.emit((token) => {
      inLine.remove(kernel, token);
      line.leave(token);
      gaveUp.total += 1;
      room?.release();
      watchWait();
      return turnAway(token);
    });
    lowering.network.entries[index] = kernel.emit((token) => {
      if (counts) came.total += 1;
      if (loses && !room!.tryClaim()) {
        lost.total += 1;
        return turnAway(token);
      }
      if (!decidesLater && inLine.head < 0 && units.free > 0) {
        line.wait.addZero();
        pool.ints[(token << STRIDE_BITS) + NEXT] = -1;
        seize(token, 1);
        return start;
      }
      // Those in line before it may have to be enough for a batch with it, and for no more than the free slots take.
      const mustWait = inLine.length >= units.free * most || inLine.length + 1 < least;
      if (balks && mustWait && balks(token) !== 0) {
        balked.total += 1;
        room?.release();
        return turnAway(token);
      }
      line.join(token, waiting, giveUp);
      if (rankOf) inLine.insert(kernel, token, rankOf(token));
      else inLine.append(kernel, token);
      if (patience) kernel.delay(token, patience(token), EventClass.activityEnd, element.id, "patience");
      if (batched && inLine.length === 1) watchWait();
      if (decidesLater) serve();
      return SUSPEND;
    });
    const away = lowering.network.leave(node, {
      release: (token) => leaveSlot(slotOf(token)),
      ...lowering.network.blocking(node),
    });

    if (element.breakdowns.length > 0) {
      breakdowns = new Breakdowns(node, lowering, {
        count: brokeDown,
        fail() {
          for (let slot = 0; slot < capacity; slot++) {
            const doing = units.state[slot];
            units.breakDown(slot);
            if (doing === UNIT.busy || doing === UNIT.settingUp) spoil(units.occupant[slot]);
          }
        },
        repair() {
          for (let slot = 0; slot < capacity; slot++) units.repair(slot);
        },
      });
    }
  };
  return { readers, lower };
}
