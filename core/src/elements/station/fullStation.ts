import type { Claimable, WaitList } from "../../kernel/claims.ts";
import type { Counter } from "../../lowering/counter.ts";
import type { Lowering } from "../../lowering/lowering.ts";
import type { Units } from "../../lowering/units.ts";
import type { Node } from "../../model/model.ts";
import type { Breakdowns } from "../breakdowns.ts";
import type { Line, TurnedAway } from "../line.ts";
import type { SettableRoom } from "../setWhileRunning.ts";
import type { Station } from "./settings.ts";

/** A station with some of all there is, as its parts know it. */
export interface FullStation {
  readonly node: Node<Station>;
  readonly lowering: Lowering;
  /** Fewest and most in a batch. */
  readonly least: number;
  readonly most: number;
  readonly batched: boolean;
  /** Who is next is decided at the end of the instant, when all who come at it stand in line. */
  readonly decidesLater: boolean;
  /** Who finds no room is turned away. */
  readonly loses: boolean;
  readonly room: Claimable | undefined;
  readonly lineRoom: SettableRoom;
  readonly needsAny: boolean;
  readonly line: Line;
  readonly inLine: WaitList;
  readonly units: Units;
  readonly turnedAway: TurnedAway;
  readonly counters: Readonly<Record<"done" | "setups" | "reworked" | "scrapped" | "brokeDown", Counter>>;
  breakdowns: Breakdowns | undefined;
  /** Gives free slots to those in line, now, or when its turn comes at this instant. */
  serveNow: () => void;
  serve(): void;
}
