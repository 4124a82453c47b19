/** A small yard: boats come to one workshop and leave. A table tells of bays that the workshop may become. */
export const familyYard = () => ({
  format: "busy-harbor-study",
  version: 1,
  name: "Bays of the yard",
  question: "Do bays of their own speeds keep up?",
  run: { length: "2 d", replications: 5 },
  tables: [
    {
      id: "bays",
      name: "Bay list",
      key: "bay",
      columns: [
        { id: "bay", name: "Bay", holds: "text" },
        { id: "work", name: "Work", holds: "duration", unit: "min" },
        { id: "slots", name: "Slots" },
        { id: "hours", name: "Hours", holds: "text" },
      ],
      rows: [
        ["North", "40", "1", ""],
        ["South", "55", "2", "Mornings"],
        ["West", "30", "1", ""],
      ],
    },
  ],
  calendars: [
    { id: "m", name: "Mornings", rows: [{ days: [0, 1, 2, 3, 4, 5, 6], from: "00:00", to: "12:00", value: "2" }] },
  ],
  designs: [
    {
      id: "d",
      name: "One workshop",
      entityTypes: [{ id: "t", name: "Boat" }],
      elements: [
        {
          id: "in",
          kind: "arrivals",
          name: "Slipway",
          at: [0, 10],
          entityType: "t",
          between: "exponential(20 min)",
          wayOut: "share",
        },
        { id: "w", kind: "station", name: "Bays", at: [22, 2], time: "30 min" },
        { id: "out", kind: "departures", name: "Sea", at: [44, 10] },
      ],
      links: [
        { id: "a", from: "in", to: "w" },
        { id: "b", from: "w", to: "out" },
      ],
    },
  ],
});
