/** Reads a value for an entity (by its token number in the kernel). */
export type Read = (token: number) => number;
