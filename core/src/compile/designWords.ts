import { kindOf, type Phrase, phraseText, readBack } from "../elements/index.ts";
import { stepsText } from "../logic/sentence.ts";
import type { Model } from "../model/model.ts";
import { ruleSentence } from "./ruleWords.ts";

/** One paragraph of a design in words. */
export interface DesignParagraph {
  /** Id of what it is about: of copies of a design the same. */
  readonly id: string;
  readonly title: string;
  /** What kind of thing that is, in a word or two. */
  readonly kind: string;
  readonly phrases: readonly Phrase[];
}

/** The whole design in sentences: what comes and goes, what is done with it where, and the rules. */
export function designWords(model: Model): DesignParagraph[] {
  const { document, nodes, families } = model;
  const types = document.entityTypes.map(({ id, name, attributes, speed }): DesignParagraph => ({
    id,
    title: name,
    kind: "entity type",
    phrases: [
      ...(attributes.length > 0
        ? ["Has ", attributes.map((one) => `${one.name} (${one.value.trim() || "nothing yet"})`).join(", "), ". "]
        : []),
      "Walks at ",
      { strong: speed },
      ".",
    ],
  }));
  const elements = document.elements.flatMap((element): DesignParagraph[] => {
    const family = families.list.find((one) => one.element.id === element.id);
    const node = family ? nodes[family.members[0]] : nodes.find((one) => one.element.id === element.id);
    if (!node) return [];
    const many: Phrase[] = family ? [`There are ${family.members.length} of them; the first: `] : [];
    const phrases = [...many, ...readBack(node, model)];
    return [{ id: element.id, title: element.name, kind: kindOf(element).label.toLowerCase(), phrases }];
  });
  const rules = (document.rules ?? [])
    .filter(({ off }) => !off)
    .map((rule): DesignParagraph => ({
      id: rule.id,
      title: rule.name || "Rule",
      kind: "rule",
      phrases: [ruleSentence(rule, document)],
    }));
  const procedures = (document.procedures ?? []).map(({ id, name, parameters, steps }): DesignParagraph => ({
    id,
    title: name,
    kind: "procedure",
    phrases: [
      ...(parameters.length > 0 ? [`With ${parameters.map((one) => one.name).join(", ")}. `] : []),
      stepsText(steps, document) || "Nothing yet.",
    ],
  }));
  return [...types, ...elements, ...rules, ...procedures];
}

export type WordsChange = "new" | "changed";

/** What of a design reads otherwise than in another, by id, and what of that other it does not have. */
export function wordsChanged(
  own: readonly DesignParagraph[],
  other: readonly DesignParagraph[],
): { readonly changes: ReadonlyMap<string, WordsChange>; readonly missing: readonly DesignParagraph[] } {
  const before = new Map(other.map((one) => [one.id, textOf(one)]));
  const changes = new Map<string, WordsChange>();
  for (const one of own) {
    const was = before.get(one.id);
    if (was === undefined) changes.set(one.id, "new");
    else if (was !== textOf(one)) changes.set(one.id, "changed");
  }
  const there = new Set(own.map(({ id }) => id));
  return { changes, missing: other.filter(({ id }) => !there.has(id)) };
}

const textOf = ({ title, phrases }: DesignParagraph): string => `${title}: ${phraseText(phrases)}`;

/** The same as plain text, a paragraph a line. */
export const designText = (name: string, paragraphs: readonly DesignParagraph[]): string =>
  [name, ...paragraphs.map(textOf)].join("\n\n");
