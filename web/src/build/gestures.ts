import { type Design, type Point, unfold } from "@busy-harbor/core";
import { produce } from "immer";
import { create } from "zustand";
import { changeDisplay } from "../displays/displayStore.ts";
import { changeDrawing } from "../drawings/drawingStore.ts";
import { EXACTLY, type Guides, guidesFor } from "../floor/guides.ts";
import type { PointerAt } from "../floor/stage/FloorStage.tsx";
import { gridStep, panBy, snap, toFloor, toScreen } from "../floor/view.ts";
import { useView } from "../floor/viewStore.ts";
import { move } from "../state/arrange.ts";
import { placed } from "../state/edits.ts";
import { useStudy } from "../state/study.ts";
import { useBuild } from "./buildStore.ts";
import type { Hit } from "./floorHit.ts";
import { bendRoad, moveRoadPoint } from "./layRoad.ts";
import { linkTo } from "./putOnFloor.ts";
import { selected } from "./selection.ts";

/** What the pointer is doing between press and release. */
export type Gesture =
  | { readonly kind: "pan"; readonly last: Point }
  | { readonly kind: "box"; readonly from: Point; readonly to: Point }
  | {
      readonly kind: "move";
      readonly from: Point;
      /** By how much what is selected is moved, in metres: the design itself changes when it is let go. */
      readonly by: Point;
      /** Where the element that was grabbed stood, in metres. */
      readonly anchor: Point;
    }
  | { readonly kind: "link"; readonly from: string; readonly to: Point }
  | {
      readonly kind: "drawing" | "display";
      readonly id: string;
      readonly key: string;
      readonly from: Point;
      /** Where it stood, in metres. */
      readonly at: Point;
    }
  | {
      readonly kind: "bend" | "line bend" | "road point";
      readonly id: string;
      readonly index: number;
      readonly key: string;
    };

export const useGesture = create<{ gesture: Gesture | undefined }>(() => ({ gesture: undefined }));

const setGesture = (gesture: Gesture | undefined): void => useGesture.setState({ gesture });
let gestures = 0;
const nextKey = () => `gesture-${++gestures}`;

const floorAt = (screen: Point): Point => {
  const { view, size } = useView.getState();
  return toFloor(view, size, screen);
};
const onGrid = (screen: Point): Point => snap(floorAt(screen), gridStep(useView.getState().view));

/** The pointer, pressed on `hit`, begins to drag. */
export function beginDrag(hit: Hit, { at, button, shift }: PointerAt): void {
  if (button === 1) return setGesture({ kind: "pan", last: at });
  switch (hit.kind) {
    case "floor":
      return setGesture(shift ? { kind: "box", from: at, to: at } : { kind: "pan", last: at });
    case "way out":
      return setGesture({ kind: "link", from: hit.id, to: at });
    case "bend":
    case "line bend":
    case "road point":
      return setGesture({ ...hit, kind: hit.kind, key: nextKey() });
    case "road": {
      // It is grabbed between its points: it bends there.
      const key = nextKey();
      bendRoad(hit.id, hit.segment, at, key);
      return setGesture({ kind: "road point", id: hit.id, index: hit.segment, key });
    }
    case "link":
      return hit.segment < 0 ? undefined : beginBend(hit.id, hit.segment, at);
    case "drawing":
    case "display": {
      const held =
        hit.kind === "drawing"
          ? useStudy.getState().history?.present.drawings.find((d) => d.id === hit.id)
          : selected()?.design.displays.find((d) => d.id === hit.id);
      if (held) setGesture({ kind: hit.kind, id: hit.id, key: nextKey(), from: floorAt(at), at: held.at });
      return;
    }
    case "element": {
      const anchor = selected()?.design.elements.find((e) => e.id === hit.id)?.at;
      if (anchor && !shift) setGesture({ kind: "move", from: at, by: [0, 0], anchor });
    }
  }
}

/** A link is grabbed between its bends: it bends there. */
function beginBend(id: string, segment: number, at: Point): void {
  const key = nextKey();
  useStudy
    .getState()
    .changeDesign("Bend link", (d) => void d.links.find((l) => l.id === id)?.bends.splice(segment, 0, onGrid(at)), key);
  setGesture({ kind: "bend", id, index: segment, key });
}

/** The pointer drags on. */
export function dragOn({ at, alt }: PointerAt): void {
  const { gesture } = useGesture.getState();
  const { changeDesign } = useStudy.getState();
  switch (gesture?.kind) {
    case undefined:
      return;
    case "pan": {
      const { view, setView } = useView.getState();
      setView(panBy(view, at[0] - gesture.last[0], at[1] - gesture.last[1]));
      return setGesture({ kind: "pan", last: at });
    }
    case "box":
    case "link":
      return setGesture({ ...gesture, to: at });
    case "move":
      return moveOn(gesture, at, alt);
    case "drawing": {
      const [x, y] = onGrid(at);
      return changeDrawing(
        gesture.id,
        "Move drawing",
        (d) => void (d.at = placed([gesture.at[0] + x - gesture.from[0], gesture.at[1] + y - gesture.from[1]])),
        gesture.key,
      );
    }
    case "display": {
      const [x, y] = floorAt(at);
      const free: Point = [gesture.at[0] + x - gesture.from[0], gesture.at[1] + y - gesture.from[1]];
      const to = alt ? free : snap(free, gridStep(useView.getState().view));
      return changeDisplay(gesture.id, "Move display", (d) => void (d.at = placed(to)), gesture.key);
    }
    case "road point":
      return moveRoadPoint(gesture.id, gesture.index, at, gesture.key);
    case "bend":
      return changeDesign(
        "Bend link",
        (d) => {
          const bends = d.links.find((l) => l.id === gesture.id)?.bends;
          if (bends?.[gesture.index]) bends[gesture.index] = onGrid(at);
        },
        gesture.key,
      );
    case "line bend":
      return changeDesign(
        "Bend line",
        (d) => {
          const element = d.elements.find((e) => e.id === gesture.id);
          if (!element || !("line" in element)) return;
          const [x, y] = onGrid(at);
          if (element.line.length === 0) element.line = [[-6, 0]];
          element.line[gesture.index] = [x - element.at[0], y - element.at[1]];
        },
        gesture.key,
      );
  }
}

function moveOn(gesture: Gesture & { kind: "move" }, at: Point, freely: boolean): void {
  const { view } = useView.getState();
  const { anchor } = gesture;
  const free: Point = [(at[0] - gesture.from[0]) / view.scale, (at[1] - gesture.from[1]) / view.scale];
  const by = freely ? free : snapOffset(anchor, free, gridStep(view), guidesAt(anchor, free));
  if (by[0] !== gesture.by[0] || by[1] !== gesture.by[1]) setGesture({ ...gesture, by });
}

/** The design with what is being moved where it would be let go. */
export const withMoved = (design: Design, ids: ReadonlySet<string>, gesture: Gesture | undefined): Design =>
  gesture?.kind === "move" ? produce(design, (d) => void move(d, ids, ...gesture.by)) : design;

const guidesAt = ([x, y]: Point, [dx, dy]: Point, reach?: number): Guides => {
  const now = selected();
  return now ? guidesFor(now.design, now.ids, useView.getState().view, [x + dx, y + dy], reach) : {};
};

/** Lines on which what is being moved stands with others. */
export const guidesOf = (gesture: Gesture | undefined): Guides | undefined =>
  gesture?.kind === "move" ? guidesAt(gesture.anchor, gesture.by, EXACTLY) : undefined;

/** The offset nearest to `free` that puts the anchor on a guide, or else on the grid. */
function snapOffset(anchor: Point, free: Point, step: number, guides: Guides): Point {
  const [x, y] = snap([anchor[0] + free[0], anchor[1] + free[1]], step);
  return [(guides.x ?? x) - anchor[0], (guides.y ?? y) - anchor[1]];
}

/** The pointer lets go at a point of the screen, over an element or not. */
export function endDrag(at: Point, over: string | undefined): void {
  const { gesture } = useGesture.getState();
  setGesture(undefined);
  const ids = selected()?.ids;
  if (gesture?.kind === "move" && ids && (gesture.by[0] !== 0 || gesture.by[1] !== 0))
    useStudy.getState().changeDesign("Move", (d) => move(d, ids, ...gesture.by));
  if (gesture?.kind === "link") {
    if (over !== undefined) linkTo(gesture.from, over);
    else useBuild.getState().openQuickAdd(at, gesture.from);
  }
  if (gesture?.kind === "box") selectInside(gesture.from, at);
}

function selectInside([x0, y0]: Point, [x1, y1]: Point): void {
  const { view, size } = useView.getState();
  const { selection, select } = useStudy.getState();
  const { history } = useStudy.getState();
  const now = selected();
  if (!now || !history) return;
  const { design, members } = unfold(history.present, now.design);
  const inside = design.elements.filter((e) => {
    const [x, y] = toScreen(view, size, e.at);
    return x >= Math.min(x0, x1) && x <= Math.max(x0, x1) && y >= Math.min(y0, y1) && y <= Math.max(y0, y1);
  });
  select([...new Set([...selection, ...inside.map((e) => members.get(e.id)?.family.id ?? e.id)])]);
}

/** Gives up what the pointer is doing, and takes back what it has done; false when it does nothing. */
export function giveUpDrag(): boolean {
  const { gesture } = useGesture.getState();
  if (!gesture) return false;
  setGesture(undefined);
  if (!("key" in gesture)) return true;
  const { designId, undo } = useStudy.getState();
  // Only what this gesture has done, which may be several steps, or nothing yet.
  const owner =
    gesture.kind === "drawing" ? gesture.id : gesture.kind === "display" ? `${designId}/${gesture.id}` : designId;
  const key = `${owner}/${gesture.key}`;
  while (useStudy.getState().history?.past.at(-1)?.mergeKey === key) undo();
  return true;
}
