/**
 * A study of many elements in lanes: arrivals, then queue and station in turn, then departures; a quarter of the
 * elements also lead to the lane below.
 */
export function largePlan(elementCount: number, linkCount: number): object {
  const perLane = 50;
  const elements: object[] = [];
  const links: object[] = [];
  const kindAt = (i: number) =>
    i === 0 ? "arrivals" : i === perLane - 1 ? "departures" : i % 2 === 1 ? "queue" : "station";
  for (let n = 0; n < elementCount; n++) {
    const [lane, i] = [Math.floor(n / perLane), n % perLane];
    const kind = kindAt(i);
    elements.push({
      id: `e${n}`,
      kind,
      name: `Lane ${lane + 1}, place ${i + 1}`,
      at: [i * 8, lane * 10],
      ...(kind === "arrivals" ? { entityType: "t", between: "exponential(5 min)" } : {}),
      ...(kind === "station" ? { capacity: "2", time: "exponential(4 min)" } : {}),
    });
    if (i > 0) links.push({ id: `l${n}`, from: `e${n - 1}`, to: `e${n}`, kind: i % 3 === 0 ? "walkway" : "direct" });
  }
  for (let n = 0; links.length < linkCount; n++) {
    const i = n % perLane;
    if (n >= elementCount - perLane) break;
    if ((i % 2 === 1 && i < perLane - 1) || (i % 2 === 0 && i > 0))
      links.push({
        id: `x${n}`,
        from: `e${n}`,
        to: `e${n + perLane}`,
        bends: [[i * 8 + 3, Math.floor(n / perLane) * 10 + 5]],
      });
  }
  return {
    format: "busy-harbor-study",
    version: 1,
    name: "Container yard, every lane",
    designs: [{ id: "d", name: "Base", entityTypes: [{ id: "t", name: "Container" }], elements, links }],
  };
}
