import type { Design, Element, PlanShape, Point } from "@busy-harbor/core";
import type { Backdrop } from "../drawings/backdrop.ts";
import type { Guides } from "./guides.ts";
import type { Liveness } from "./symbols/shared.ts";
import type { Size, View } from "./view.ts";

/** All that the floor shows at one moment. */
export interface Scene {
  readonly plan: readonly PlanShape[];
  readonly design: Design;
  /** The design as it last rested, by which names have their places; the design itself where missing. */
  readonly rested?: Design;
  readonly view: View;
  /** Of the stage, which is somewhat larger than what is seen of it. */
  readonly size: Size;
  readonly selection: ReadonlySet<string>;
  readonly hovered?: string;
  /** Ids of elements and links with problems. */
  readonly troubled: ReadonlySet<string>;
  readonly grid: boolean;
  /** The colours it is drawn in. */
  readonly theme: string;
  /** A link being drawn, from an element to a point. */
  readonly drawing?: { readonly from: string; readonly to: Point; readonly refused: boolean };
  /** A way being drawn: its points so far, and where the next would be, joined to what is there or not. */
  readonly laying?: { readonly points: readonly Point[]; readonly next?: Point; readonly joins: boolean };
  /** Lines on which a moved element stands with others. */
  readonly guides?: Guides;
  /** A symbol about to be placed. */
  readonly ghost?: Element;
  readonly live?: ReadonlyMap<string, Liveness>;
  /** The background drawings, painted beforehand. */
  readonly backdrop?: Backdrop;
  /** What is at hand of a background drawing: its corners, and points picked on it, in metres. */
  readonly placing?: { readonly corners: readonly Point[]; readonly picked: readonly Point[] };
}

/** What shapes draw, as it is now: they keep hold of it, and read it whenever they are drawn. */
export interface SceneHolder {
  current: Scene;
}

export const NOTHING: ReadonlySet<string> = new Set();
