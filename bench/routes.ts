import { performance } from "node:perf_hooks";
import { type DrawnWay, WayNetwork } from "../core/src/movement/network.ts";

/** Streets in either direction, each with as many junctions. */
const STREETS = 71;
const APART = 40;
/** Places between which routes are asked for. */
const PLACES = 60;

/** Milliseconds for joining ways with about 5,000 junctions, and for routes between places among them. */
export function routesPreparedMs(): number {
  const spots = Array.from({ length: STREETS }, (_, i) => i * APART);
  const far = (STREETS - 1) * APART;
  // A street is drawn from end to end, with a point at each crossing but every seventh.
  const ways = spots.flatMap((at, k): DrawnWay[] => [
    { points: spots.map((x): [number, number] => [x, at]), oneWay: k % 7 === 3, limit: Infinity },
    {
      points: spots.filter((_, i) => i % 7 !== 5 || i === 0).map((y): [number, number] => [at, y]),
      oneWay: false,
      limit: 8,
    },
  ]);
  const places = Array.from({ length: PLACES }, (_, i): [number, number] => [
    ((i * 37) % STREETS) * APART,
    ((i * 53) % STREETS) * APART,
  ]);
  const start = performance.now();
  const network = new WayNetwork(ways, places);
  let metres = 0;
  for (const from of places) for (const to of places) metres += network.distance(from, to);
  const took = performance.now() - start;
  if (!(metres > 0 && network.distance([0, 0], [far, far]) >= 2 * far - 1)) throw new Error("The routes are wrong.");
  return took;
}
