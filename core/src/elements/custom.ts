import type { CustomModel } from "../model/model.ts";
import { type Dimension, NUMBER, TIME } from "../quantity/index.ts";
import { mergeTallies, type Tally } from "../statistics/tally.ts";
import type { Lowering } from "./lowering.ts";

/**
 * Declares a custom measure. Levels follow their expressions exactly: they change when what is read changes, at the
 * end of that instant.
 */
export function measureCustom(custom: CustomModel, lowering: Lowering): void {
  const { measure, value, bounds } = custom;
  if (measure.kind === "group") {
    measureGroup(custom, lowering);
    return;
  }
  if (!value) return;
  const add = lowering.measuresOf(measure, "custom");
  const read = value.compile(lowering.environment(0));
  const share = (level: { readonly integral: number }) => level.integral / lowering.measuredTime;
  if (measure.kind === "ranges") {
    const levels = [lowering.level(), ...bounds.map(() => lowering.level())];
    levels.forEach((level, i) => {
      const [from, to] = [measure.bounds[i - 1], measure.bounds[i]];
      add(
        `range.${i}`,
        from === undefined
          ? `Share of time below ${to}`
          : to === undefined
            ? `Share of time from ${from}`
            : `Share of time from ${from} to below ${to}`,
        NUMBER,
        () => share(level),
      );
    });
    let at = -1;
    lowering.atStart(() => (at = -1));
    lowering.onChangeOf(value, () => {
      const now = read(-1);
      let range = 0;
      while (range < bounds.length && now >= bounds[range]) range += 1;
      if (range === at) return;
      if (at >= 0) levels[at].add(-1);
      levels[range].add(1);
      at = range;
    });
    return;
  }
  const level = lowering.level();
  if (measure.kind === "condition") add("share", "Share of time in which it holds", NUMBER, () => share(level));
  else {
    const dimension: Dimension = value.type.kind === "number" ? value.type.dimension : NUMBER;
    add("mean", "Average over time", dimension, () => share(level));
    add("max", "Most", dimension, () => level.max);
    add("end", "At the end", dimension, () => level.value);
  }
  lowering.onChangeOf(value, () => level.add(read(-1) - level.value));
}

/**
 * What elements of a group have in common, merged: lines and throughputs are summed, waits are pooled, shares are
 * weighed by their units.
 */
function measureGroup({ measure, elements }: CustomModel, lowering: Lowering): void {
  const add = lowering.measuresOf(measure, "group");
  const nodes = elements.map((index) => lowering.model.nodes[index]);
  const of = (id: string) =>
    nodes.flatMap((node) => lowering.measures.find((m) => m.key === `${node.element.id}/${id}`) ?? []);
  const units = nodes.map(
    (node) => node.settings.get(node.element.kind === "station" ? "capacity" : "count")?.constant ?? 1,
  );
  const weighed = (id: string) => {
    const parts = nodes.flatMap((node, i) => {
      const found = lowering.measures.find((m) => m.key === `${node.element.id}/${id}`);
      return found ? [{ read: found.read, units: units[i] }] : [];
    });
    return () => parts.reduce((sum, p) => sum + p.units * p.read(), 0) / parts.reduce((sum, p) => sum + p.units, 0);
  };
  const sums: [id: string, label: string][] = [
    ["line.mean", "In line, average, together"],
    ["inside.mean", "Inside, average, together"],
    ["done", "Finished, together"],
    ["left", "Left, together"],
    ["lost", "Turned away, together"],
    ["breakdowns", "Breakdowns, together"],
    ["cost", "Cost, together"],
  ];
  for (const [id, label] of sums) {
    const parts = of(id);
    if (parts.length > 0) add(id, label, parts[0].dimension, () => parts.reduce((sum, m) => sum + m.read(), 0));
  }
  const busy = weighed("state.busy");
  const states = [
    ...new Set(
      lowering.measures
        .filter((m) => m.id.startsWith("state.") && nodes.some((n) => n.element.id === m.ownerId))
        .map((m) => m.id),
    ),
  ];
  if (states.length > 0) {
    // A share that an element does not have is 0 there: it still weighs.
    const shareOf = (id: string) => {
      const parts = nodes.map((node, i) => ({
        read: lowering.measures.find((m) => m.key === `${node.element.id}/${id}`)?.read ?? (() => 0),
        units: lowering.measures.some((m) => m.key === `${node.element.id}/state.busy`) ? units[i] : 0,
      }));
      const whole = parts.reduce((sum, p) => sum + p.units, 0);
      return () => parts.reduce((sum, p) => sum + p.units * p.read(), 0) / whole;
    };
    const off = shareOf("state.offShift");
    add("utilization", "Utilization, busy over scheduled time, together", NUMBER, () => busy() / (1 - off()));
    for (const id of states) add(id, lowering.measures.find((m) => m.id === id)!.label, NUMBER, shareOf(id));
  }
  const waits = nodes.flatMap((node): Tally[] => lowering.waitsOf(node));
  if (waits.length > 0) {
    const merged = () => mergeTallies(waits);
    lowering.tallyMeasures(add, "wait", "Wait, of all together", merged);
    add("waited.mean", "Wait of those who waited, of all together, mean", TIME, () => {
      const all = merged();
      return all.sum / all.positive;
    });
  }
}
