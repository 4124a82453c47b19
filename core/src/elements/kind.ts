import { z } from "zod";
import type { DesignOf } from "../document/design.ts";
import { type ElementBase, elementFrame } from "../document/element.ts";
import type { Checked, Read, Types, ValueType, Write } from "../expression/index.ts";
import type { MeasureSpecs } from "../measures/spec.ts";
import type { Model, Node, Traits } from "../model/model.ts";
import { type SettingsSpec, shapeOf, type ValuesOf } from "../settings/setting.ts";
import type { Lowering } from "../lowering/lowering.ts";
import type { EventSpecs } from "../lowering/events.ts";
import type { Measured } from "../lowering/measured.ts";
import type { UnitState } from "../lowering/units.ts";

/** Reports a problem of a setting; the message is put behind the setting's label. */
export type Report = (
  code: string,
  field: string,
  message: string,
  hint: string,
  severity?: "error" | "warning",
) => void;

/** What of a model an element reads itself back from. */
export type ReadModel = Pick<Model, "nodes" | "types" | "study"> & Partial<Pick<Model, "logic">>;

/** A piece of a read-back sentence; `strong` marks what the engineer chose. */
export type Phrase = string | { readonly strong: string };

/**
 * What `prepare` makes of an element: who reads its properties, and what emits its steps, called once every element
 * is prepared.
 */
export interface Prepared<P extends string = string> {
  readonly readers: Readonly<Record<P, Read>>;
  /** What sets those of its properties that steps may set. */
  readonly writers?: Readonly<Partial<Record<P, Write>>>;
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

/** Settings that stand together on the card: under a title, in sight or folded away until they say something. */
export interface Section<S extends string = string> {
  readonly title: string;
  readonly of: readonly S[];
  readonly folded?: boolean;
}

/** An element of a kind with these settings, as the document keeps it. */
export type ElementWith<K extends string, S extends SettingsSpec> = Omit<
  ElementBase,
  "kind" | "wayOut" | "destination" | "table"
> & {
  kind: K;
} & ValuesOf<S>;

/**
 * What a kind of element is: the one place that knows it. Its study file, default values, random streams, card, table,
 * differences in words, what it mentions, measures and their documentation come from here; its symbol alone is kept
 * by the interface. `E` is the element, `P` names its properties, `M` its measures, `S` its settings.
 */
interface Definition<
  E extends ElementBase,
  P extends string,
  M extends MeasureSpecs,
  S extends SettingsSpec,
> extends Traits {
  readonly label: string;
  readonly plural: string;
  /** One sentence for the dock and quick-add. */
  readonly summary: string;
  readonly settings: S;
  readonly sections: readonly Section<keyof S & string>[];
  /** What a new one says besides its defaults. */
  readonly fresh?: Readonly<Partial<Record<keyof S, unknown>>>;
  /** What expressions may read of it, by dotted name. */
  readonly properties: Readonly<Record<P, ValueType>>;
  /** Those of its properties that steps may set, as it is set. */
  settable?(element: E): readonly NoInfer<P>[];
  /** Events to which logic may be attached, besides that entities come in and go on. */
  readonly events?: EventSpecs;
  /** What is measured of it, with no set-up. */
  readonly measures: M;
  /**
   * Checks settings against each other; each by itself is checked before. `whole` tells whether some entities of the
   * design carry others.
   */
  check?(
    node: Pick<Node<E>, "element" | "settings">,
    report: Report,
    design: DesignOf,
    whole: { readonly carries: boolean },
  ): void;
  /** Entity types that are born here, by index: those that arrive, and those that are here at the start. */
  bears?(node: Node<E>, indexOf: (typeId: string) => number | undefined): number[];
  /** What it has begin at another element, by their ids. */
  makes?(element: E): { readonly at: string; readonly type: string } | undefined;
  /**
   * Entity types that may go on from here, where those are not the ones that may come; and of which of them a setting
   * is read, where that is not all.
   */
  typesOnward?(node: Node<E>, here: Types, model: TypeModelOfFlow): TypesOnward;
  typesOfSetting?(
    node: Node<E>,
    setting: string,
    here: Types,
    indexOf: (typeId: string) => number | undefined,
  ): Types | undefined;
  /** The expression whose changes it is told of, if there is one: see `Lowering.onChangeOf`. */
  follows?(node: Node<E>): Checked | undefined;
  /** Whether entities that leave it carry others, which can be set free. */
  carries?(element: E): boolean;
  /** What its slots or units may be doing as it is set; the least is idle and busy. */
  states?(element: E): readonly UnitState[];
  /** Whether some at it take another way than those who are done: see `Link.takes`. */
  aside?: Readonly<Partial<Record<Exclude<DesignOf["links"][number]["takes"], "done">, (element: E) => boolean>>>;
  /**
   * Makes its claimables, meters and measures, a reader for every one of its properties, and the function
   * that emits its steps. The first step is the one entities enter by.
   */
  prepare(node: Node<E>, lowering: Lowering, measured: Measured<M>): Prepared<P>;
  /** The model of this element in words. */
  readBack(node: Node<E>, model: ReadModel): Phrase[];
  /** Whether an entity may spend time here; if never, the element can be part of an endless loop. */
  takesTime(node: Node<E>): boolean;
}

/** A kind as it is used, with what is made of its definition. */
export interface ElementKind<
  E extends ElementBase = ElementBase,
  P extends string = string,
  M extends MeasureSpecs = MeasureSpecs,
  S extends SettingsSpec = SettingsSpec,
> extends Definition<E, P, M, S> {
  readonly kind: E["kind"];
  /** What stands in the document, made of the settings. */
  readonly schema: z.ZodType<E>;
}

/** A kind of element; a property without a reader, or a figure of no measure, does not pass the compiler. */
export function elementKind<
  const K extends string,
  const S extends SettingsSpec,
  const P extends string,
  const M extends MeasureSpecs,
>(
  kind: { readonly kind: K } & Definition<ElementWith<NoInfer<K>, NoInfer<S>>, P, M, S>,
): ElementKind<ElementWith<K, S>, P, M, S> {
  const shape = { kind: z.literal(kind.kind), ...elementFrame, ...shapeOf(kind.settings) };
  return { ...kind, schema: z.strictObject(shape) } as unknown as ElementKind<ElementWith<K, S>, P, M, S>;
}
