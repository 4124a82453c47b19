type Column = Uint8Array | Int32Array | Float64Array;

/** A longer copy of a column by token, its new entries `fill`. */
export function grown<T extends Column>(old: T, size: number, fill = 0): T {
  const fresh = new (old.constructor as new (length: number) => T)(size);
  if (fill !== 0) fresh.fill(fill);
  fresh.set(old as never);
  return fresh;
}

/** The length that columns must double to, so that they reach a token. */
export function lengthFor(token: number, now: number): number {
  let size = now;
  while (size <= token) size *= 2;
  return size;
}
