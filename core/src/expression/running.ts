import type { Read } from "./read.ts";

/** A part of a running model by which sources are read, such as its clock. Whoever runs a model provides its parts. */
export class Part<T> {
  /** For the compiler alone. */
  declare protected readonly type: T;
  constructor(readonly name: string) {}
}

/** A model that runs, as far as expressions know it. */
export interface Running {
  part<T>(part: Part<T>): T;
}

/**
 * Something that an expression may read. The set is open: whoever has something to be read gives it a name in a scope,
 * and a source that finds it in the running model when the expression is lowered.
 */
export interface Source {
  /** It changes with the clock alone, and nobody tells of that. */
  readonly ofTime?: boolean;
  /** Ids of the elements that tell when it changes. */
  readonly toldBy?: readonly string[];
  reader(running: Running): Read;
  /** What sets it, for an entity; absent where it cannot be set. */
  writer?(running: Running): Write;
}

/** Sets a value, for an entity by its token number in the kernel; -1 where none is at hand. */
export type Write = (token: number, value: number) => void;
