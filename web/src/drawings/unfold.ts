/** As much of an element of a drawing as is needed to count what it unfolds to. */
export interface DrawnElement {
  readonly localName: string;
  readonly children: Iterable<DrawnElement>;
  readonly attributes: Iterable<{ readonly name: string; readonly value: string }>;
}

/** What has to be painted when a drawing is shown: what is named in several places counts in each of them. */
export interface Unfolded {
  /** Shapes and groups, long outlines counting as several. */
  readonly parts: number;
  /** Groups that need a picture of their own before they are put on the page, as half transparent ones do. */
  readonly layers: number;
  /** How many of those lie inside one another. */
  readonly depth: number;
}

/** Letters of an outline that count as one part. */
const LETTERS_A_PART = 100;

const together = (a: Unfolded, b: Unfolded, times = 1): Unfolded => ({
  parts: a.parts + times * b.parts,
  layers: a.layers + times * b.layers,
  depth: Math.max(a.depth, b.depth),
});

/** Attributes by which an element is painted as a picture of its own, where its value says so. */
function makesLayer(element: DrawnElement): boolean {
  for (const { name, value } of element.attributes) {
    if (name === "opacity" && Number.parseFloat(value) !== 1) return true;
    if (name === "mask" && value !== "none") return true;
    if (name === "style" && /opacity|mask|blend|isolation/.test(value)) return true;
    // What a class means is not looked up.
    if (name === "class" && (element.localName === "g" || element.localName === "use" || element.localName === "svg"))
      return true;
  }
  return false;
}

/** Ids that an element refers to, each as often as it is painted for it. */
function referredTo(element: DrawnElement): [id: string, times: number][] {
  const found: [string, number][] = [];
  let vertices = 1;
  for (const { name, value } of element.attributes)
    if (name === "d" || name === "points") vertices = Math.max(1, Math.ceil((value.match(/[\d.]+/g)?.length ?? 0) / 2));
  for (const { name, value } of element.attributes) {
    if (/href$/i.test(name) && value.trim().startsWith("#")) found.push([value.trim().slice(1), 1]);
    for (const [, id] of value.matchAll(/url\(\s*['"]?#([^'")\s]+)/g))
      found.push([id, /marker/.test(name) || /marker/.test(value) ? vertices : 1]);
  }
  return found;
}

/**
 * Counts what a drawing unfolds to. `use`, patterns, markers, masks and clip paths paint what they name, which may
 * name others in turn: eight levels of ten are a hundred million shapes in two thousand letters. Infinite where
 * something names itself.
 */
export function unfold(root: DrawnElement): Unfolded {
  const byId = new Map<string, DrawnElement>();
  const known = new Map<DrawnElement, Unfolded>();
  const open = new Set<DrawnElement>();
  const index = (element: DrawnElement): void => {
    for (const { name, value } of element.attributes) if (name === "id" && !byId.has(value)) byId.set(value, element);
    for (const child of element.children) index(child);
  };
  const count = (element: DrawnElement): Unfolded => {
    const before = known.get(element);
    if (before) return before;
    if (open.has(element)) return { parts: Infinity, layers: 0, depth: 0 };
    open.add(element);
    let letters = 0;
    for (const { name, value } of element.attributes) if (name === "d" || name === "points") letters += value.length;
    let sum: Unfolded = { parts: 1 + letters / LETTERS_A_PART, layers: 0, depth: 0 };
    for (const child of element.children) sum = together(sum, count(child));
    for (const [id, times] of referredTo(element)) sum = together(sum, count(byId.get(id) ?? NO_ELEMENT), times);
    if (makesLayer(element)) sum = { ...sum, layers: sum.layers + 1, depth: sum.depth + 1 };
    open.delete(element);
    known.set(element, sum);
    return sum;
  };
  index(root);
  return count(root);
}

const NO_ELEMENT: DrawnElement = { localName: "", children: [], attributes: [] };
