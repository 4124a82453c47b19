import type { Node } from "../../model/model.ts";
import type { Lowering } from "../../lowering/lowering.ts";
import type { Station } from "./settings.ts";

/**
 * How long a slot must be set up for an entity: seconds; -Infinity when it need not be. Undefined
 * for stations without setups. Asking counts as setting up: the slot remembers what it is set up for.
 */
export function setupTime(
  node: Node<Station>,
  lowering: Lowering,
  capacity: number,
): ((token: number, slot: number) => number) | undefined {
  const { element, settings } = node;
  const plain = lowering.expressions.read(node, "setup", Number.NEGATIVE_INFINITY);
  if (element.setupWhen === "always") return settings.has("setup") ? plain : undefined;
  const value = lowering.expressions.read(node, "setupBy", 0);
  const rows = element.changeovers.map(({ id }) => ({
    from: settings.get(`changeovers.${id}.from`)?.constant,
    to: settings.get(`changeovers.${id}.to`)?.constant,
    time: lowering.expressions.read(node, `changeovers.${id}.time`, 0),
  }));
  /** NaN: never set up. */
  const setUpFor = new Float64Array(capacity);
  lowering.replication.atStart(() => setUpFor.fill(Number.NaN));
  return (token, slot) => {
    const before = setUpFor[slot];
    const now = value(token);
    if (now === before) return Number.NEGATIVE_INFINITY;
    setUpFor[slot] = now;
    for (const { from, to, time } of rows) {
      if ((from === undefined || from === before) && (to === undefined || to === now)) return time(token);
    }
    return plain(token);
  };
}
