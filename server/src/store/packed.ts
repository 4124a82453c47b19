/** Numbers as bytes, little-endian, eight each. */
export function pack(values: ArrayLike<number>): Buffer {
  const bytes = Buffer.alloc(8 * values.length);
  for (let i = 0; i < values.length; i++) bytes.writeDoubleLE(values[i], 8 * i);
  return bytes;
}

/** Numbers from bytes; a copy that nobody else changes. */
export function unpack(bytes: Buffer): Float64Array {
  const values = new Float64Array(bytes.length >> 3);
  for (let i = 0; i < values.length; i++) values[i] = bytes.readDoubleLE(8 * i);
  return values;
}
