import { condition, number } from "./setting.ts";

/** How many of a resource are needed. */
export const needCount = (more: Parameters<typeof number>[2]) =>
  number("How many", "A whole number; it may go by the entity, such as entity.size.", {
    initial: "1",
    entity: true,
    steady: true,
    least: 0,
    ...more,
  });

/** Who of the members can do it. */
export const whoCan = (more: Parameters<typeof condition>[2]) =>
  condition("Who can", "What must hold of the row of one, such as who.welding >= 2. Empty: anybody.", {
    optional: true,
    entity: true,
    steady: true,
    knowsWho: true,
    ...more,
  });

/** How many times as long something takes with a member. */
export const timesAsLong = (what: string, more: Parameters<typeof number>[2] = {}) =>
  number("Times as long", `${what}, such as 1 / who.pace; of several the slowest. Empty: 1.`, {
    optional: true,
    entity: true,
    steady: true,
    knowsWho: true,
    above: 0,
    ...more,
  });
