/** A quay with roads, and trucks that carry containers from a crane to a stacker. */
export function truckYard() {
  const road = (id: string, points: readonly (readonly [number, number])[], more: object = {}) => ({
    id,
    kind: "road",
    width: 5,
    points,
    ...more,
  });
  return {
    format: "busy-harbor-study",
    version: 1,
    name: "Quay yard",
    run: { length: "4 h", replications: 5 },
    plan: [
      {
        shape: "water",
        points: [
          [-120, -90],
          [120, -90],
          [120, -9],
          [-120, -9],
        ],
      },
    ],
    designs: [
      {
        id: "d",
        name: "Four trucks",
        entityTypes: [{ id: "t", name: "Container", look: "crate" }],
        elements: [
          {
            kind: "arrivals",
            id: "a",
            name: "Quay crane",
            at: [-40, 0],
            entityType: "t",
            between: "exponential(22 s)",
          },
          { kind: "station", id: "s", name: "Reach stacker", at: [30, 20], time: "18 s" },
          { kind: "departures", id: "o", name: "Block", at: [55, 20] },
          {
            ...{ kind: "vehicle", id: "v", name: "Trucks", at: [-10, 32], count: "4", over: "ways", idle: "home" },
            ...{ speed: "6 m/s", speedLoaded: "4 m/s", load: "10 s", unload: "15 s" },
          },
        ],
        links: [
          { id: "l1", from: "a", to: "s", kind: "carried", by: "v" },
          { id: "l2", from: "s", to: "o" },
        ],
        roads: [
          road(
            "r1",
            [
              [-40, 0],
              [10, 0],
              [10, 20],
              [30, 20],
            ],
            { from: "a", to: "s" },
          ),
          road(
            "r2",
            [
              [10, 20],
              [-10, 20],
              [-10, 32],
            ],
            { to: "v" },
          ),
          road(
            "r3",
            [
              [-10, 20],
              [-40, 20],
              [-40, 0],
            ],
            { oneWay: true, to: "a" },
          ),
        ],
      },
    ],
  };
}
