/**
 * A function of an object of the document, asked once for each: a part of a document that is the same object is the
 * same part. Not for drafts, which change.
 */
export function remembered<K extends object, V>(find: (thing: K) => V): (thing: K) => V {
  const known = new WeakMap<K, { readonly value: V }>();
  return (thing) => {
    let found = known.get(thing);
    if (!found) known.set(thing, (found = { value: find(thing) }));
    return found.value;
  };
}
