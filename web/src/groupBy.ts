/** The items by what `key` says of them, in the order of their first. */
export function groupBy<T, K>(items: readonly T[], key: (item: T) => K): Map<K, T[]> {
  const groups = new Map<K, T[]>();
  for (const item of items) {
    const of = key(item);
    const group = groups.get(of);
    if (group) group.push(item);
    else groups.set(of, [item]);
  }
  return groups;
}
