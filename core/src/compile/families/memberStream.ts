/** Streams of members lie above all that are given out. */
const FIRST = 2 ** 33;

/** One lane of FNV-1a (Fowler, Noll and Vo 1991) over the characters of a text, with a start of its own. */
function lane(text: string, start: number): number {
  let hash = start;
  for (let i = 0; i < text.length; i++) hash = Math.imul(hash ^ text.charCodeAt(i), 0x01000193);
  // Mixed at the end (Appleby 2016), as texts that differ in the last letter alone differ in few bits otherwise.
  hash = Math.imul(hash ^ (hash >>> 16), 0x85ebca6b);
  hash = Math.imul(hash ^ (hash >>> 13), 0xc2b2ae35);
  return (hash ^ (hash >>> 16)) >>> 0;
}

/**
 * The stream of a member of a family, by that of the family and the member's key: whatever rows come before it, it
 * draws the same. Of 5,000 streams two are the same with a chance of 3 in 10⁹.
 */
export function memberStream(stream: number, key: string): number {
  const text = `${stream}/${key}`;
  return FIRST + (lane(text, 0x811c9dc5) % 2 ** 20) * 2 ** 32 + lane(text, 0x7ee3623a);
}
