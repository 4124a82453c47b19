import type { Design, ElementKindName, ElementOf } from "../document/schema.ts";
import type { Checked, Read, Types, ValueType } from "../expression/index.ts";
import type { Lowering } from "./lowering.ts";
import type { Model, Node } from "../model/model.ts";
import type { FieldSpec, ListSpec } from "./fields.ts";

/** Reports a problem of a setting; the message is put behind the setting's label. */
export type Report = (
  code: string,
  field: string,
  message: string,
  hint: string,
  severity?: "error" | "warning",
) => void;

/** A piece of a read-back sentence; `strong` marks what the engineer chose. */
export type Phrase = string | { readonly strong: string };

/**
 * What `prepare` makes of an element: who reads its properties, and what emits its steps, called once every element
 * is prepared.
 */
export interface Prepared<P extends string = string> {
  readonly readers: Readonly<Record<P, Read>>;
  lower(): void;
}

/** Entity types that go on from an element. */
export interface TypesOnward {
  readonly done: Iterable<number>;
  /** Parts, copies or pieces, which may have a way of their own. */
  readonly parts?: Iterable<number>;
}

/** What `typesOnward` may ask and tell of entities that carry others. */
export interface TypeModelOfFlow {
  readonly indexOf: (typeId: string) => number | undefined;
  readonly held: {
    put(carrier: number, types: Iterable<number>): void;
    of(carrier: number): Types;
    /** There are entities of these types that do more than hold others. */
    bear(types: Iterable<number>): void;
    isBorn(type: number): boolean;
  };
}

/** What a kind of element is: everything about it but its symbol and its card. `P` names its properties. */
export interface ElementKind<K extends ElementKindName = ElementKindName, P extends string = string> {
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
  readonly properties: Readonly<Record<P, ValueType>>;
  /** Checks settings against each other; each by itself is checked before. */
  check?(node: Pick<Node<ElementOf<K>>, "element" | "settings">, report: Report, design: Design): void;
  /** Entity types that are born here, by index: those that arrive, and those that are here at the start. */
  bears?(node: Node<ElementOf<K>>, indexOf: (typeId: string) => number | undefined): number[];
  /**
   * Entity types that may go on from here, where those are not the ones that may come; and of which of them a setting
   * is read, where that is not all.
   */
  typesOnward?(node: Node<ElementOf<K>>, here: Types, model: TypeModelOfFlow): TypesOnward;
  typesOfSetting?(
    node: Node<ElementOf<K>>,
    setting: string,
    here: Types,
    indexOf: (typeId: string) => number | undefined,
  ): Types | undefined;
  /** The expression whose changes it is told of, if there is one: see `Lowering.onChangeOf`. */
  follows?(node: Node<ElementOf<K>>): Checked | undefined;
  /**
   * Makes its claimables, meters and measures, a reader for every one of its properties, and the function
   * that emits its steps. The first step is the one entities enter by.
   */
  prepare(node: Node<ElementOf<K>>, lowering: Lowering): Prepared<P>;
  /** The model of this element in words. */
  readBack(node: Node<ElementOf<K>>, model: Pick<Model, "nodes" | "types" | "study">): Phrase[];
  /** Whether an entity may spend time here; if never, the element can be part of an endless loop. */
  takesTime(node: Node<ElementOf<K>>): boolean;
}

/** A kind of element; a property without a reader does not pass the compiler. */
export const elementKind = <K extends ElementKindName, P extends string>(kind: ElementKind<K, P>): ElementKind<K> =>
  kind;
