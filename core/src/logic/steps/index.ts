import type { StepBase } from "../../document/logic.ts";
import type { StepKind } from "../kind.ts";
import { call, end, stop, trace } from "./calls.ts";
import {
  chance,
  chanceCase,
  forEach,
  leaveLoop,
  otherwise,
  otherwiseIf,
  repeatTimes,
  repeatWhile,
  when,
} from "./choice.ts";
import { make, remove, send } from "./entities.ts";
import { copy, keep, setDown, takeKept } from "./holding.ts";
import { gather } from "./gather.ts";
import { find, moveInLine, takeOut } from "./line.ts";
import { look } from "./look.ts";
import { call as callFor, meet } from "./meeting.ts";
import { escort, ride, takeSpot, walk } from "./motion.ts";
import { record } from "./record.ts";
import { claim, free } from "./resources.ts";
import { orderForStock, putToStock, releaseStock, reserveStock, takeFromStock } from "./stock.ts";
import { use } from "./use.ts";
import { writeRow } from "./write.ts";
import { giveSignal, wait, waitFor, waitUntil } from "./time.ts";
import { remember, set } from "./values.ts";

/** Every kind of step, in the order in which they are offered. Adding a kind adds a line here. */
export const stepKinds: readonly StepKind[] = [
  set,
  remember,
  wait,
  waitUntil,
  waitFor,
  giveSignal,
  when,
  otherwiseIf,
  otherwise,
  chance,
  chanceCase,
  repeatWhile,
  repeatTimes,
  forEach,
  leaveLoop,
  claim,
  free,
  use,
  takeSpot,
  walk,
  escort,
  ride,
  send,
  remove,
  make,
  copy,
  keep,
  takeKept,
  callFor,
  meet,
  gather,
  setDown,
  find,
  takeOut,
  moveInLine,
  look,
  takeFromStock,
  reserveStock,
  releaseStock,
  putToStock,
  orderForStock,
  record,
  writeRow,
  trace,
  stop,
  call,
  end,
];

const byKind = new Map(stepKinds.map((kind) => [kind.kind, kind]));

export const stepKindOf = ({ do: kind }: Pick<StepBase, "do">): StepKind => byKind.get(kind)!;
