/** Stations at which everything is set that a station has. */
export function fullStations(count: number): object {
  const elements: object[] = [
    { kind: "arrivals", id: "in", name: "In", at: [0, 0], entityType: "t", between: "1 min" },
    { kind: "departures", id: "out", name: "Out", at: [60, 0] },
    { kind: "crew", id: "crew", name: "Crew", at: [30, 24] },
  ];
  const links: object[] = [];
  for (let i = 0; i < count; i++) {
    elements.push({
      kind: "station",
      id: `s${i}`,
      name: `Berth ${i + 1}`,
      at: [10 + (i % 5) * 9, 6 * Math.floor(i / 5)],
      capacity: "2",
      time: "exponential(1 min)",
      order: "smallest first",
      rank: "entity.age",
      balk: "clock > 90 d",
      patience: "4 h",
      setup: "2 min",
      setupWhen: "on change",
      changeovers: [
        { id: "c1", from: "", to: "t", time: "3 min" },
        { id: "c2", from: "t", to: "", time: "4 min" },
      ],
      teardown: "1 min",
      needs: [{ id: "n", anyOf: ["crew"], count: "1", phases: ["work"] }],
      priority: "2",
      breakdowns: [1, 2, 3].map((n) => ({
        id: `b${n}`,
        clock: "busy time",
        every: "exponential(20 h)",
        jobs: "100",
        repair: "exponential(10 min)",
        anyOf: ["crew"],
        count: "1",
      })),
      batchLeast: "1",
      batchMost: "2",
      batchWait: "5 min",
      rework: "5 %",
      costBusy: "20 money/h",
      costOpen: "3 money/h",
      costEach: "1 money",
    });
    links.push({ id: `a${i}`, from: "in", to: `s${i}` }, { id: `b${i}`, from: `s${i}`, to: "out" });
  }
  return {
    format: "busy-harbor-study",
    version: 1,
    name: "Every setting of a station",
    designs: [{ id: "d", name: "Base", entityTypes: [{ id: "t", name: "Boat" }], elements, links }],
  };
}
