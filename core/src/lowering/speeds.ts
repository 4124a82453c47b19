import type { Read } from "../expression/index.ts";
import type { Kernel } from "../kernel/kernel.ts";
import { type Model, streamOf } from "../model/model.ts";
import type { Expressions } from "./expressions.ts";

/** How fast an entity moves, as its type says; NaN of one that has no speed. */
export function speedOf(model: Model, { pool }: Kernel, expressions: Expressions): Read {
  const speeds = model.types.map(({ speed, type }) => speed?.compile(expressions.environment(streamOf(type, "speed"))));
  return (token) => speeds[pool.typeOf(token)]?.(token) ?? Number.NaN;
}
