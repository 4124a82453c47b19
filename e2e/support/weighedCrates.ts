/** Crates that are weighed again by a procedure, where they are heavy. */
export const weighedCrates = () => ({
  format: "busy-harbor-study",
  version: 1,
  name: "Tea warehouse",
  run: { length: "10 d", replications: 5 },
  variables: [{ id: "n", name: "Crates in", value: "0" }],
  designs: [
    {
      id: "d1",
      name: "As it is",
      entityTypes: [
        {
          id: "t1",
          name: "Crate",
          attributes: [
            { name: "joined", value: "0 min" },
            { name: "weight", value: "uniform(80 kg, 240 kg)" },
          ],
        },
      ],
      elements: [
        { id: "in", kind: "arrivals", name: "Lorry", at: [0, 0], entityType: "t1", between: "exponential(12 min)" },
        { id: "q", kind: "queue", name: "Waiting line", at: [14, 0] },
        { id: "s", kind: "station", name: "Scales", at: [28, 0], time: "triangular(4 min, 8 min, 14 min)" },
        { id: "out", kind: "departures", name: "Store", at: [42, 0] },
        { id: "crew", kind: "crew", name: "Porters", at: [28, 10], count: "2" },
      ],
      links: [
        { id: "l1", from: "in", to: "q" },
        { id: "l2", from: "q", to: "s" },
        { id: "l3", from: "s", to: "out" },
      ],
      measures: [{ id: "m1", kind: "recorded", name: "Time in line" }],
      procedures: [
        {
          id: "p1",
          name: "Weigh",
          parameters: [{ id: "lim", name: "limit", unit: "kg" }],
          steps: [
            { id: "a1", do: "claim", needs: [{ id: "n", anyOf: ["crew"], count: "1" }], patience: "20 min" },
            { id: "a2", do: "else", steps: [{ id: "a3", do: "end", answer: "no" }] },
            { id: "a4", do: "wait", time: "2 min" },
            { id: "a5", do: "free", what: ["crew"] },
            { id: "a6", do: "end", answer: "entity.weight > limit" },
          ],
        },
      ],
      rules: [
        {
          id: "r1",
          of: "element",
          at: "q",
          event: "comes in",
          steps: [
            {
              id: "b1",
              do: "set",
              values: [
                { id: "v1", what: "entity.joined", to: "clock" },
                { id: "v2", what: "CratesIn", to: "CratesIn + 1" },
              ],
            },
            { id: "b2", do: "let", name: "heavy", value: "no" },
            {
              id: "b3",
              do: "if",
              condition: "entity.weight > 200 kg",
              note: "only what looks heavy",
              steps: [
                { id: "b4", do: "call", procedure: "p1", args: [{ id: "lim", value: "220 kg" }], into: "heavy" },
                {
                  id: "b5",
                  do: "if",
                  condition: "heavy",
                  steps: [{ id: "b6", do: "send", to: "Store", time: "5 min" }],
                },
              ],
            },
            { id: "b7", do: "else", steps: [{ id: "b8", do: "wait", time: "30 s", as: "stay" }] },
          ],
        },
        {
          id: "r2",
          of: "element",
          at: "s",
          event: "work starts",
          steps: [{ id: "c1", do: "record", measure: "m1", value: "clock - entity.joined" }],
        },
      ],
    },
  ],
});
