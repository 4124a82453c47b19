/**
 * MRG32k3a, a combined multiple recursive generator with period near 2^191
 * (L'Ecuyer 1999), and its streams and substreams (L'Ecuyer, Simard, Chen and
 * Kelton 2002): streams start 2^127 draws apart, substreams 2^76 draws apart.
 */
const M1 = 4294967087;
const M2 = 4294944443;
const NORM = 1 / (M1 + 1);
const A12 = 1403580;
const A13N = 810728;
const A21 = 527612;
const A23N = 1370589;

/** Six state words: the first three modulo 4294967087, the last three modulo 4294944443. */
export type SeedWords = readonly [number, number, number, number, number, number];

/**
 * Makes a source of uniform numbers in (0, 1), never 0 and never 1, that starts at `words`.
 * The state lives in the closure as plain doubles: nothing is allocated by a draw.
 */
export function uniformSource(words: SeedWords): () => number {
  const state = new Float64Array(words);
  return () => {
    let p1 = A12 * state[1] - A13N * state[0];
    p1 -= Math.floor(p1 / M1) * M1;
    state[0] = state[1];
    state[1] = state[2];
    state[2] = p1;
    let p2 = A21 * state[5] - A23N * state[3];
    p2 -= Math.floor(p2 / M2) * M2;
    state[3] = state[4];
    state[4] = state[5];
    state[5] = p2;
    return (p1 > p2 ? p1 - p2 : p1 - p2 + M1) * NORM;
  };
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
