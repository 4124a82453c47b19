import inventory from "./reference/inventory.json";
import { meanInterval } from "../src/inference/interval.ts";
import { expectInterval, replicate } from "./build.ts";
import { logicStudy, problemsOf, ran, values } from "./logicModel.ts";
import { chain } from "./study.ts";

type Loose = Record<string, unknown>;
const set = (...pairs: [string, string][]) => ({
  do: "set",
  values: pairs.map(([what, to], i) => ({ id: `v${i}`, what, to })),
});

/** Demands of one unit at some gap come to a stock point. */
const shop = (stock: Loose, between: string, more: Loose = {}) => ({
  elements: [
    { id: "in", kind: "arrivals", between },
    { id: "rope", kind: "stock", name: "Rope", ...stock },
    { id: "out", kind: "departures" },
  ],
  links: chain("in", "rope", "out"),
  ...more,
});

describe("a stock point", () => {
  test("follows what is on hand, on order and owed through a day by hand", () => {
    // One unit at 1, 2, 3 … min. At first 3; at a position of 1 two are ordered, which come 2.5 min later.
    const value = values(
      shop({ onHand: "3", policy: "point, quantity", reorder: "1", quantity: "2", lead: "2.5 min" }, "1 min", {
        run: { length: "8.5 min" },
      }),
    );
    // Demands at 1…8. Position 3, 2, then 1 at 2 min → orders at 2, 4, 6, 8 min; they come at 4.5, 6.5, 8.5.
    // On hand: 2 from 1, 1 from 2, 0 from 3; owed 1 from 4 until 4.5, then on hand 1 until 5, 0 until 6, owed 1 …
    expect(value("rope/orders")).toBe(4);
    expect(value("rope/demanded")).toBe(8);
    expect(value("rope/fillRate")).toBe(5 / 8);
    expect(value("rope/onHand.mean")).toBeCloseTo((3 + 2 + 1 + 0.5 + 0.5) / 8.5, 12);
    expect(value("rope/backorders.mean")).toBeCloseTo((0.5 + 0.5 + 0.5) / 8.5, 12);
    expect(value("rope/out")).toBeCloseTo((8.5 - 3 - 0.5 - 0.5) / 8.5, 12);
    // Position: 3 to 1 min, 2 to 2 min, and then by turns 3 and 2.
    expect(value("rope/position.mean")).toBeCloseTo((3 + 2 + 3 + 2 + 3 + 2 + 3 + 2 + 3 * 0.5) / 8.5, 12);
    expect(value("rope/onOrder.mean")).toBeCloseTo((2 * 2.5 * 3 + 2 * 0.5) / 8.5, 12);
    expect(value("rope/wait.max")).toBe(30);
  });

  test("lets those go who find too little, or whose patience ends, and counts what was lost", () => {
    const lost = values(
      shop({ onHand: "3", unmet: "lose", policy: "none", lostCost: "7 money", holding: "1 money/min" }, "1 min", {
        run: { length: "10 min" },
      }),
    );
    expect(lost("rope/unitsLost")).toBe(7);
    expect(lost("t1/lost")).toBe(7);
    expect(lost("rope/cost.shortage")).toBe(49);
    expect(lost("rope/cost.holding")).toBeCloseTo(3 + 2 + 1, 9);
    const left = values(
      shop({ onHand: "0", patience: "90 s", policy: "none" }, "1 min", { run: { length: "10 min" } }),
    );
    // Those of 1 to 8 min have given up by 9.5 min; two wait.
    expect(left("rope/unitsLost")).toBe(8);
    expect(left("rope/backorders.end")).toBe(2);
    expect(left("rope/position.end")).toBe(-2);
  });

  test("serves in the order of coming, each with what it asks for", () => {
    const value = values(
      shop({ onHand: "1", amount: "entity.pieces", policy: "none" }, "1 min", {
        types: [{ id: "t1", name: "Crate", attributes: [{ name: "pieces", value: "if(clock < 90 s, 3, 1)" }] }],
        rules: [
          {
            of: "system",
            event: "once",
            first: "5.5 min",
            steps: [{ do: "put to stock", stock: "rope", amount: "3" }],
          },
        ],
        run: { length: "6 min" },
      }),
    );
    // The first wants 3 and finds 1: all wait behind it. Of 4 units it takes 3, and the next 1.
    expect(value("t1/departed")).toBe(2);
    expect(value("rope/onHand.end")).toBe(0);
    expect(value("rope/backorders.end")).toBe(4);
  });

  test("is supplied by entities that begin elsewhere and come back to it", () => {
    const value = values({
      elements: [
        { id: "in", kind: "arrivals", between: "1 min" },
        {
          id: "rope",
          kind: "stock",
          onHand: "2",
          policy: "point, level",
          reorder: "0",
          level: "2",
          supplier: "mill",
          orderType: "o",
        },
        { id: "out", kind: "departures" },
        { id: "mill", kind: "station", time: "30 s" },
      ],
      links: [...chain("in", "rope", "out"), { from: "mill", to: "rope" }],
      types: [
        { id: "t1", name: "Crate" },
        { id: "o", name: "Order" },
      ],
      run: { length: "10.75 min" },
    });
    expect(value("o/departed")).toBe(5);
    expect(value("mill/done")).toBe(5);
    expect(value("rope/fillRate")).toBe(1);
    expect(value("rope/onOrder.mean")).toBeCloseTo((5 * 2 * 0.5) / 10.75, 12);
  });

  test("tells its events, and which it is that steps name", () => {
    const value = values(
      shop({ onHand: "3", policy: "point, quantity", reorder: "1", quantity: "2", lead: "2.5 min" }, "1 min", {
        variables: ["A", "B", "C"].map((name) => ({ id: name, name, value: "0" })),
        measures: ["A", "B", "C"].map((name) => ({ id: name, name, kind: "average", value: name })),
        rules: [
          { of: "element", at: "rope", event: "is ordered", steps: [set(["A", "A + 1"])] },
          { of: "element", at: "rope", event: "is delivered", steps: [set(["B", "B + 1"])] },
          { of: "element", at: "rope", event: "runs out", steps: [set(["C", "C + 1"])] },
        ],
        run: { length: "8.4 min" },
      }),
    );
    expect([value("A/end"), value("B/end"), value("C/end")]).toEqual([4, 2, 3]);
    expect(
      problemsOf(
        shop({}, "1 min", { rules: [{ of: "system", event: "start", steps: [{ do: "put to stock", stock: "in" }] }] }),
      ).map((p) => p.code),
    ).toEqual(["missing-reference"]);
  });

  test("names amounts that are none, and levels that make no sense", () => {
    expect(problemsOf(shop({ policy: "point, level", reorder: "10", level: "5" }, "1 min")).map((p) => p.code)).toEqual(
      ["level-below-point"],
    );
    const { result } = ran(shop({ amount: "entity.age / 1 s - 1" }, "1 min"));
    expect(result.failure).toMatchObject({ code: "invalid-count", id: "rope", field: "amount", value: -1 });
  });
});

/** The models of reference/inventory.json, by policy and by steps. */
/** So many days as an interval of the backorders within 2 % needs. */
const days = (measured: number) => ({ run: { length: `${measured + 200} d`, warmUp: "200 d" } });
const MEASURED: Readonly<Record<string, number>> = {
  "reorder point, order quantity": 60_000,
  "base stock": 40_000,
  "periodic, order up to level": 85_000,
};
const byPolicy: Readonly<Record<string, Loose>> = {
  "reorder point, order quantity": shop(
    { onHand: "20", policy: "point, quantity", reorder: "14", quantity: "20", lead: "3 d" },
    "exponential(0.25 d)",
    days(60_000),
  ),
  "base stock": shop(
    { onHand: "13", policy: "base stock", level: "13", lead: "4 d" },
    "exponential(0.4 d)",
    days(40_000),
  ),
  "periodic, order up to level": shop(
    { onHand: "32", policy: "review, level", level: "32", every: "5 d", first: "2 d", lead: "4 d" },
    "exponential(1 d / 3)",
    days(85_000),
  ),
};
const bySteps: Readonly<Record<string, (stock: Loose) => Loose>> = {
  "reorder point, order quantity": (model) => ({
    ...model,
    rules: [
      {
        of: "system",
        event: "changes",
        value: "Rope.position",
        condition: "Rope.position <= 14",
        steps: [{ do: "order", stock: "rope", amount: "20" }],
      },
    ],
  }),
  "base stock": (model) => ({
    ...model,
    rules: [
      {
        of: "system",
        event: "changes",
        value: "Rope.position",
        condition: "Rope.position < 13",
        steps: [{ do: "order", stock: "rope", amount: "13 - Rope.position" }],
      },
    ],
  }),
  "periodic, order up to level": (model) => ({
    ...model,
    rules: [
      {
        of: "system",
        event: "every",
        every: "5 d",
        first: "2 d",
        condition: "Rope.position < 32",
        steps: [{ do: "order", stock: "rope", amount: "32 - Rope.position" }],
      },
    ],
  }),
};
const withoutPolicy = (model: Loose): Loose => ({
  ...model,
  elements: (model.elements as Loose[]).map((e) => (e.kind === "stock" ? { ...e, policy: "none" } : e)),
});

describe.each(inventory)("$name", ({ name, exact }) => {
  test("agrees with exact values, and by steps has the same bits", async () => {
    const model = byPolicy[name];
    const study = logicStudy(model as never);
    const { values: of } = await replicate(study, 60, 7);
    expectInterval(of("rope/onHand.mean"), exact.onHand, 0.02);
    expectInterval(of("rope/backorders.mean"), exact.backorders, 0.02);
    expectInterval(of("rope/fillRate"), exact.fillRate, 0.02);
    if (exact.ordersPerTime !== undefined) {
      const { mean, halfWidth } = meanInterval(of("rope/orders"), 0.999);
      const expected = exact.ordersPerTime * MEASURED[name];
      // A review finds nothing to order once in three million times: seldom in all of these.
      expect(Math.abs(mean - expected)).toBeLessThanOrEqual(Math.max(halfWidth, 1e-6 * expected));
    }
    const steps = logicStudy(bySteps[name](withoutPolicy(model)) as never);
    const again = await replicate(steps, 3, 7);
    for (const key of [
      "rope/onHand.mean",
      "rope/backorders.mean",
      "rope/fillRate",
      "rope/orders",
      "rope/position.mean",
    ])
      expect(again.values(key)).toEqual(of(key).slice(0, 3));
  });
});
