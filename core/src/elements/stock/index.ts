import { PLAIN } from "../../expression/index.ts";
import { EventClass, SUSPEND } from "../../kernel/kernel.ts";
import type { Lowering } from "../../lowering/lowering.ts";
import { Shelf, supplyAfter } from "../../lowering/shelf.ts";
import { count, level, ratio, cost as costMeasure } from "../../measures/spec.ts";
import type { Model, Node } from "../../model/model.ts";
import { elementKind, type Phrase } from "../kind.ts";
import { Line, LINE_EVENTS, LINE_MEASURES } from "../line.ts";
import { fromWhere, strong, whereTo } from "../words.ts";
import { followPolicy } from "./policy.ts";
import { hasLevel, hasPoint, hasQuantity, isReviewed, orders, POLICIES, type Stock, STOCK } from "./settings.ts";
import { supplyFrom } from "./supplier.ts";

const MEASURES = {
  onHand: level("On hand", "Units on hand", { merge: "sum" }),
  onOrder: level("On order", "Units ordered and not there yet", { merge: "sum" }),
  position: level("Position", "Units on hand and on order less those owed", { merge: "sum" }),
  reserved: level("Reserved", "Units on hand that steps have set aside", { merge: "sum" }),
  backorders: level("Backorders", "Units owed to those who wait", { merge: "sum", better: "less" }),
  demanded: count("Units asked for", "Units that were asked for.", { merge: "sum" }),
  fillRate: ratio(
    "Fill rate",
    "Units given at once, divided by all units asked for.",
    "units given at once / units asked for",
    { better: "more" },
  ),
  out: ratio("Share of time out", "Share of time in which nothing is on hand.", "(1/T) ∫ [on hand = 0] dt", {
    better: "less",
  }),
  unitsLost: count("Units lost", "Units that were asked for and not given.", { merge: "sum", better: "less" }),
  orders: count("Orders", "Orders placed.", { merge: "sum" }),
  "cost.holding": costMeasure("Holding cost", "Units on hand by their cost and time.", "h ∫ on hand dt", {
    merge: "sum",
  }),
  "cost.ordering": costMeasure("Ordering cost", "Orders by the cost of one.", "K × orders", { merge: "sum" }),
  "cost.shortage": costMeasure(
    "Shortage cost",
    "Units owed by their cost and time, and units lost by theirs.",
    "b ∫ backorders dt + p × lost",
    { merge: "sum" },
  ),
  cost: costMeasure("Cost", "Holding, ordering and shortage cost together.", "holding + ordering + shortage", {
    merge: "sum",
  }),
  ...LINE_MEASURES,
} as const;

/** Units of one item: taken by entities that come in and by steps, and ordered anew by a policy. */
export const stock = elementKind({
  kind: "stock",
  label: "Stock point",
  plural: "Stock points",
  summary: "Units of an item, taken and ordered anew.",
  group: "flow",
  hasWayIn: true,
  hasWayOut: true,
  standsAlone: true,
  isStocked: true,
  counts: "on hand",
  settings: STOCK,
  sections: [
    { title: "Stock", of: ["onHand", "amount", "unmet", "patience"] },
    {
      title: "Orders",
      of: ["policy", "reorder", "quantity", "level", "every", "first", "supplier", "orderType", "lead"],
    },
    { title: "Cost", of: ["holding", "shortage", "lostCost", "orderCost"], folded: true },
  ],
  properties: {
    onHand: PLAIN,
    onOrder: PLAIN,
    position: PLAIN,
    backorders: PLAIN,
    reserved: PLAIN,
    orders: PLAIN,
    waiting: PLAIN,
  },
  events: {
    ...LINE_EVENTS,
    "is ordered": { label: "An order is placed", of: "element" },
    "is delivered": { label: "An order has come", of: "element" },
    "runs out": { label: "Nothing is on hand any more", of: "element" },
  },
  measures: MEASURES,
  aside: { "turned away": ({ unmet, patience }) => unmet === "lose" || patience.trim() !== "" },

  check({ element, settings }, report, design) {
    const value = (name: string) => settings.get(name)?.constant;
    const [point, top] = [value("reorder"), value("level")];
    if (hasPoint(element) && hasLevel(element) && point !== undefined && top !== undefined && top <= point)
      report("level-below-point", "level", "it is not above the reorder point.", "Order up to more than that.");
    if (element.supplier !== "") {
      if (!design.elements.some(({ id }) => id === element.supplier) || element.supplier === element.id)
        report("missing-element", "supplier", "nothing says where orders go.", "Choose an element on its card.");
      if (!design.entityTypes.some(({ id }) => id === element.orderType))
        report("missing-type", "orderType", "nothing says what an order is.", "Choose an entity type on its card.");
    }
  },

  makes: ({ supplier, orderType }) => (supplier === "" ? undefined : { at: supplier, type: orderType }),

  typesOnward: ({ element }, here, { indexOf }) => ({
    done: [...here].filter((type) => element.supplier === "" || type !== indexOf(element.orderType)),
  }),
  typesOfSetting: ({ element }, setting, here, indexOf) =>
    setting === "amount" && element.supplier !== ""
      ? new Set([...here].filter((type) => type !== indexOf(element.orderType)))
      : undefined,

  prepare(node, lowering, measured) {
    const { element } = node;
    const initial = node.settings.get("onHand")?.constant ?? 0;
    const shelf = new Shelf(element.id, lowering, () => initial);
    lowering.shelves.add(shelf);
    const line = new Line(lowering, node);
    const { meters, events } = lowering;
    measured.level("onHand", shelf.onHand);
    measured.level("onOrder", shelf.onOrder);
    measured.level("position", shelf.position);
    measured.level("backorders", shelf.backorders);
    if (lowering.model.logic?.reserves) measured.level("reserved", shelf.reserved);
    measured.add("demanded", () => shelf.demanded.n);
    measured.add("fillRate", () => shelf.metAtOnce.n / shelf.demanded.n);
    measured.add("out", () => shelf.out.integral / meters.time);
    measured.add("unitsLost", () => shelf.lost.n);
    measured.add("orders", () => shelf.orders.n);
    const cost = (name: string) => node.settings.get(name)?.constant;
    const [holding, shortage, lostCost, orderCost] = ["holding", "shortage", "lostCost", "orderCost"].map(cost);
    const costs = {
      "cost.holding": () => (holding ?? 0) * shelf.onHand.integral,
      "cost.ordering": () => (orderCost ?? 0) * shelf.orders.n,
      "cost.shortage": () => (shortage ?? 0) * shelf.backorders.integral + (lostCost ?? 0) * shelf.lost.n,
    };
    if (holding !== undefined) measured.add("cost.holding", costs["cost.holding"]);
    if (orderCost !== undefined) measured.add("cost.ordering", costs["cost.ordering"]);
    if (shortage !== undefined || lostCost !== undefined) measured.add("cost.shortage", costs["cost.shortage"]);
    if ([holding, shortage, lostCost, orderCost].some((one) => one !== undefined))
      measured.add("cost", () => costs["cost.holding"]() + costs["cost.ordering"]() + costs["cost.shortage"]());
    line.measures(measured);
    lowering.shown.count(node, () => shelf.onHand.value);
    const tell = (event: string) => {
      const told = events.teller(element.id, event);
      return told && (() => told(-1));
    };
    return {
      readers: {
        onHand: () => shelf.onHand.value,
        onOrder: () => shelf.onOrder.value,
        position: () => shelf.position.value,
        backorders: () => shelf.backorders.value,
        reserved: () => shelf.reserved.value,
        orders: () => shelf.orders.total,
        waiting: () => line.length.value,
      },
      lower() {
        shelf.onOrdered = tell("is ordered");
        shelf.onDelivered = tell("is delivered");
        shelf.onOut = tell("runs out");
        const lead = lowering.expressions.read(node, "lead", 0);
        const isOrder = element.supplier === "" ? undefined : supplyFrom(node, lowering, shelf);
        if (!isOrder) shelf.supply = supplyAfter(shelf, lowering, () => lead(-1), element.id);
        followPolicy(node, lowering, shelf);
        if (node.in.length > 0 || node.out.length > 0) lowerTaking(node, lowering, shelf, line, isOrder);
      },
    };
  },

  readBack: (node, { nodes }) => {
    const { element } = node;
    return [
      "Begins with ",
      strong(element.onHand),
      " on hand. ",
      ...(node.in.length > 0
        ? ([
            "Entities from ",
            ...fromWhere(node, nodes),
            " take ",
            strong(element.amount),
            element.unmet === "lose"
              ? " each; who finds too little goes without."
              : element.patience.trim() === ""
                ? " each, and wait where there is too little."
                : " each, and wait at most ",
            ...(element.unmet === "backorder" && element.patience.trim() !== "" ? [strong(element.patience), "."] : []),
          ] satisfies Phrase[])
        : []),
      ...policyWords(node, { nodes }),
      ...(node.out.length > 0 ? whereTo(node, nodes) : []),
    ];
  },

  takesTime: () => true,
});

function policyWords({ element }: Node<Stock>, { nodes }: Pick<Model, "nodes">): Phrase[] {
  if (!orders(element)) return [" Nothing orders new units by itself."];
  const words = POLICIES.find(([policy]) => policy === element.policy)?.[1] ?? "";
  const supplier = nodes.find((n) => n.element.id === element.supplier)?.element.name;
  return [
    " It orders ",
    words,
    ...(hasPoint(element) ? [", at ", strong(element.reorder)] : []),
    ...(hasQuantity(element) ? [", each time ", strong(element.quantity)] : []),
    ...(hasLevel(element) ? [", up to ", strong(element.level)] : []),
    ...(isReviewed(element) ? [", reviewed every ", strong(element.every)] : []),
    ...(supplier ? [", from ", strong(supplier), "."] : ["; they come after ", strong(element.lead), "."]),
  ];
}

/** Entities that come in take units, and go on; those whose order they are bring them. */
function lowerTaking(
  node: Node<Stock>,
  lowering: Lowering,
  shelf: Shelf,
  line: Line,
  isOrder: ((token: number) => boolean) | undefined,
): void {
  const { element } = node;
  const { kernel, network, expressions } = lowering;
  const { calendar } = kernel;
  const place = lowering.places.of(node, "waiting");
  const amount = expressions.read(node, "amount", 1);
  const patience = expressions.optional(node, "patience");
  const away = node.out.length > 0 ? network.leave(node, network.blocking(node)) : SUSPEND;
  const turnAway = network.turnAway(node);
  const served = kernel.emit((token) => {
    const hasGivenUp = patience !== undefined && Number.isNaN(calendar.timeOf(token));
    if (hasGivenUp) line.giveUp(token);
    line.leave(token);
    if (patience) {
      if (hasGivenUp) {
        shelf.withdraw(token);
        return turnAway(token);
      }
      calendar.cancel(token);
    }
    return away;
  });
  const take = (token: number): number => {
    const units = amount(token);
    if (!(units >= 0 && units < Infinity)) {
      kernel.fail({
        code: "invalid-count",
        message: `gave ${units} to take, which is no number of 0 or more.`,
        hint: "Use max(0, …).",
        id: element.id,
        field: "amount",
        value: units,
      });
      return SUSPEND;
    }
    if (shelf.has(units)) {
      shelf.give(units);
      line.wait.add(0);
      return away;
    }
    if (element.unmet === "lose") {
      shelf.lose(units);
      return turnAway(token);
    }
    line.join(token, place, served);
    shelf.owe(token, units);
    if (patience) kernel.delay(token, patience(token), EventClass.lines, element.id, "patience");
    return SUSPEND;
  };
  network.enterBy(
    node,
    kernel.emit((token) => {
      if (isOrder?.(token)) return lowering.population.depart(token, node);
      return take(token);
    }),
  );
}
