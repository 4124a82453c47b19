import { type Claimable, WaitList } from "../kernel/claims.ts";
import { type Kernel, SUSPEND } from "../kernel/kernel.ts";
import type { Read } from "../expression/index.ts";

/** What is held at an element when an entity leaves it, and what is noted while it cannot. */
export interface Leaving {
  /** Gives up what the entity holds here. Runs once its next place is sure. */
  readonly release?: (token: number) => void;
  readonly onBlocked?: (token: number) => void;
  readonly onUnblocked?: (token: number) => void;
  /**
   * The step with which an entity goes on that had to wait for room, in place of leaving at once: it ends with
   * `Departing.granted`.
   */
  readonly waitAt?: number;
}

/** The steps by which entities leave an element. */
export interface Departing {
  /** Chooses a way, and takes it or waits for room. */
  readonly start: number;
  /** The same, by the way chosen before. */
  readonly again: number;
  /** Leaves: room has been given to it. */
  readonly granted: number;
  /** Takes back the claim of an entity that waits for room; false when room has been given to it just now. */
  withdraw(token: number): boolean;
  /** Whether an entity that had to wait for room still does. */
  waits(token: number): boolean;
  /** Gives back the room that has been given to an entity which does not go after all. */
  giveBack(token: number): void;
}

type Rooms = readonly (Claimable | undefined)[];

/** Entities choose a way, and wait for room on that way. */
export function leaveByChoice(
  kernel: Kernel,
  choose: Read,
  rooms: Rooms,
  go: (token: number) => number,
  { onBlocked, onUnblocked, waitAt }: Leaving,
): Departing {
  const { pool } = kernel;
  const granted = kernel.emit((token) => {
    if (onUnblocked) onUnblocked(token);
    return go(token);
  });
  const waitsAt = waitAt ?? granted;
  const start = kernel.emit((token) => {
    const way = choose(token);
    if (way < 0) return SUSPEND;
    pool.setWay(token, way);
    const room = rooms[way];
    if (!room || room.claim(token)) return go(token);
    if (onBlocked) onBlocked(token);
    pool.setPc(token, waitsAt);
    return SUSPEND;
  });
  const giveBack = (token: number): void => rooms[pool.wayOf(token)]?.release();
  const waits = (token: number): boolean => rooms[pool.wayOf(token)]?.own.holds(kernel, token) ?? false;
  if (waitAt === undefined) return { start, again: start, granted, waits, withdraw: () => false, giveBack };
  const again = kernel.emit((token) => {
    const room = rooms[pool.wayOf(token)];
    if (!room || room.claim(token)) return go(token);
    if (onBlocked) onBlocked(token);
    pool.setPc(token, waitsAt);
    return SUSPEND;
  });
  const withdraw = (token: number): boolean => {
    if (!waits(token)) return false;
    rooms[pool.wayOf(token)]?.own.remove(kernel, token);
    return true;
  };
  return { start, again, granted, waits, withdraw, giveBack };
}

/** Entities take the first way, in order, whose target has room; failing that, the first to get room. */
export function leaveByFirstFree(
  kernel: Kernel,
  /** By the index of the room that is claimed: the position of its way among the ways. */
  wayByTarget: Int32Array,
  waiting: WaitList,
  rooms: Rooms,
  go: (token: number) => number,
  { onBlocked, onUnblocked, waitAt }: Leaving,
): Departing {
  const { pool } = kernel;
  for (const room of new Set(rooms)) room?.serve(waiting);
  const granted = kernel.emit((token) => {
    pool.setWay(token, wayByTarget[pool.wayOf(token)]);
    if (onUnblocked) onUnblocked(token);
    return go(token);
  });
  const waitsAt = waitAt ?? granted;
  const start = kernel.emit((token) => {
    for (let way = 0; way < rooms.length; way++) {
      const room = rooms[way];
      if (room && !room.tryClaim(token)) continue;
      pool.setWay(token, way);
      return go(token);
    }
    waiting.append(kernel, token);
    if (onBlocked) onBlocked(token);
    pool.setPc(token, waitsAt);
    return SUSPEND;
  });
  const waits = (token: number): boolean => waiting.holds(kernel, token);
  const withdraw = (token: number): boolean => {
    if (!waits(token)) return false;
    waiting.remove(kernel, token);
    return true;
  };
  const giveBack = (token: number): void => rooms[wayByTarget[pool.wayOf(token)]]?.release();
  return { start, again: start, granted, waits, withdraw, giveBack };
}
