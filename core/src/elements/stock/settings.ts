import { numberOf } from "../../expression/index.ts";
import { MONEY } from "../../quantity/index.ts";
import { choice, cost, expression, number, reference, settings, time } from "../../settings/setting.ts";
import type { ElementWith } from "../kind.ts";
import { WAY_OUT } from "../wayOut.ts";

export const POLICIES = [
  ["none", "nothing: steps or arrivals fill it"],
  ["point, quantity", "a quantity, when the position falls to the reorder point"],
  ["point, level", "up to a level, when the position falls to the reorder point"],
  ["base stock", "what was asked for, at each demand"],
  ["review, quantity", "a quantity, at reviews that find the position at the reorder point or below"],
  ["review, level", "up to a level, at reviews that find the position below it"],
  ["review, point, level", "up to a level, at reviews that find the position at the reorder point or below"],
] as const;

type Policy = (typeof POLICIES)[number][0];

const has =
  (...policies: Policy[]) =>
  ({ policy }: Readonly<Record<string, unknown>>): boolean =>
    policies.includes(policy as Policy);

const REVIEWED: Policy[] = ["review, quantity", "review, level", "review, point, level"];

export const isReviewed = has(...REVIEWED);
export const hasPoint = has("point, quantity", "point, level", "review, quantity", "review, point, level");
export const hasQuantity = has("point, quantity", "review, quantity");
export const hasLevel = has("point, level", "base stock", "review, level", "review, point, level");
export const orders = (of: Readonly<Record<string, unknown>>): boolean => of.policy !== "none";

/** A cost for each unit, for as long as there is one. */
const perUnitTime = (label: string, help: string) => cost(label, help, "time");

export const STOCK = settings({
  onHand: number("On hand at the start", "Units that are there when the run starts.", {
    initial: "20",
    fixed: true,
    least: 0,
    told: "units at the start",
  }),
  amount: number("Each takes", "Units that each entity takes which comes in, such as entity.pieces.", {
    initial: "1",
    least: 0,
    entity: true,
    steady: true,
    told: "what each takes",
  }),
  unmet: choice(
    "When short",
    "What an entity does that finds too little: waits until it is there, or goes without.",
    [
      ["backorder", "wait for it (backorder)"],
      ["lose", "go without (lost)"],
    ],
    { cells: "words", width: 160, told: "what happens when short" },
  ),
  patience: time("Patience", "Longest wait before giving up. Empty: for ever.", {
    optional: true,
    draws: 400,
    used: ({ unmet }) => unmet === "backorder",
  }),
  policy: choice("Orders", "When new units are ordered, and how many.", POLICIES, {
    told: "policy",
    cells: "words",
    width: 220,
  }),
  reorder: number("Reorder point", "The position, on hand and on order less backorders, at which it orders.", {
    initial: "10",
    fixed: true,
    used: hasPoint,
  }),
  quantity: number("Order quantity", "Units of one order.", {
    initial: "20",
    fixed: true,
    above: 0,
    used: hasQuantity,
  }),
  level: number("Up to", "The position that an order brings it to.", {
    initial: "30",
    fixed: true,
    least: 0,
    told: "order-up-to level",
    used: hasLevel,
  }),
  every: time("Reviewed every", "The time between two reviews.", {
    initial: "1 d",
    entity: false,
    above: 0,
    used: isReviewed,
    draws: 401,
  }),
  first: time("First review after", "From the start of the run. Empty: after one period.", {
    optional: true,
    entity: false,
    used: isReviewed,
    draws: 402,
  }),
  supplier: reference(
    "element",
    "Orders go to",
    "The element at which an order begins, as an entity that comes back here.",
    {
      none: "nobody: they come after the lead time",
      of: "enterable",
    },
  ),
  orderType: reference("entity type", "An order is a", "The entity type of an order.", {
    first: true,
    used: ({ supplier }) => supplier !== "",
  }),
  lead: time("Lead time", "From an order until its units are there.", {
    initial: "3 d",
    entity: false,
    used: ({ supplier }) => supplier === "",
    draws: 403,
  }),
  holding: perUnitTime("Holding cost", "For each unit on hand and time, such as 2 money/d. Empty: none."),
  shortage: perUnitTime("Cost of being short", "For each unit owed and time, such as 5 money/d. Empty: none."),
  lostCost: cost("Cost of a lost unit", "For each unit that was asked for and not given. Empty: none.", "piece"),
  orderCost: expression("Cost of an order", "For each order, whatever its size. Empty: none.", numberOf(MONEY), {
    optional: true,
    fixed: true,
    least: 0,
  }),
  ...WAY_OUT,
});

export type Stock = ElementWith<"stock", typeof STOCK>;
