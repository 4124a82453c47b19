import type { CustomMeasure } from "../document/customMeasure.ts";
import type { DesignOf } from "../document/design.ts";
import type { Display } from "../document/display.ts";
import type { ElementBase } from "../document/element.ts";
import type { EntityType } from "../document/entityType.ts";
import type { Link } from "../document/link.ts";
import type { Road } from "../document/road.ts";
import type { RunSettings } from "../document/runSettings.ts";
import type { StudyOf } from "../document/study.ts";
import type { Variable } from "../document/variable.ts";
import type { Checked, TableSource } from "../expression/index.ts";
import type { LogicModel } from "./logic.ts";
import type { AtHand } from "./atHand.ts";
import type { Route, WayNetwork } from "../movement/network.ts";
import type { DayClock, Timetable } from "../timetable/index.ts";

/** Marks of a kind of element, by which all that knows no kinds tells them apart. */
export interface Traits {
  /** What it is among: those that entities pass, or what their work needs. */
  readonly group: "flow" | "resources" | "transport";
  readonly hasWayIn: boolean;
  readonly hasWayOut: boolean;
  /** Entities take no room in it and no time, but while they wait for room ahead. */
  readonly passes?: boolean;
  /** Entities enter the system here. */
  readonly isSource?: boolean;
  /** Entities stand along a line that is drawn on the floor. */
  readonly isLine?: boolean;
  /** Entities stand in line here, of which the count beside the symbol tells. */
  readonly hasLine?: boolean;
  /** Entities are worked on in its slots, and its work may need resources. */
  readonly isWork?: boolean;
  /** Entities may end here in others or in pieces. */
  readonly consumes?: boolean;
  /** People take its spots, and steps may claim them as resources. */
  readonly hasSpots?: boolean;
  /** The setting that says how many slots or units it has, where it has any. */
  readonly units?: string;
  /** How a unit of it looks: a person, or a piece; a slot, where neither is said. */
  readonly unitLooks?: "person" | "piece";
  /** What the count beside its symbol counts; with `quiet`, it is not shown while it is 0. */
  readonly counts: string;
  readonly quiet?: boolean;
  /** Units of an item are kept here. */
  readonly isStocked?: boolean;
  /** It may stand without links: others use it where it is. */
  readonly standsAlone?: boolean;
  /** Its table is there even when the design has none. */
  readonly common?: boolean;
}

/** An element with its place in the network. */
export interface Node<E extends ElementBase = ElementBase> {
  readonly index: number;
  readonly element: E;
  readonly traits: Traits;
  /** Ids of the resources that its work and repairs may claim. */
  readonly resources: readonly string[];
  /** Ways of those who are done. */
  readonly out: readonly Way[];
  /** The way of those who are turned away; without one they leave the system. */
  readonly turnedAway: Way | undefined;
  /** The way of those whose work a breakdown spoils. */
  readonly scrapped: Way | undefined;
  /** The way of parts or copies that a split sets free; without one they go with the others. */
  readonly parts: Way | undefined;
  readonly in: readonly Way[];
  /**
   * Checked settings by field, those of a list's row as `breakdowns.b1.repair`; a word such as "no limit" or an empty
   * setting has none.
   */
  readonly settings: ReadonlyMap<string, Checked>;
  /** Of which family it is a member. */
  readonly member?: MemberOf;
  /** The table a row of which its settings know as `row`, and the row that is at hand. */
  readonly rows?: { readonly table: TableSource } & AtHand;
  /** The row of a member that settings which ask of members know as `who`. */
  readonly who: AtHand;
}

/** What a node is called where its family is meant, if it is a member of one. */
export const nameOfNode = ({ element, member }: Pick<Node, "element" | "member">): string =>
  member?.family.name ?? element.name;

/** A link with its ends. */
export interface Way {
  readonly index: number;
  readonly link: Link;
  /** Ways of one link to a family share a number, that of the link: links are chosen among first, then members. */
  readonly group: number;
  readonly from: number;
  readonly to: number;
  /** Metres along the drawn line, or along the route. */
  readonly drawnLength: number;
  /** Over the ways that are drawn, where it goes by them. */
  readonly route?: Route;
  readonly settings: ReadonlyMap<string, Checked>;
}

/** Ways by the link that they are of, in their order; several where a link leads to a family. */
export function byLink(ways: readonly Way[]): readonly (readonly Way[])[] {
  const groups = new Map<number, Way[]>();
  for (const way of ways) {
    const known = groups.get(way.group);
    if (known) known.push(way);
    else groups.set(way.group, [way]);
  }
  return [...groups.values()];
}

export interface TypeModel {
  readonly index: number;
  readonly type: EntityType;
  readonly speed: Checked | undefined;
  /** In the order they are set at birth; `slot` is the column. */
  readonly attributes: ReadonlyArray<{ readonly slot: number; readonly value: Checked; readonly stream: number }>;
  /** Where its colour goes by an attribute: the column, and the value from which each band begins. */
  readonly bands: { readonly slot: number; readonly from: readonly number[] } | undefined;
}

/** A display with what it shows, in order; undefined where an expression cannot be read. */
export interface DisplayModel {
  readonly display: Display;
  readonly values: ReadonlyArray<Checked | undefined>;
  /** Seconds of the past that a chart shows. */
  readonly span: number | undefined;
}

/** A variable as the design has it, with its first value; absent where it has one a row, or it cannot be read. */
export interface VariableModel {
  readonly variable: Variable;
  readonly checked?: Checked;
  /** Steps set it: its first value does not stay. */
  readonly isSet?: boolean;
}

/** An attribute of an element, with what it begins with. */
export interface ElementAttribute {
  readonly elementId: string;
  readonly name: string;
  readonly first: number;
}

/** A custom measure with its expressions; absent where they cannot be read. */
export interface CustomModel {
  readonly measure: CustomMeasure;
  readonly value?: Checked;
  /** Rising. */
  readonly bounds: readonly number[];
  /** Indices of the elements of a group. */
  readonly elements: readonly number[];
}

/** A member of a family. */
export interface MemberOf {
  /** The element that is the family, as the document has it. */
  readonly family: ElementBase;
  /** From 1, in the order of the family. */
  readonly number: number;
  /** By which it is known: its number, or what stands in the key's column of its row. */
  readonly key: string;
  /** Its row, from 0, where the family has a table. */
  readonly row: number | undefined;
}

/** A row of a table that is an entity type. */
export interface TypeRow {
  /** Id of the entity type of the document. */
  readonly type: string;
  /** Id of the table, and the row from 0. */
  readonly table: string;
  readonly row: number;
}

export interface FamilyModel {
  readonly element: ElementBase;
  /** Indices of its members among the nodes. */
  readonly members: readonly number[];
}

/** The families of a design, and where in the document stands what the model has. */
export interface Families {
  /** An element that is the family as a whole has the index of all nodes and its place here. */
  readonly list: readonly FamilyModel[];
  memberOf(elementId: string): MemberOf | undefined;
  elementAt(node: number): number;
  linkAt(link: number): number;
  linkIdAt(link: number): string | undefined;
  typeAt(type: number): number;
  typeRowOf(typeId: string): TypeRow | undefined;
  /** Nothing was unfolded. */
  readonly none: boolean;
}

/** A design that has been read: names resolved, expressions checked. What checks and lowering work on. */
export interface Model<E extends ElementBase = ElementBase> {
  readonly study: StudyOf<E>;
  /** With every member of its families as an element of its own. */
  readonly design: DesignOf<E>;
  /** As the study has it. */
  readonly document: DesignOf<E>;
  readonly families: Families;
  readonly settings: RunSettings;
  readonly length: number;
  readonly warmUp: number;
  /** What may end a replication before its length: so many departures, or a condition. */
  readonly stop: { readonly count?: number; readonly condition?: Checked };
  readonly custom: readonly CustomModel[];
  /** Seconds from midnight to the start. */
  readonly startOfDay: number;
  /** Tells the hours of days from running time. */
  readonly days: DayClock;
  readonly nodes: readonly Node<E>[];
  /** Some entities carry others, which can be set free. */
  readonly carries: boolean;
  readonly ways: readonly Way[];
  readonly types: readonly TypeModel[];
  readonly displays: readonly DisplayModel[];
  /** By the calendar's id; one that cannot be read has none. */
  readonly timetables: ReadonlyMap<string, Timetable>;
  /** As expressions read them. */
  readonly tables: readonly TableSource[];
  readonly variables: readonly VariableModel[];
  readonly elementAttributes: readonly ElementAttribute[];
  /** Ways that are drawn, joined; undefined where there are none. */
  readonly roads: WayNetwork | undefined;
  /** Those among them on which others count, or that are open by hours or a condition. */
  readonly followed: readonly FollowedRoad[];
  readonly route: RouteModel | undefined;
  readonly logic: LogicModel | undefined;
  readonly attributeCount: number;
  /** Column of each attribute, by its name's key. */
  readonly attributeSlots: ReadonlyMap<string, number>;
  /** Texts by their interned number. */
  readonly texts: readonly string[];
}

/** A way that is drawn, of which it is followed who is on it. */
export interface FollowedRoad {
  readonly road: Road;
  /** Infinity where it has no limit. */
  readonly room: number;
  readonly closedWhile: Checked | undefined;
  /** So many times its length it counts, where that changes while the model runs. */
  readonly counts: Checked | undefined;
  /** Seconds from when it is open to its next breakdown, and of a repair. */
  readonly breaks: { readonly every: Checked; readonly repair: Checked } | undefined;
}

/** Along which entities go: by entity type, the rows of a table that are its steps, and where each row leads. */
export interface RouteModel {
  readonly table: TableSource;
  /** By the index of the type, in order. */
  readonly rows: readonly (readonly number[])[];
  /** By row, the index of the element where it goes. */
  readonly next: Float64Array;
  /** Columns of an entity: how many steps it has taken, and the row of the last. */
  readonly stepSlot: number;
  readonly rowSlot: number;
}

/** Indices of the nodes that a place named by its index is: itself, or the members of a family. */
export const nodesAt = ({ nodes, families }: Pick<Model, "nodes" | "families">, index: number): readonly number[] =>
  nodes[index] ? [index] : (families.list[index - nodes.length]?.members ?? []);

/** Indices of all nodes that the routes lead to. */
export const placesOnRoute = (model: Pick<Model, "nodes" | "families" | "route">): ReadonlySet<number> =>
  new Set([...new Set(model.route?.next ?? [])].flatMap((index) => nodesAt(model, index)));

/** The stream a setting draws from. */
export const streamOf = (owner: { readonly streams: Readonly<Record<string, number>> }, setting: string): number =>
  owner.streams[setting] ?? 0;
