/**
 * MRG32k3a, a combined multiple recursive generator with period near 2^191
 * (L'Ecuyer 1999), and its streams and substreams (L'Ecuyer, Simard, Chen and
 * Kelton 2002): streams start 2^127 draws apart, substreams 2^76 draws apart.
 */
const M1 = 4294967087;
const M2 = 4294944443;
const NORM = 1 / (M1 + 1);
const PER_M1 = 1 / M1;
const PER_M2 = 1 / M2;
const A12 = 1403580;
const A13N = 810728;
const A21 = 527612;
const A23N = 1370589;

/** Six state words: the first three modulo 4294967087, the last three modulo 4294944443. */
export type SeedWords = readonly [number, number, number, number, number, number];

/**
 * A source of uniform numbers in (0, 1), never 0 and never 1. It keeps its state as plain doubles: nothing is
 * allocated by a draw.
 */
export class UniformSource {
  /** Six state words, and how many numbers were given one by one since they were set. */
  private readonly state = new Float64Array(7);
  private isMirrored = false;

  constructor(words?: SeedWords) {
    if (words) this.seed(words);
  }

  /** Goes to the state given by six words; mirrored, it gives 1 - u where it would give u. */
  seed(words: SeedWords, mirrored = false): void {
    this.state.set(words);
    this.state[6] = 0;
    this.isMirrored = mirrored;
  }

  /** How many numbers were given one by one since its seed was set. */
  get given(): number {
    return this.state[6];
  }

  next(): number {
    const { state } = this;
    state[6] += 1;
    const p1 = remainder(A12 * state[1] - A13N * state[0], M1, PER_M1);
    state[0] = state[1];
    state[1] = state[2];
    state[2] = p1;
    const p2 = remainder(A21 * state[5] - A23N * state[3], M2, PER_M2);
    state[3] = state[4];
    state[4] = state[5];
    state[5] = p2;
    const u = combined(p1 - p2);
    return this.isMirrored ? 1 - u : u;
  }

  /** Fills `block` with the next draws, faster than one by one. */
  fill(block: Float64Array): void {
    const { state } = this;
    let a = state[0];
    let b = state[1];
    let c = state[2];
    let d = state[3];
    let e = state[4];
    let f = state[5];
    for (let i = 0; i < block.length; i++) {
      const p1 = remainder(A12 * b - A13N * a, M1, PER_M1);
      a = b;
      b = c;
      c = p1;
      const p2 = remainder(A21 * f - A23N * d, M2, PER_M2);
      d = e;
      e = f;
      f = p2;
      block[i] = combined(p1 - p2);
    }
    if (this.isMirrored) for (let i = 0; i < block.length; i++) block[i] = 1 - block[i];
    state[0] = a;
    state[1] = b;
    state[2] = c;
    state[3] = d;
    state[4] = e;
    state[5] = f;
  }
}

/**
 * `x` modulo `m`, for whole numbers within 2^53; `perM` is 1/m. Multiplying is faster than dividing, and at most one
 * `m` off.
 */
function remainder(x: number, m: number, perM: number): number {
  const rest = x - Math.floor(x * perM) * m;
  return rest < 0 ? rest + m : rest >= m ? rest - m : rest;
}

/**
 * The uniform number of a difference of the two halves: the difference modulo `M1`, `M1` standing for 0. Which half
 * is larger is a coin toss, so it is not asked by a branch.
 */
function combined(difference: number): number {
  const rest = difference - Math.floor(difference * PER_M1) * M1;
  return (rest === 0 ? M1 : rest) * NORM;
}

type Matrix = readonly (readonly bigint[])[];

const A1: Matrix = [
  [0n, 1n, 0n],
  [0n, 0n, 1n],
  [BigInt(M1 - A13N), BigInt(A12), 0n],
];
const A2: Matrix = [
  [0n, 1n, 0n],
  [0n, 0n, 1n],
  [BigInt(M2 - A23N), 0n, BigInt(A21)],
];
const IDENTITY: Matrix = [
  [1n, 0n, 0n],
  [0n, 1n, 0n],
  [0n, 0n, 1n],
];

const multiply = (a: Matrix, b: Matrix, m: bigint): Matrix =>
  a.map((row) => b[0].map((_, j) => row.reduce((sum, x, k) => sum + x * b[k][j], 0n) % m));

function power(a: Matrix, exponent: bigint, m: bigint): Matrix {
  let result = IDENTITY;
  for (let base = a, left = exponent; left > 0n; left >>= 1n, base = multiply(base, base, m)) {
    if (left & 1n) result = multiply(result, base, m);
  }
  return result;
}

const STREAM = { a1: power(A1, 1n << 127n, BigInt(M1)), a2: power(A2, 1n << 127n, BigInt(M2)) };
const SUBSTREAM = { a1: power(A1, 1n << 76n, BigInt(M1)), a2: power(A2, 1n << 76n, BigInt(M2)) };

/** A jump of a fixed number of draws; apply it to state words. */
export interface Jump {
  readonly a1: Matrix;
  readonly a2: Matrix;
}

const jumpBy = (step: Jump, times: number): Jump => ({
  a1: power(step.a1, BigInt(times), BigInt(M1)),
  a2: power(step.a2, BigInt(times), BigInt(M2)),
});

/** The jump from a stream's start to its substream `substream` (a whole number, 0 or more). */
export const substreamJump = (substream: number): Jump => jumpBy(SUBSTREAM, substream);

/** The jump from stream 0 to stream `stream` (a whole number, 0 or more). */
export const streamJump = (stream: number): Jump => jumpBy(STREAM, stream);

/** State words after a jump. */
export function applyJump(jump: Jump, words: SeedWords): SeedWords {
  const half = (a: Matrix, s: readonly number[], m: bigint) =>
    a.map((row) => Number((row[0] * BigInt(s[0]) + row[1] * BigInt(s[1]) + row[2] * BigInt(s[2])) % m));
  const [x, y, z] = half(jump.a1, words.slice(0, 3), BigInt(M1));
  const [u, v, w] = half(jump.a2, words.slice(3, 6), BigInt(M2));
  return [x, y, z, u, v, w];
}

/**
 * Spreads one whole number, the seed a person types, over the six state words
 * by a 32-bit mixing function (Steele, Lea and Flood 2014), so that
 * neighbouring seeds share nothing.
 */
export function seedWords(seed: number): SeedWords {
  let low = seed >>> 0;
  let high = Math.floor(seed / 4294967296) >>> 0;
  const next = (modulus: number) => {
    low = (low + 0x9e3779b9) >>> 0;
    high = (high + 0x85ebca6b + (low < 0x9e3779b9 ? 1 : 0)) >>> 0;
    let z = low ^ Math.imul(high, 0xc2b2ae35);
    z = Math.imul(z ^ (z >>> 16), 0x85ebca6b);
    z = Math.imul(z ^ (z >>> 13), 0xc2b2ae35);
    return (((z ^ (z >>> 16)) >>> 0) % (modulus - 1)) + 1;
  };
  return [next(M1), next(M1), next(M1), next(M2), next(M2), next(M2)];
}
