import type { Better } from "./best.ts";

/**
 * Whether each of several points is efficient: no other is at least as good by every response and better by one
 * (Pareto 1906). A point that lacks a value is not.
 */
export function efficient(points: readonly (readonly number[])[], better: readonly Better[]): boolean[] {
  const good = points.map((point) => point.map((v, i) => (better[i] === "more" ? v : -v)));
  const isWhole = good.map((point) => point.every(Number.isFinite));
  return good.map(
    (a, i) =>
      isWhole[i] && !good.some((b, j) => isWhole[j] && b.every((v, d) => v >= a[d]) && b.some((v, d) => v > a[d])),
  );
}
