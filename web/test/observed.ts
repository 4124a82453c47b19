/** A desk, and a table of 300 times seen at it: of a Weibull distribution of shape 1.8 and scale 6 min. */
export function observedDesk(): object {
  const rows = Array.from({ length: 300 }, (_, i) => {
    // The shares of a golden ratio's multiples: spread evenly, and in no order.
    const share = (0.5 + i * 0.6180339887498949) % 1;
    return [(6 * (-Math.log(1 - share)) ** (1 / 1.8)).toFixed(3)];
  });
  return {
    format: "busy-harbor-study",
    version: 1,
    name: "Times seen at the desk",
    tables: [{ id: "seen", name: "Seen", columns: [{ id: "t", name: "Time", holds: "duration", unit: "min" }], rows }],
    designs: [
      {
        id: "d",
        name: "Base",
        entityTypes: [{ id: "p", name: "Passenger" }],
        elements: [
          { id: "in", kind: "arrivals", name: "Door", at: [0, 0], entityType: "p", between: "exponential(9 min)" },
          { id: "desk", kind: "station", name: "Desk", at: [20, 0], time: "5 min" },
          { id: "out", kind: "departures", name: "Out", at: [40, 0] },
        ],
        links: [
          { id: "a", from: "in", to: "desk" },
          { id: "b", from: "desk", to: "out" },
        ],
      },
    ],
  };
}
