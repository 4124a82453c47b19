import {
  type Design,
  type Element,
  type ElementKindName,
  elementSchema,
  kindOf,
  type Link,
  type Point,
  type Study,
} from "@busy-harbor/core";
import { ContextMenu } from "radix-ui";
import { memo, type PointerEvent, useCallback, useDeferredValue, useEffect, useMemo, useRef, useState } from "react";
import { useShownId } from "../state/shown.ts";
import { FloorDisplays } from "../displays/FloorDisplays.tsx";
import { changeDrawing, showDrawing, useDrawings } from "../drawings/drawingStore.ts";
import { useDrawingFiles } from "../drawings/files.ts";
import { cornersOf } from "../drawings/outline.ts";
import { useBackdropFor } from "../drawings/useBackdropFor.ts";
import { elementAt, type Hit, hitTest } from "../floor/hit.ts";
import { FloorLayers } from "../floor/FloorLayers.ts";
import type { Scene } from "../floor/scene.ts";
import { extentOf } from "../floor/symbols/index.ts";
import { useCanvas } from "../floor/useCanvas.ts";
import { gridStep, panBy, snap, symbolScale, toFloor, toScreen } from "../floor/view.ts";
import { useView } from "../floor/viewStore.ts";
import { EXACTLY, type Guides, guidesFor } from "../floor/guides.ts";
import { useCompiled } from "../state/compiled.ts";
import { move } from "../state/arrange.ts";
import { addElement, addLink, connectRefusal, isResource, placed, setNeed } from "../state/edits.ts";
import { useStudy } from "../state/study.ts";
import { announce } from "../ui/announce.ts";
import { takeDrawing } from "./buildCommands.ts";
import { floorCommands, useBuild } from "./buildStore.ts";
import { FloorMenu } from "./FloorMenu.tsx";
import { selectGrouped, toggleSelected } from "./selection.ts";

const FLOOR_DRAWN = "floor-drawn";

/** What the pointer is doing between press and release. */
type Gesture =
  | { readonly kind: "pan"; readonly last: Point; readonly moved: boolean }
  | { readonly kind: "box"; readonly from: Point; readonly to: Point }
  | {
      readonly kind: "move";
      readonly from: Point;
      readonly done: Point;
      readonly moved: boolean;
      readonly key: string;
      readonly anchor: Point;
    }
  | { readonly kind: "link"; readonly from: string; readonly to: Point }
  | { readonly kind: "drawing"; readonly id: string; readonly key: string; readonly from: Point; readonly at: Point }
  | { readonly kind: "bend"; readonly id: string; readonly index: number; readonly key: string }
  | { readonly kind: "new bend"; readonly id: string; readonly segment: number; readonly from: Point }
  | { readonly kind: "line bend"; readonly id: string; readonly index: number; readonly key: string };

/** The floor of the Build stage: draws the design and turns what hands do into edits. */
export function BuildFloor({ study, design }: { study: Study; design: Design }) {
  const { view, size, setView } = useView();
  const { selection, select, changeDesign, undo } = useStudy();
  const placing = useBuild((s) => s.placing);
  const { stopPlacing, openQuickAdd } = useBuild.getState();
  const compilation = useCompiled();
  const [gesture, setGesture] = useState<Gesture>();
  const [hovered, setHovered] = useState<string>();
  const pointer = useBuild((s) => (s.placing ? s.pointer : undefined));
  const gestures = useRef(0);
  const [layers] = useState(() => new FloorLayers());

  const chosen = useMemo(() => new Set(selection), [selection]);
  const troubled = useMemo(
    () => new Set(compilation?.problems.flatMap((p) => (p.id ? [p.id] : [])) ?? []),
    [compilation],
  );
  const step = gridStep(view);

  const ghost = useMemo(
    () => (placing && pointer ? ghostOf(placing, snap(toFloor(view, size, pointer), step)) : undefined),
    [placing, pointer, view, size, step],
  );
  const drawing = useMemo(() => {
    if (gesture?.kind !== "link") return undefined;
    const from = design.elements.find((e) => e.id === gesture.from);
    const target = elementAt(design, view, size, gesture.to, 8);
    return (
      from && {
        from: gesture.from,
        to: target?.at ?? toFloor(view, size, gesture.to),
        refused: target !== undefined && connectRefusal(from, target) !== undefined,
      }
    );
  }, [gesture, design, view, size]);

  const backdrop = useBackdropFor(study.drawings, view, size);
  const picked = useDrawings((s) => s.picked);
  const shown = useShownId("drawing");
  const placedDrawing = selection.length === 0 ? study.drawings.find((d) => d.id === shown) : undefined;
  const drawingInfo = useDrawingFiles((s) => {
    const file = placedDrawing && s.files[placedDrawing.file];
    return file?.state === "ready" ? file.info : undefined;
  });
  const outline = useMemo(
    () =>
      placedDrawing && drawingInfo
        ? {
            corners: cornersOf(placedDrawing, drawingInfo),
            grip: placedDrawing.locked || picked ? undefined : placedDrawing.at,
            picked: picked ?? [],
          }
        : undefined,
    [placedDrawing, drawingInfo, picked],
  );

  const guides = useMemo(() => {
    if (gesture?.kind !== "move" || !gesture.moved) return undefined;
    const at: Point = [gesture.anchor[0] + gesture.done[0], gesture.anchor[1] + gesture.done[1]];
    return guidesFor(design, chosen, view, at, EXACTLY);
  }, [gesture, design, chosen, view]);

  const scene: Scene = useMemo(
    () => ({
      plan: study.plan,
      backdrop,
      placing: outline,
      design,
      guides,
      view,
      size,
      selection: chosen,
      hovered: gesture ? undefined : hovered,
      troubled,
      grid: true,
      drawing,
      ghost,
      box: gesture?.kind === "box" ? [gesture.from, gesture.to] : undefined,
    }),
    [study.plan, backdrop, outline, design, view, size, chosen, hovered, troubled, drawing, ghost, gesture, guides],
  );
  const canvas = useCanvas(
    useCallback(
      (ctx: CanvasRenderingContext2D) => {
        layers.draw(ctx, scene);
        // When a plan was first on screen, for the benchmark of opening.
        if (performance.getEntriesByName(FLOOR_DRAWN).length === 0) performance.mark(FLOOR_DRAWN);
      },
      [scene, layers],
    ),
  );

  const at = (event: { clientX: number; clientY: number }): Point => {
    const box = canvas.current!.getBoundingClientRect();
    return [event.clientX - box.left, event.clientY - box.top];
  };

  const place = useCallback(
    (kind: ElementKindName, floor: Point) => {
      let made: Element | undefined;
      changeDesign(
        `Add ${kindOf({ kind }).label.toLowerCase()}`,
        (d) => void (made = { ...addElement(d, kind, snap(floor, step)) }),
      );
      if (!made) return;
      select([made.id]);
      announce(`${made.name} placed.`);
    },
    [changeDesign, select, step],
  );

  const link = (from: string, to: string) => {
    const [a, b] = [from, to].map((id) => design.elements.find((e) => e.id === id));
    if (!a || !b) return;
    const refusal = connectRefusal(a, b);
    if (refusal) {
      announce(refusal, true);
      return;
    }
    if (isResource(a)) {
      changeDesign(`${b.name} needs ${a.name}`, (d) => {
        const station = d.elements.find((e) => e.id === to);
        if (station && "needs" in station && !station.needs.some((n) => n.anyOf.includes(from)))
          setNeed(station, from, "1");
      });
      select([b.id]);
      announce(`Work at ${b.name} needs one of ${a.name}.`);
      return;
    }
    let made: Link | undefined;
    changeDesign(`Link ${a.name} to ${b.name}`, (d) => void (made = { ...addLink(d, from, to) }));
    if (made) select([made.id]);
    announce(`${a.name} linked to ${b.name}.`);
  };

  const down = (event: PointerEvent) => {
    canvas.current!.setPointerCapture(event.pointerId);
    const point = at(event);
    if (event.button === 1) return setGesture({ kind: "pan", last: point, moved: false });
    if (event.button !== 0) return;
    if (placing) {
      place(placing, toFloor(view, size, point));
      if (!event.shiftKey) stopPlacing();
      return;
    }
    if (picked) return useDrawings.getState().pick(toFloor(view, size, point));
    if (placedDrawing && outline?.grip && near(toScreen(view, size, outline.grip), point)) {
      return setGesture({
        kind: "drawing",
        id: placedDrawing.id,
        key: `gesture-${++gestures.current}`,
        from: toFloor(view, size, point),
        at: placedDrawing.at,
      });
    }
    const hit = hitTest(design, view, size, point, chosen, hovered);
    begin(hit, point, event.shiftKey);
  };

  const begin = (hit: Hit, point: Point, shift: boolean) => {
    const key = `gesture-${++gestures.current}`;
    switch (hit.kind) {
      case "floor":
        return setGesture(shift ? { kind: "box", from: point, to: point } : { kind: "pan", last: point, moved: false });
      case "way out":
        return setGesture({ kind: "link", from: hit.id, to: point });
      case "bend":
      case "line bend":
        return setGesture({ kind: hit.kind, id: hit.id, index: hit.index, key });
      case "link":
        select(shift ? toggled(selection, hit.id) : [hit.id]);
        return setGesture({ kind: "new bend", id: hit.id, segment: hit.segment, from: point });
      case "element": {
        if (shift) return toggleSelected(hit.id);
        if (!chosen.has(hit.id)) selectGrouped([hit.id]);
        const anchor = design.elements.find((e) => e.id === hit.id)!.at;
        return setGesture({ kind: "move", from: point, done: [0, 0], moved: false, key, anchor });
      }
    }
  };

  const drag = (event: PointerEvent) => {
    const point = at(event);
    useBuild.setState({ pointer: point });
    if (!gesture) {
      const hit = placing ? undefined : hitTest(design, view, size, point, chosen, hovered);
      setHovered(hit && "id" in hit ? hit.id : undefined);
      return;
    }
    const floor = snap(toFloor(view, size, point), step);
    switch (gesture.kind) {
      case "pan": {
        const [dx, dy] = [point[0] - gesture.last[0], point[1] - gesture.last[1]];
        if (!gesture.moved && Math.hypot(dx, dy) < 4) return;
        setView(panBy(view, dx, dy));
        return setGesture({ kind: "pan", last: point, moved: true });
      }
      case "box":
        return setGesture({ ...gesture, to: point });
      case "link":
        return setGesture({ ...gesture, to: point });
      case "move": {
        if (!gesture.moved && Math.hypot(point[0] - gesture.from[0], point[1] - gesture.from[1]) < 4) return;
        const free: Point = [(point[0] - gesture.from[0]) / view.scale, (point[1] - gesture.from[1]) / view.scale];
        const target = event.altKey
          ? free
          : snapOffset(
              gesture.anchor,
              free,
              step,
              guidesFor(design, chosen, view, [gesture.anchor[0] + free[0], gesture.anchor[1] + free[1]]),
            );
        const [dx, dy] = [target[0] - gesture.done[0], target[1] - gesture.done[1]];
        if (dx !== 0 || dy !== 0) changeDesign("Move", (d) => move(d, chosen, dx, dy), gesture.key);
        return setGesture({ ...gesture, done: target, moved: true });
      }
      case "drawing": {
        const [x, y] = toFloor(view, size, point);
        return changeDrawing(
          gesture.id,
          "Move drawing",
          (d) => void (d.at = placed([gesture.at[0] + x - gesture.from[0], gesture.at[1] + y - gesture.from[1]])),
          gesture.key,
        );
      }
      case "new bend": {
        if (Math.hypot(point[0] - gesture.from[0], point[1] - gesture.from[1]) < 5) return;
        const key = `gesture-${++gestures.current}`;
        changeDesign(
          "Bend link",
          (d) => void d.links.find((l) => l.id === gesture.id)?.bends.splice(gesture.segment, 0, floor),
          key,
        );
        return setGesture({ kind: "bend", id: gesture.id, index: gesture.segment, key });
      }
      case "bend":
        return changeDesign(
          "Bend link",
          (d) => {
            const bends = d.links.find((l) => l.id === gesture.id)?.bends;
            if (bends?.[gesture.index]) bends[gesture.index] = floor;
          },
          gesture.key,
        );
      case "line bend":
        return changeDesign(
          "Bend line",
          (d) => {
            const element = d.elements.find((e) => e.id === gesture.id);
            if (!element || !("line" in element)) return;
            if (element.line.length === 0) element.line = [[-6, 0]];
            element.line[gesture.index] = [floor[0] - element.at[0], floor[1] - element.at[1]];
          },
          gesture.key,
        );
    }
  };

  const up = (event: PointerEvent) => {
    const point = at(event);
    setGesture(undefined);
    if (!gesture) return;
    if (gesture.kind === "pan" && !gesture.moved) {
      if (selection.length === 0) showDrawing(undefined);
      select([]);
    }
    if (gesture.kind === "link") {
      const target = elementAt(design, view, size, point, 8);
      if (target) link(gesture.from, target.id);
      else openQuickAdd(point, gesture.from);
    }
    if (gesture.kind === "box") {
      const [[x0, y0], [x1, y1]] = [gesture.from, point];
      const inside = design.elements.filter((e) => {
        const [x, y] = toScreen(view, size, e.at);
        return x >= Math.min(x0, x1) && x <= Math.max(x0, x1) && y >= Math.min(y0, y1) && y <= Math.max(y0, y1);
      });
      select([...new Set([...selection, ...inside.map((e) => e.id)])]);
    }
  };

  /** The menu is of what lies under the pointer, unless that is selected already; by key it is of the selection. */
  const menuAt = (event: { clientX: number; clientY: number; button: number }) => {
    if (event.button !== 2) return;
    const hit = hitTest(design, view, size, at(event), chosen, undefined);
    if (!("id" in hit)) select([]);
    else if (!chosen.has(hit.id)) selectGrouped([hit.id]);
  };

  const doubleClick = (event: { clientX: number; clientY: number }) => {
    const point = at(event);
    const hit = hitTest(design, view, size, point, chosen, hovered);
    if (hit.kind === "floor") openQuickAdd(point);
    else if (hit.kind === "bend")
      changeDesign("Straighten link", (d) => void d.links.find((l) => l.id === hit.id)?.bends.splice(hit.index, 1));
    else if (hit.kind === "line bend") {
      changeDesign("Straighten line", (d) => {
        const element = d.elements.find((e) => e.id === hit.id);
        if (element && "line" in element && element.line.length > 1) element.line.splice(hit.index, 1);
      });
    } else if (hit.kind === "link") {
      changeDesign(
        "Add bend",
        (d) =>
          void d.links
            .find((l) => l.id === hit.id)
            ?.bends.splice(hit.segment, 0, snap(toFloor(view, size, point), step)),
      );
    }
  };

  // Quick-add asks the floor to place and link, so that both ways of adding are one.
  useEffect(() => {
    Object.assign(floorCommands, {
      addAt: (kind: ElementKindName, screen: Point, from?: string) => {
        place(kind, toFloor(useView.getState().view, useView.getState().size, screen));
        const made = useStudy.getState().selection[0];
        const source = from && design.elements.find((e) => e.id === from);
        if (source && made && kindOf({ kind }).hasWayIn)
          changeDesign(`Link ${source.name}`, (d) => void addLink(d, source.id, made));
      },
      linkTo: link,
      giveUp() {
        if (!gesture) return false;
        setGesture(undefined);
        // Only what this gesture has done, which may be several steps, or nothing yet.
        if ("key" in gesture)
          while (
            useStudy.getState().history?.past.at(-1)?.mergeKey ===
            `${gesture.kind === "drawing" ? gesture.id : design.id}/${gesture.key}`
          )
            undo();
        return true;
      },
    });
  });

  return (
    <div
      className="absolute inset-0"
      onDragOver={(event) => event.preventDefault()}
      onDrop={(event) => {
        event.preventDefault();
        const [file] = event.dataTransfer.files;
        if (file) void takeDrawing(file);
      }}
    >
      <ContextMenu.Root modal={false}>
        <ContextMenu.Trigger asChild>
          <canvas
            ref={canvas}
            className="h-full w-full touch-none outline-none"
            style={{
              cursor: picked
                ? "crosshair"
                : placing
                  ? "copy"
                  : gesture?.kind === "pan"
                    ? "grabbing"
                    : hovered
                      ? "pointer"
                      : "default",
            }}
            aria-label="Floor"
            role="application"
            aria-describedby="floor-keys"
            tabIndex={0}
            data-testid="floor"
            onPointerDown={down}
            onPointerMove={drag}
            onPointerUp={up}
            onPointerLeave={() => useBuild.setState({ pointer: undefined })}
            onDoubleClick={doubleClick}
            onContextMenu={menuAt}
          />
        </ContextMenu.Trigger>
        <FloorMenu />
      </ContextMenu.Root>
      <p id="floor-keys" className="sr-only">
        A adds an element, L links the selected one, arrow keys move it, Delete removes it. Tab goes through the
        elements.
      </p>
      <ElementMirror design={design} />
      <FloorDisplays study={study} design={design} model={compilation?.model} editable />
    </div>
  );
}

/** Whether a point of the screen is on a grip. */
const near = ([x, y]: Point, point: Point) => Math.hypot(point[0] - x, point[1] - y) <= 12;

const toggled = (ids: readonly string[], id: string) => (ids.includes(id) ? ids.filter((i) => i !== id) : [...ids, id]);

/** The offset nearest to `free` that puts the anchor on a guide, or else on the grid. */
function snapOffset(anchor: Point, free: Point, step: number, guides: Guides): Point {
  const [x, y] = snap([anchor[0] + free[0], anchor[1] + free[1]], step);
  return [(guides.x ?? x) - anchor[0], (guides.y ?? y) - anchor[1]];
}

const ghostOf = (kind: ElementKindName, at: Point): Element =>
  elementSchema.parse({ kind, id: "ghost", name: kindOf({ kind }).label, at });

/**
 * The elements as a list for keyboard and assistive technology, each entry where
 * its symbol is drawn. Focus selects; the pointer goes through to the canvas.
 */
function ElementMirror({ design: latest }: { design: Design }) {
  // The canvas shows each step of a drag; the list may follow when there is time.
  const design = useDeferredValue(latest);
  const { view, size } = useView();
  const selection = useStudy((s) => s.selection);
  const chosen = useMemo(() => new Set(selection), [selection]);
  // Panning moves the list as a whole; its entries are laid out anew only when the scale changes.
  const [x, y] = toScreen(view, size, [0, 0]);
  return (
    <div className="pointer-events-none absolute inset-0 overflow-hidden">
      <ul
        role="listbox"
        aria-label="Elements on the floor"
        aria-multiselectable
        className="absolute"
        style={{ transform: `translate(${x}px, ${y}px)` }}
      >
        {design.elements.map((element) => (
          <MirrorEntry
            key={element.id}
            element={element}
            chosen={chosen.has(element.id)}
            scale={view.scale}
            symbols={symbolScale(view)}
          />
        ))}
      </ul>
    </div>
  );
}

const MirrorEntry = memo(function MirrorEntry({
  element,
  chosen,
  scale,
  symbols,
}: {
  element: Element;
  chosen: boolean;
  scale: number;
  symbols: number;
}) {
  const { w, h } = extentOf(element);
  return (
    <li
      role="option"
      aria-selected={chosen}
      aria-label={`${element.name}, ${kindOf(element).label.toLowerCase()}`}
      tabIndex={0}
      data-element={element.name}
      className="absolute rounded-lg"
      style={{
        left: element.at[0] * scale - w * symbols,
        top: element.at[1] * scale - h * symbols,
        width: 2 * w * symbols,
        height: 2 * h * symbols,
      }}
      onFocus={(event) => event.target.matches(":focus-visible") && !chosen && useStudy.getState().select([element.id])}
    />
  );
});
