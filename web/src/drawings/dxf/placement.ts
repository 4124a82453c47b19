/** An affine map: x' = a x + c y + e, y' = b x + d y + f. */
export type Placement = readonly [a: number, b: number, c: number, d: number, e: number, f: number];

export const IDENTITY: Placement = [1, 0, 0, 1, 0, 0];

/** First one map, then the other. */
export function then([a, b, c, d, e, f]: Placement, [A, B, C, D, E, F]: Placement): Placement {
  return [A * a + C * b, B * a + D * b, A * c + C * d, B * c + D * d, A * e + C * f + E, B * e + D * f + F];
}

interface BlockPlace {
  readonly at: readonly [number, number];
  /** Counterclockwise, in radians. */
  readonly turn: number;
  readonly scale: readonly [number, number];
  /** The block's own point that comes to lie at `at`. */
  readonly base: readonly [number, number];
  /** Of one of a row or column of copies, along the turned axes. */
  readonly offset: readonly [number, number];
  /** Seen from below: x turns round. */
  readonly mirrored: boolean;
}

/** The map from a block's own coordinates to where it is put. */
export function placed({ at, turn, scale: [sx, sy], base, offset, mirrored }: BlockPlace): Placement {
  const [cos, sin] = [Math.cos(turn), Math.sin(turn)];
  const toBase: Placement = [1, 0, 0, 1, -base[0], -base[1]];
  const scaled: Placement = [sx, 0, 0, sy, offset[0], offset[1]];
  const turned: Placement = [cos, sin, -sin, cos, at[0], at[1]];
  const map = then(then(toBase, scaled), turned);
  return mirrored ? then(map, [-1, 0, 0, 1, 0, 0]) : map;
}
