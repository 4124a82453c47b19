import type { Design, RunSettings } from "./schema.ts";

/**
 * A short text that is equal for designs and settings that give the same
 * numbers: what is drawn but not run (positions matter only through the length
 * of walkways, so they count; looks, groups, locks, notes and names of designs do not) and the
 * number of replications and the confidence level are left out.
 */
export function fingerprint(design: Design, settings: RunSettings): string {
  const { length, warmUp, seed, start } = settings;
  const entityTypes = design.entityTypes.map(({ look: _, colour: __, picture: ___, colouring: ____, colourAttribute: _____, bands: ______, ...rest }) => rest);
  const elements = design.elements.map(({ group: _, locked: __, ...element }) => ("line" in element ? { ...element, line: [] } : element));
  return hash(JSON.stringify([entityTypes, elements, design.links, length, warmUp, seed, start]));
}

/** 64-bit FNV-1a (Fowler, Noll and Vo 1991) as 16 hexadecimal digits, in two 32-bit halves. */
function hash(text: string): string {
  let a = 0x811c9dc5;
  let b = 0xcbf29ce4;
  for (let i = 0; i < text.length; i++) {
    const code = text.charCodeAt(i);
    a = Math.imul(a ^ code, 0x01000193);
    b = Math.imul(b ^ code, 0x01000197) ^ (a >>> 15);
  }
  return [a, b].map((half) => (half >>> 0).toString(16).padStart(8, "0")).join("");
}
