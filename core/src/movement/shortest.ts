/** Edges of a directed network, by the vertex that they lead to: what a search backwards from a goal needs. */
export interface Edges {
  readonly from: Int32Array;
  readonly to: Int32Array;
}

/** From every vertex the way to one goal: its length, and the edge that it begins with. */
export interface Tree {
  /** Of the weights of its edges, added up; Infinity where no way leads to the goal. */
  readonly distance: Float64Array;
  /** -1 at the goal, and where no way leads to it. */
  readonly next: Int32Array;
}

/** Edges sorted by the vertex that they lead to. */
export class Backwards {
  private readonly first: Int32Array;
  private readonly list: Int32Array;

  constructor(
    private readonly vertices: number,
    private readonly edges: Edges,
  ) {
    this.first = new Int32Array(vertices + 1);
    for (const to of edges.to) this.first[to + 1] += 1;
    for (let v = 0; v < vertices; v++) this.first[v + 1] += this.first[v];
    const at = this.first.slice();
    this.list = new Int32Array(edges.to.length);
    edges.to.forEach((to, edge) => (this.list[at[to]++] = edge));
  }

  /**
   * The ways of least weight to a goal (Dijkstra 1959), by the weight of each edge, none negative; of equal ones that
   * by the edge that was drawn first.
   */
  to(goal: number, weights: Float64Array): Tree {
    const { edges, first, list } = this;
    const distance = new Float64Array(this.vertices).fill(Infinity);
    const next = new Int32Array(this.vertices).fill(-1);
    const heap = new Heap();
    distance[goal] = 0;
    heap.push(0, goal);
    for (let v = heap.pop(); v >= 0; v = heap.pop()) {
      if (heap.key > distance[v]) continue;
      for (let i = first[v]; i < first[v + 1]; i++) {
        const edge = list[i];
        const from = edges.from[edge];
        const length = distance[v] + weights[edge];
        if (length < distance[from]) {
          distance[from] = length;
          next[from] = edge;
          heap.push(length, from);
        } else if (length === distance[from] && edge < next[from]) next[from] = edge;
      }
    }
    return { distance, next };
  }
}

/** Vertices by their keys, the least first; of equal keys the lower vertex. */
class Heap {
  /** The key of the vertex that `pop` gave last. */
  key = 0;
  private readonly keys: number[] = [];
  private readonly vertices: number[] = [];

  push(key: number, vertex: number): void {
    const { keys, vertices } = this;
    let at = keys.length;
    keys.push(key);
    vertices.push(vertex);
    while (at > 0) {
      const parent = (at - 1) >> 1;
      if (!this.isBefore(key, vertex, parent)) break;
      keys[at] = keys[parent];
      vertices[at] = vertices[parent];
      at = parent;
    }
    keys[at] = key;
    vertices[at] = vertex;
  }

  /** -1 when there is none left. */
  pop(): number {
    const { keys, vertices } = this;
    if (keys.length === 0) return -1;
    const top = vertices[0];
    this.key = keys[0];
    const key = keys.pop()!;
    const vertex = vertices.pop()!;
    const size = keys.length;
    if (size === 0) return top;
    let at = 0;
    for (;;) {
      let child = 2 * at + 1;
      if (child >= size) break;
      if (child + 1 < size && this.isBefore(keys[child + 1], vertices[child + 1], child)) child += 1;
      if (this.isBefore(key, vertex, child)) break;
      keys[at] = keys[child];
      vertices[at] = vertices[child];
      at = child;
    }
    keys[at] = key;
    vertices[at] = vertex;
    return top;
  }

  private isBefore(key: number, vertex: number, at: number): boolean {
    return key < this.keys[at] || (key === this.keys[at] && vertex < this.vertices[at]);
  }
}
