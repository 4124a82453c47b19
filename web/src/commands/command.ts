/** Something a person can do: from the palette, by its keys, and perhaps from a menu. */
export interface Command {
  readonly id: string;
  readonly label: string;
  readonly group: string;
  /** Key combinations, such as "Ctrl D" or "Shift F"; the first is shown. */
  readonly keys?: readonly string[];
  /** More about it, such as the kind of an element to go to. */
  readonly note?: string;
  /** Why it cannot be done now; undefined when it can. */
  readonly refusal?: () => string | undefined;
  /** Its keys work while a person types in a field. */
  readonly whileTyping?: boolean;
  /** Whether its keys are left to the browser just now. */
  readonly yields?: () => boolean;
  /** Stands in the context menu of the floor. */
  readonly menu?: boolean;
  readonly run: () => void;
}

/** Group of the commands that go to an element. */
export const ELEMENTS = "Go to an element";

interface Pressed {
  readonly key: string;
  readonly ctrlKey: boolean;
  readonly metaKey: boolean;
  readonly shiftKey: boolean;
  readonly altKey: boolean;
}

/** Whether a pressed key is the combination. The command key of some keyboards counts as Ctrl. */
export function matches(keys: string, event: Pressed): boolean {
  const parts = keys.split(" ");
  const key = parts[parts.length - 1];
  const modifiers = new Set(parts.slice(0, -1));
  // The space bar's key is a space, which cannot be told among the parts.
  if ((event.key === " " ? "space" : event.key.toLowerCase()) !== key.toLowerCase()) return false;
  if (modifiers.has("Ctrl") !== (event.ctrlKey || event.metaKey) || modifiers.has("Alt") !== event.altKey) return false;
  // A character such as ? may need Shift to be typed at all.
  const needsShift = key.length === 1 && key.toLowerCase() === key.toUpperCase();
  return needsShift || modifiers.has("Shift") === event.shiftKey;
}

/**
 * How well a label answers a search, from 0 (not at all) to 1: every word searched for must
 * occur in it, better at the start of a word, best at the start of the label.
 */
export function relevance(label: string, search: string): number {
  const text = label.toLowerCase();
  let score = 1;
  for (const word of search.toLowerCase().split(/\s+/).filter(Boolean)) {
    const at = text.indexOf(word);
    if (at < 0) return 0;
    score *= at === 0 ? 1 : text.includes(` ${word}`) ? 0.7 : 0.3;
  }
  return score;
}

const ARROWS: Readonly<Record<string, string>> = { ArrowLeft: "←", ArrowRight: "→", ArrowUp: "↑", ArrowDown: "↓" };

/** The combination as it is shown. */
export const shownKeys = (keys: string): string => keys.replace(/Arrow\w+/, (arrow) => ARROWS[arrow] ?? arrow);
