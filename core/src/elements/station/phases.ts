import type { Read } from "../../expression/index.ts";
import { SUSPEND } from "../../kernel/kernel.ts";
import { PART } from "../../kernel/pool.ts";
import type { Asker } from "../../lowering/requests.ts";
import { skillsOf } from "../../lowering/skills.ts";
import { UNIT, type UnitState } from "../../lowering/units.ts";
import { streamOf } from "../../model/model.ts";
import type { FullStation } from "./fullStation.ts";
import { WORK_PHASES } from "./settings.ts";
import { setupTime } from "./setupTime.ts";
import type { Slots } from "./slots.ts";

const SETUP = 0;
const WORK = 1;
const TEARDOWN = 2;
/** What a slot is doing in each phase. */
const DOINGS: readonly UnitState[] = [UNIT.settingUp, UNIT.busy, UNIT.settingUp];

/** The steps of the work in a slot, and what becomes of it on a breakdown. */
export interface PhasedWork {
  /** The step with which the work on those in a slot starts. */
  readonly start: number;
  /** Work in progress meets a breakdown, its own or that of a resource it holds. */
  spoil(token: number): void;
}

/**
 * Work goes through setup, work and teardown; before each it claims what the phase needs, and is done again where
 * there is rework. All who were worked on together then leave one after another.
 */
export function lowerPhases(station: FullStation, slots: Slots): PhasedWork {
  const { node, lowering, units, counters, needsAny, batched } = station;
  const { element } = node;
  const { kernel, expressions } = lowering;
  const { work, requests } = lowering.resources;
  const { pool, clock } = kernel;
  const setup = setupTime(node, lowering, units.count);
  const hasTeardown = node.settings.has("teardown");
  const lasts = phaseTimes(station, slots);
  const priority = expressions.read(node, "priority", 0);
  const again = redone(station);
  const { needing, atWork } = workPlaces(station);
  const rowsOf = rowsByPhase(element);
  const countSetup = setupCounted(station);
  const { creditWork, asker } = claiming(station, slots, (token) => spoil(token));
  const letGo = leavingTogether(station, slots);
  const finish = finishing(station, slots, letGo);

  /** A phase begins: with what it needs, or once that is given. */
  const goOn = (token: number, phase: number): number => {
    const slot = slots.of(token);
    slots.phases[slot] = phase;
    if (needsAny) {
      const rows = rowsOf[phase] & ~requests.held(token);
      if (rows !== 0) {
        units.setDoing(slot, UNIT.needing);
        slots.eachMember(token, (member) => pool.begin(member, needing, clock));
        pool.setPc(token, given);
        requests.ask(token, asker, rows, priority(token));
        return SUSPEND;
      }
    }
    return begin(token);
  };
  const given = kernel.emit((token) => {
    slots.eachMember(token, (member) => pool.credit(member, PART.waiting, clock));
    return begin(token);
  });
  const begin = (token: number): number => {
    const slot = slots.of(token);
    const phase = slots.phases[slot];
    units.setDoing(slot, DOINGS[phase]);
    if (batched) slots.eachMember(token, (member) => pool.begin(member, atWork[phase], clock));
    else pool.begin(token, atWork[phase], clock);
    pool.setPc(token, ended);
    work.begin(token, lasts(token, phase, slot), element.id, phase === WORK ? "time" : WORK_PHASES[phase]);
    return SUSPEND;
  };
  const ended = kernel.emit((token) => {
    work.end(token);
    creditWork(token);
    const slot = slots.of(token);
    const phase = slots.phases[slot];
    if (phase === WORK && again && again(token)) {
      counters.reworked.total += 1;
      return goOn(token, WORK);
    }
    const next = phase === SETUP ? WORK : phase === WORK && hasTeardown ? TEARDOWN : undefined;
    if (needsAny) {
      const kept = next !== undefined && element.keepResources ? rowsOf[next] : 0;
      requests.free(token, ~kept);
    }
    return next === undefined ? finish(token) : goOn(token, next);
  });
  const start = kernel.emit(
    lowering.events.before(element.id, "work starts", (token) => {
      const slot = slots.of(token);
      const needed = setup ? setup(token, slot) : 0;
      if (needed === 0 || needed === Number.NEGATIVE_INFINITY) return goOn(token, WORK);
      countSetup(token);
      slots.setupTimes[slot] = needed;
      return goOn(token, SETUP);
    }),
  );
  const scrap = scrapping(station, slots, creditWork, letGo);
  const spoil = (token: number): void => {
    if (element.onBreakdown === "start over") work.startOver(token);
    else if (element.onBreakdown === "scrap" && work.isPaused(token)) scrap(token);
  };
  return { start, spoil };
}

/** How long a phase lasts, by who does it too. */
function phaseTimes({ node, lowering, needsAny }: FullStation, slots: Slots) {
  const { expressions, resources } = lowering;
  const time = expressions.read(node, "time", 0);
  const teardown = expressions.read(node, "teardown", 0);
  return (token: number, phase: number, slot: number): number => {
    const seconds = phase === SETUP ? slots.setupTimes[slot] : phase === WORK ? time(token) : teardown(token);
    const pace = needsAny ? resources.requests.slowest(token) : 1;
    return pace === 1 ? seconds : seconds * pace;
  };
}

/** The work is done: all who were worked on together leave their slot, once there is room for them ahead. */
function finishing(
  station: FullStation,
  slots: Slots,
  letGo: (leader: number, pc: number) => number,
): (token: number) => number {
  const { node, lowering, units, counters } = station;
  const away = lowering.network.leave(node, {
    release: (token) => slots.leave(slots.of(token)),
    ...lowering.network.blocking(node),
  });
  return lowering.events.before(node.element.id, "work ends", (token) => {
    const slot = slots.of(token);
    counters.done.total += slots.inside[slot];
    units.setDoing(slot, UNIT.blocked);
    station.breakdowns?.jobDone();
    return letGo(token, away);
  });
}

/** What is done when a setup starts. */
function setupCounted({ node, lowering, counters }: FullStation): (token: number) => void {
  return lowering.events.before(node.element.id, "setup starts", () => void (counters.setups.total += 1));
}

/** Where those who are worked on are said to be: without what they need, and in each phase. */
function workPlaces({ node, lowering: { places } }: FullStation) {
  const settingUp = places.of(node, "settingUp");
  return { needing: places.of(node, "needing"), atWork: [settingUp, places.of(node, "working"), settingUp] };
}

/** Whether work just ended has to be done again; undefined where it never is. */
function redone({ node, lowering: { expressions } }: FullStation): ((token: number) => boolean) | undefined {
  const again = expressions.optional(node, "rework");
  if (!again) return undefined;
  if (node.settings.get("rework")?.type.kind === "yesNo") return (token) => again(token) !== 0;
  const uniform = expressions.uniform(streamOf(node.element, "rework"));
  return (token) => {
    const chance = again(token);
    return uniform() < chance;
  };
}

/** Which rows of needs are needed in each phase, as bits. */
const rowsByPhase = ({ needs }: FullStation["node"]["element"]): number[] =>
  WORK_PHASES.map((phase) =>
    needs.reduce((rows, need, row) => (need.phases.includes(phase) ? rows | (1 << row) : rows), 0),
  );

/** The position, among the resources of a need, of the one that an expression names; undefined where any will do. */
function namedOf({ node, lowering }: FullStation, need: string, anyOf: readonly string[]): Read | undefined {
  const named = lowering.expressions.optional(node, `needs.${need}.which`);
  if (!named) return undefined;
  const { nodes } = lowering.model;
  return (token) => anyOf.indexOf(nodes[named(token)]?.element.id ?? "");
}

/** Who claims the resources, and what becomes of the work when they are taken away, or come back. */
function claiming(station: FullStation, slots: Slots, broken: (token: number) => void) {
  const { node, lowering, units } = station;
  const { kernel, expressions, resources } = lowering;
  const { pool, clock } = kernel;
  const { standing } = resources;
  const { needing, atWork } = workPlaces(station);
  /** What has passed of a phase was work, but for the time in which it stood still. */
  const creditWork = (leader: number): void => {
    const stood = standing.sinceTold(leader);
    if (!station.batched) {
      pool.credit(leader, PART.worked, clock);
      standing.move(leader, stood);
      return;
    }
    slots.eachMember(leader, (member) => {
      pool.credit(member, PART.worked, clock);
      standing.move(member, stood);
    });
  };
  const asker: Asker = {
    id: node.element.id,
    needs: node.element.needs.map(({ id, anyOf }) => ({
      anyOf: anyOf.flatMap((resource) => resources.of(resource) ?? []),
      count: expressions.read(node, `needs.${id}.count`, 1),
      which: namedOf(station, id, anyOf),
      ...skillsOf(
        node.who,
        expressions.optional(node, `needs.${id}.can`),
        expressions.optional(node, `needs.${id}.times`),
      ),
    })),
    yields: true,
    lost(token) {
      creditWork(token);
      slots.eachMember(token, (member) => pool.begin(member, needing, clock));
      units.setDoing(slots.of(token), UNIT.needing);
    },
    regained(token) {
      // It waited meanwhile, whatever else stopped its work.
      standing.sinceTold(token);
      const phase = slots.phases[slots.of(token)];
      slots.eachMember(token, (member) => {
        pool.credit(member, PART.waiting, clock);
        pool.begin(member, atWork[phase], clock);
      });
      units.setDoing(slots.of(token), DOINGS[phase]);
    },
    broken,
    coming: (token) => units.setDoing(slots.of(token), UNIT.awaiting),
  };
  return { creditWork, asker };
}

/** All that were worked on together go on at a step, one after another. */
function leavingTogether({ lowering: { kernel }, batched }: FullStation, slots: Slots) {
  const { pool } = kernel;
  if (!batched) return (_leader: number, pc: number): number => pc;
  return (leader: number, pc: number): number => {
    slots.eachMember(leader, (member) => {
      pool.setPc(member, pc);
      if (member !== leader) kernel.resume(member);
    });
    return pc;
  };
}

/** What is worked on is scrapped: it leaves the slot by a way of its own, or the system. */
function scrapping(
  { node, lowering, units, counters }: FullStation,
  slots: Slots,
  creditWork: (leader: number) => void,
  letGo: (leader: number, pc: number) => number,
): (token: number) => void {
  const { kernel, network } = lowering;
  const { work, requests } = lowering.resources;
  const sendOff = network.sendAside(node, node.scrapped);
  const leave = kernel.emit((token) => {
    slots.leave(slots.of(token));
    return sendOff(token);
  });
  return (token) => {
    work.end(token);
    requests.free(token);
    const slot = slots.of(token);
    creditWork(token);
    counters.scrapped.total += slots.inside[slot];
    units.setDoing(slot, UNIT.blocked);
    kernel.resume(token);
    letGo(token, leave);
    kernel.pool.setPc(token, leave);
  };
}
