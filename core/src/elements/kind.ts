import type { ElementKindName, ElementOf } from "../document/schema.ts";
import type { ValueType } from "../expression/index.ts";
import type { Lowering } from "./lowering.ts";
import type { Model, Node } from "../model/model.ts";
import type { FieldSpec } from "./fields.ts";

/** A piece of a read-back sentence; `strong` marks what the engineer chose. */
export type Phrase = string | { readonly strong: string };

/** What a kind of element is: everything about it but its symbol and its card. */
export interface ElementKind<K extends ElementKindName = ElementKindName> {
  readonly kind: K;
  readonly label: string;
  readonly plural: string;
  /** One sentence for the dock and quick-add. */
  readonly summary: string;
  readonly group: "flow";
  readonly hasWayIn: boolean;
  readonly hasWayOut: boolean;
  readonly fields: readonly FieldSpec[];
  /** What expressions may read of it, by dotted name. */
  readonly properties: Readonly<Record<string, ValueType>>;
  /**
   * Makes its claimables, meters, measures and readers, and returns the function
   * that emits its steps, called once every element is prepared. The first step
   * is the one entities enter by.
   */
  prepare(node: Node<ElementOf<K>>, lowering: Lowering): () => void;
  /** The model of this element in words. */
  readBack(node: Node<ElementOf<K>>, model: Pick<Model, "nodes" | "types">): Phrase[];
  /** Whether an entity may spend time here; if never, the element can be part of an endless loop. */
  takesTime(node: Node<ElementOf<K>>): boolean;
}
