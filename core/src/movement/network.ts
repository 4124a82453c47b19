import type { Point } from "../settings/parts.ts";
import { Backwards, type Edges, type Tree } from "./shortest.ts";

/** A way as it is drawn, read. */
export interface DrawnWay {
  readonly points: readonly Point[];
  readonly oneWay: boolean;
  /** Metres a second; Infinity where there is none. */
  readonly limit: number;
  /** So many times its length when the shortest way is looked for; 1 unless told. */
  readonly factor?: number;
  /** Its number among those that are followed; none unless told. */
  readonly followed?: number;
  /** Who goes along it one behind the other: each stretch between joints is a lane. */
  readonly keepsOrder?: boolean;
}

/** Where on a way that is followed a stretch lies. */
export interface OnWay {
  /** Number of the way among those that are followed. */
  readonly way: number;
  /** In its direction as it was drawn. */
  readonly forth: boolean;
  /** Number of the lane in which nobody passes another; -1 for none. */
  readonly lane: number;
}

/** A stretch of a route on which one limit holds. */
export interface Stretch {
  /** Metres from the start of the route. */
  readonly from: number;
  readonly length: number;
  readonly limit: number;
  readonly on?: OnWay | undefined;
  /** The way turns where it begins. */
  readonly turns?: boolean;
}

/** The shortest way from one place to another. */
export interface Route {
  readonly length: number;
  /** Where it bends, both ends among them. */
  readonly points: readonly Point[];
  readonly stretches: readonly Stretch[];
}

/** What each edge counts, by the speed of who looks for the quickest way (0: the shortest), and the routes by that. */
export interface Counting {
  readonly weights: Map<number, Float64Array>;
  readonly trees: Map<number, Map<number, Tree>>;
}

/** Points nearer than this are one, in metres. */
export const JOINS_WITHIN = 0.01;

/**
 * Ways that are drawn, joined into a network: where they share a point, and where a point of one lies on another.
 * Lines that merely cross are not joined: one may lead over the other. Places are joined where they lie on a way.
 */
export class WayNetwork {
  private readonly vertices: Point[] = [];
  private readonly numbers = new Map<string, number>();
  private readonly edges: Edges;
  private readonly metres: Float64Array;
  private readonly limits: Float64Array;
  private readonly on: (OnWay | undefined)[] = [];
  private readonly backwards: Backwards;
  private readonly factors: Float64Array;
  /** As they were drawn. */
  private readonly plain: Counting;

  /** `places` are points that are to be on the network where they lie on a way. */
  constructor(ways: readonly DrawnWay[], places: readonly Point[] = []) {
    for (const { points } of ways) for (const point of points) this.number(point);
    const ofWays = this.vertices.length;
    for (const place of places) this.number(place);
    const grid = new Grid(this.vertices);
    const from: number[] = [];
    const to: number[] = [];
    const length: number[] = [];
    const limits: number[] = [];
    const factors: number[] = [];
    let isForth = true;
    const add = (a: number, b: number, metres: number, { limit, factor = 1, followed, keepsOrder }: DrawnWay) => {
      const on = followed === undefined ? undefined : { way: followed, forth: isForth, lane: -1 };
      this.on.push(on && keepsOrder ? { ...on, lane: from.length } : on);
      from.push(a);
      to.push(b);
      length.push(metres);
      limits.push(limit);
      factors.push(factor);
    };
    for (const way of ways) {
      const { points, oneWay } = way;
      for (let i = 1; i < points.length; i++) {
        const on = grid.along(points[i - 1], points[i]);
        for (let k = 1; k < on.length; k++) {
          const [a, b] = [on[k - 1], on[k]];
          if (a.vertex === b.vertex) continue;
          isForth = true;
          add(a.vertex, b.vertex, b.at - a.at, way);
          isForth = false;
          if (!oneWay) add(b.vertex, a.vertex, b.at - a.at, way);
        }
      }
    }
    this.isOn = new Uint8Array(this.vertices.length);
    for (let v = 0; v < ofWays; v++) this.isOn[v] = 1;
    for (const v of from) this.isOn[v] = 1;
    for (const v of to) this.isOn[v] = 1;
    this.metres = Float64Array.from(length);
    this.limits = Float64Array.from(limits);
    this.factors = Float64Array.from(factors);
    this.plain = this.counting();
    this.edges = { from: Int32Array.from(from), to: Int32Array.from(to) };
    this.backwards = new Backwards(this.vertices.length, this.edges);
  }

  private readonly isOn: Uint8Array;

  /** Has ways count otherwise: `factors` by the number of those that are followed, NaN where one is as it was drawn. */
  counting(factors?: Float64Array): Counting {
    const weights = this.metres.map((metres, edge) => {
      const { [edge]: on } = this.on;
      const factor = on && factors ? factors[on.way] : Number.NaN;
      return metres * (Number.isNaN(factor) ? this.factors[edge] : factor);
    });
    return { weights: new Map([[0, weights]]), trees: new Map() };
  }

  /** Whether a point is on the network. */
  has(point: Point): boolean {
    const vertex = this.numbers.get(keyOf(point));
    return vertex !== undefined && this.isOn[vertex] === 1;
  }

  /**
   * The shortest way between two points of the network, or the quickest at a speed in metres a second, as the ways
   * count; undefined where none leads there.
   */
  route(from: Point, to: Point, quickestAt = 0, counting = this.plain): Route | undefined {
    const [start, goal] = [this.numbers.get(keyOf(from)), this.numbers.get(keyOf(to))];
    if (start === undefined || goal === undefined) return undefined;
    const { distance, next } = this.treeTo(goal, quickestAt, counting);
    if (distance[start] === Infinity) return undefined;
    const points: Point[] = [this.vertices[start]];
    const stretches: { from: number; length: number; limit: number; on: OnWay | undefined }[] = [];
    let at = 0;
    for (let v = start; v !== goal;) {
      const edge = next[v];
      const [metres, limit, on] = [this.metres[edge], this.limits[edge], this.on[edge]];
      const last = stretches.at(-1);
      if (last?.limit === limit && isOneStretch(last.on, on)) last.length += metres;
      else stretches.push({ from: at, length: metres, limit, on });
      at += metres;
      v = this.edges.to[edge];
      points.push(this.vertices[v]);
    }
    return { length: at, points, stretches };
  }

  /** Metres of the shortest way, each way counted by its factor; Infinity where none leads there. */
  distance(from: Point, to: Point): number {
    const [start, goal] = [this.numbers.get(keyOf(from)), this.numbers.get(keyOf(to))];
    return start === undefined || goal === undefined ? Infinity : this.treeTo(goal, 0, this.plain).distance[start];
  }

  /** Prepared when first asked for: a run looks routes up, and searches none. */
  private treeTo(goal: number, quickestAt: number, counting: Counting): Tree {
    let trees = counting.trees.get(quickestAt);
    if (!trees) counting.trees.set(quickestAt, (trees = new Map<number, Tree>()));
    let tree = trees.get(goal);
    if (!tree) trees.set(goal, (tree = this.backwards.to(goal, this.weightsAt(quickestAt, counting))));
    return tree;
  }

  /** What each edge counts: its length, or the seconds that it takes at a speed, times the factor of its way. */
  private weightsAt(speed: number, { weights: known }: Counting): Float64Array {
    let weights = known.get(speed);
    if (!weights) {
      weights = known.get(0)!.map((counted, edge) => counted / Math.min(speed, this.limits[edge]));
      known.set(speed, weights);
    }
    return weights;
  }

  private number(point: Point): number {
    const key = keyOf(point);
    let number = this.numbers.get(key);
    if (number === undefined) {
      number = this.vertices.push(point) - 1;
      this.numbers.set(key, number);
    }
    return number;
  }
}

/** Whether a stretch goes on from one edge to the next: nothing is to be looked at between them. */
const isOneStretch = (a: OnWay | undefined, b: OnWay | undefined): boolean =>
  a === b || (a !== undefined && b !== undefined && a.lane < 0 && a.way === b.way && a.forth === b.forth);

const keyOf = ([x, y]: Point): string => `${Math.round(x / JOINS_WITHIN)} ${Math.round(y / JOINS_WITHIN)}`;

/** Cells of the grid in which points are looked for, in metres. */
const CELL = 10;

/** Points by where they are. */
class Grid {
  private readonly cells = new Map<string, number[]>();

  constructor(private readonly points: readonly Point[]) {
    points.forEach(([x, y], i) => {
      const key = `${Math.floor(x / CELL)} ${Math.floor(y / CELL)}`;
      const cell = this.cells.get(key);
      if (cell) cell.push(i);
      else this.cells.set(key, [i]);
    });
  }

  /** The points that lie on a segment, its ends among them, in their order from its start. */
  along(start: Point, end: Point): { readonly vertex: number; readonly at: number }[] {
    const [dx, dy] = [end[0] - start[0], end[1] - start[1]];
    const length = Math.sqrt(dx * dx + dy * dy);
    if (length < JOINS_WITHIN) return [];
    const found = new Map<number, number>();
    const look = (cellX: number, cellY: number): void => {
      for (const vertex of this.cells.get(`${cellX} ${cellY}`) ?? []) {
        if (found.has(vertex)) continue;
        const [x, y] = this.points[vertex];
        const at = ((x - start[0]) * dx + (y - start[1]) * dy) / length;
        const beside = Math.abs((x - start[0]) * dy - (y - start[1]) * dx) / length;
        if (beside < JOINS_WITHIN && at > -JOINS_WITHIN && at < length + JOINS_WITHIN)
          found.set(vertex, Math.min(length, Math.max(0, at)));
      }
    };
    // Each column of cells that the segment passes, and in it the cells from where it comes in to where it goes out.
    const [left, right] = [Math.min(start[0], end[0]) - JOINS_WITHIN, Math.max(start[0], end[0]) + JOINS_WITHIN];
    for (let cellX = Math.floor(left / CELL); cellX <= Math.floor(right / CELL); cellX++) {
      const [low, high] = this.span(start, end, cellX * CELL, (cellX + 1) * CELL);
      for (let cellY = Math.floor(low / CELL); cellY <= Math.floor(high / CELL); cellY++) look(cellX, cellY);
    }
    return [...found].map(([vertex, at]) => ({ vertex, at })).sort((a, b) => a.at - b.at || a.vertex - b.vertex);
  }

  /** Between which heights a segment is while it is between two abscissas, somewhat widened. */
  private span([x0, y0]: Point, [x1, y1]: Point, left: number, right: number): readonly [number, number] {
    const heights =
      Math.abs(x1 - x0) < JOINS_WITHIN
        ? [y0, y1]
        : [left - JOINS_WITHIN, right + JOINS_WITHIN].map((x) => {
            const share = Math.min(1, Math.max(0, (x - x0) / (x1 - x0)));
            return y0 + share * (y1 - y0);
          });
    return [Math.min(...heights) - JOINS_WITHIN, Math.max(...heights) + JOINS_WITHIN];
  }
}
