import type { Design, ElementKindName, ElementOf } from "../document/schema.ts";
import type { Checked, ValueType } from "../expression/index.ts";
import type { Lowering } from "./lowering.ts";
import type { Model, Node } from "../model/model.ts";
import type { FieldSpec, ListSpec } from "./fields.ts";

/** Reports a problem of a setting; the message is put behind the setting's label. */
export type Report = (code: string, field: string, message: string, hint: string, severity?: "error" | "warning") => void;

/** A piece of a read-back sentence; `strong` marks what the engineer chose. */
export type Phrase = string | { readonly strong: string };

/** What a kind of element is: everything about it but its symbol and its card. */
export interface ElementKind<K extends ElementKindName = ElementKindName> {
  readonly kind: K;
  readonly label: string;
  readonly plural: string;
  /** One sentence for the dock and quick-add. */
  readonly summary: string;
  readonly group: "flow" | "resources";
  readonly hasWayIn: boolean;
  readonly hasWayOut: boolean;
  readonly fields: readonly FieldSpec[];
  /** Settings that are lists of rows. */
  readonly lists?: readonly ListSpec[];
  /** What expressions may read of it, by dotted name. */
  readonly properties: Readonly<Record<string, ValueType>>;
  /** Checks settings against each other; each by itself is checked before. */
  check?(node: Pick<Node<ElementOf<K>>, "element" | "settings">, report: Report, design: Design): void;
  /** The expression whose changes it is told of, if there is one: see `Lowering.onChangeOf`. */
  follows?(node: Node<ElementOf<K>>): Checked | undefined;
  /**
   * Makes its claimables, meters, measures and readers, and returns the function
   * that emits its steps, called once every element is prepared. The first step
   * is the one entities enter by.
   */
  prepare(node: Node<ElementOf<K>>, lowering: Lowering): () => void;
  /** The model of this element in words. */
  readBack(node: Node<ElementOf<K>>, model: Pick<Model, "nodes" | "types" | "study">): Phrase[];
  /** Whether an entity may spend time here; if never, the element can be part of an endless loop. */
  takesTime(node: Node<ElementOf<K>>): boolean;
}
