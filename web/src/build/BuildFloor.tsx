import {
  type Design,
  type Element,
  type ElementKindName,
  elementSchema,
  kindOf,
  type Point,
  type Study,
} from "@busy-harbor/core";
import { ContextMenu } from "radix-ui";
import { type MouseEvent, useEffect, useMemo, useRef, useState } from "react";
import { showDisplay } from "../displays/displayStore.ts";
import { FloorDisplays, focusDisplay } from "../displays/FloorDisplays.tsx";
import { showDrawing, useDrawings } from "../drawings/drawingStore.ts";
import { useBackdropFor } from "../drawings/useBackdropFor.ts";
import { useDrawn } from "../floor/members.ts";
import { NOTHING, type Scene } from "../floor/scene.ts";
import { ELEMENT } from "../floor/stage/nodeNames.ts";
import { FloorStage, type PointerAt, type StageHandle, stageSize } from "../floor/stage/FloorStage.tsx";
import { StillLayer } from "../floor/stage/StillLayer.tsx";
import { StillShapes } from "../floor/stage/StillShapes.tsx";
import { useResting } from "../floor/stage/useResting.ts";
import { gridStep, snap, toFloor } from "../floor/view.ts";
import { useView } from "../floor/viewStore.ts";
import { useCompiled } from "../state/compiled.ts";
import { connectRefusal } from "../state/edits.ts";
import { useStudy } from "../state/study.ts";
import { useTheme } from "../ui/theme.ts";
import { useSameSet } from "../ui/useSameSet.ts";
import { AtHand } from "./AtHand.tsx";
import { takeDrawing } from "./buildCommands.ts";
import { useBuild } from "./buildStore.ts";
import { ElementMirror } from "./ElementMirror.tsx";
import { type Hit, hitOf } from "./floorHit.ts";
import { FloorMenu } from "./FloorMenu.tsx";
import { beginDrag, dragOn, endDrag, guidesOf, useGesture, withMoved } from "./gestures.ts";
import { bendRoad, endLaying, layOver, layPoint, straightenRoad, useLaying } from "./layRoad.ts";
import { putDown } from "./putOnFloor.ts";
import { selectGrouped, toggleSelected } from "./selection.ts";
import { useDrawingOutline } from "./useDrawingOutline.ts";

/** Up to so many elements that are moved the list for assistive technology follows at each step. */
const MOST_FOLLOWED = 12;
const FLOOR_DRAWN = "floor-drawn";

/** When a plan was first on screen, for the benchmark of opening. */
const markDrawn = () => {
  if (performance.getEntriesByName(FLOOR_DRAWN).length === 0) performance.mark(FLOOR_DRAWN);
};

/** The floor of the Build stage: shows the design and turns what hands do into edits. */
export function BuildFloor({ study, design: stored }: { study: Study; design: Design }) {
  const { view, size: seen } = useView();
  const size = useMemo(() => stageSize(seen), [seen]);
  const selection = useStudy((s) => s.selection);
  const placing = useBuild((s) => s.placing);
  const pointer = useBuild((s) => (s.placing ? s.pointer : undefined));
  const picked = useDrawings((s) => s.picked);
  const laying = useLaying();
  const gesture = useGesture((s) => s.gesture);
  const theme = useTheme((s) => s.shown);
  const compilation = useCompiled();
  const [hovered, setHovered] = useState<string>();
  const floor = useRef<HTMLDivElement>(null);
  const stage = useRef<StageHandle>(null);
  const pressed = useRef<Hit>({ kind: "floor" });
  /** Whether the press did something by itself, and the click after it means nothing more. */
  const isDone = useRef(false);

  const chosen = useMemo(() => new Set(selection), [selection]);
  const design = useMemo(() => withMoved(stored, chosen, gesture), [stored, chosen, gesture]);
  const { design: shown, ownerOf, isMember, drawnFor } = useDrawn(study, design);
  const troubled = useSameSet(
    useMemo(() => new Set(compilation?.problems.flatMap((p) => (p.id ? [p.id] : [])) ?? []), [compilation]),
  );
  const backdrop = useBackdropFor(study.drawings, view, seen);
  const outline = useDrawingOutline(study);
  const { rested, apart } = useResting(shown);

  const marked = useMemo(() => drawnFor(troubled), [drawnFor, troubled]);
  const still: Scene = useMemo(
    () => ({
      plan: study.plan,
      backdrop,
      design: rested,
      view,
      size,
      selection: NOTHING,
      troubled: marked,
      grid: true,
      theme,
    }),
    [study.plan, backdrop, rested, view, size, marked, theme],
  );
  const ghost = useMemo(
    () => (placing && pointer ? ghostOf(placing, snap(toFloor(view, seen, pointer), gridStep(view))) : undefined),
    [placing, pointer, view, seen],
  );
  const drawing = useMemo(() => {
    if (gesture?.kind !== "link") return undefined;
    const over = elementUnder(stage.current, gesture.to);
    const [from, target] = [gesture.from, over && ownerOf(over)].map((id) => design.elements.find((e) => e.id === id));
    return (
      from && {
        from: from.id,
        to: target?.at ?? toFloor(view, seen, gesture.to),
        refused: target !== undefined && connectRefusal(from, target) !== undefined,
      }
    );
  }, [gesture, design, view, seen, ownerOf]);
  const laid = useMemo(() => {
    const { kind, joints, next } = laying;
    return kind && { points: joints.map(({ at }) => at), next: next?.at, joins: next?.joins ?? false };
  }, [laying]);
  const hand: Scene = useMemo(
    () => ({
      ...still,
      design: shown,
      rested,
      selection: drawnFor(chosen),
      hovered: gesture ? undefined : hovered,
      guides: guidesOf(gesture),
      drawing,
      laying: laid,
      ghost,
      placing: outline,
    }),
    [still, shown, rested, drawnFor, chosen, gesture, hovered, drawing, laid, ghost, outline],
  );

  const nodeAt = ({ at, target }: Pick<PointerAt, "at"> & { readonly target: PointerAt["target"] | undefined }): Hit =>
    hitOf(target, shown, view, seen, at);
  /** What is meant by what is there: a member is its family, and a link to one is drawn straight. */
  const meantBy = (hit: Hit): Hit => {
    if (!("id" in hit) || !isMember(hit.id)) return hit;
    const id = ownerOf(hit.id);
    return hit.kind === "link" ? { ...hit, id, segment: -1 } : { ...hit, id };
  };
  const hitAt = (at: Parameters<typeof nodeAt>[0]): Hit => meantBy(nodeAt(at));

  const down = (press: PointerAt) => {
    floor.current?.focus();
    const hit = hitAt(press);
    pressed.current = hit;
    isDone.current = true;
    if (press.button !== 0) return;
    if (laying.kind) layPoint(press.at);
    else if (placing) {
      putDown(placing, press.at);
      if (!press.shift) useBuild.getState().stopPlacing();
    } else if (picked) useDrawings.getState().pick(toFloor(view, seen, press.at));
    else if (hit.kind === "link") {
      const { select } = useStudy.getState();
      select(press.shift ? toggled(selection, hit.id) : [hit.id]);
    } else if (hit.kind === "road") {
      const { select } = useStudy.getState();
      select(press.shift ? toggled(selection, hit.id) : [hit.id]);
    } else if (hit.kind === "element") {
      if (press.shift) toggleSelected(hit.id);
      else if (!chosen.has(hit.id)) selectGrouped([hit.id]);
    } else if (hit.kind === "display") {
      showDisplay(hit.id);
      focusDisplay(hit.id);
    } else isDone.current = hit.kind !== "floor" || press.shift;
  };
  const click = () => {
    if (isDone.current) return;
    if (selection.length === 0) showDrawing(undefined);
    useStudy.getState().select([]);
  };
  const moveOver = (over: PointerAt) => {
    useBuild.setState({ pointer: over.at });
    if (laying.kind) return layOver(over.at);
    if (gesture) return;
    const hit: Hit = placing ? { kind: "floor" } : nodeAt(over);
    setHovered("id" in hit && hit.kind !== "drawing" ? hit.id : undefined);
  };

  /** The menu is of what lies under the pointer, unless that is selected already; by key it is of the selection. */
  const menuAt = (event: MouseEvent) => {
    if (event.button !== 2 || !stage.current) return;
    const at = stage.current.pointOf(event);
    const hit = hitAt({ at, target: stage.current.under(at) });
    if (hit.kind === "display") showDisplay(hit.id);
    else if (!("id" in hit)) useStudy.getState().select([]);
    else if (!chosen.has(hit.id)) selectGrouped([hit.id]);
  };

  useEffect(() => {
    // Given up by key: the stage lets go too.
    if (!gesture) stage.current?.letGo();
  }, [gesture]);

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
          <div
            ref={floor}
            className="absolute inset-0 outline-none"
            style={{
              cursor: cursorFor(
                gesture?.kind === "pan",
                placing !== undefined,
                picked !== undefined || laying.kind !== undefined,
                hovered,
              ),
            }}
            aria-label="Floor"
            role="application"
            aria-describedby="floor-keys"
            tabIndex={0}
            data-testid="floor"
            onPointerLeave={() => useBuild.setState({ pointer: undefined })}
            onContextMenu={menuAt}
          >
            <FloorStage
              ref={stage}
              draggable={!placing && !picked && !laying.kind}
              onDown={down}
              onClick={click}
              onMove={moveOver}
              onDoubleClick={(twice) => {
                if (laying.kind) endLaying();
                else if (!picked && !placing) changeAt(hitAt(twice), twice.at);
              }}
              onDragStart={(from) => beginDrag(pressed.current, from)}
              onDrag={(to) => {
                useBuild.setState({ pointer: to.at });
                dragOn(to);
              }}
              onDragEnd={({ at }) => {
                const over = elementUnder(stage.current, at);
                endDrag(at, over && ownerOf(over));
              }}
            >
              <StillLayer scene={still} onDrawn={markDrawn}>
                {(holder) => <StillShapes design={rested} without={apart} scene={holder} />}
              </StillLayer>
              <AtHand study={study} scene={hand} apart={apart} gesture={gesture} />
            </FloorStage>
          </div>
        </ContextMenu.Trigger>
        <FloorMenu />
      </ContextMenu.Root>
      <p id="floor-keys" className="sr-only">
        A adds an element, L links the selected one, arrow keys move it, Delete removes it. Tab goes through the
        elements.
      </p>
      {/* Of many that are moved it tells where they stood: laying them out anew at each step would slow the hand. */}
      <ElementMirror design={chosen.size > MOST_FOLLOWED ? stored : design} />
      <FloorDisplays study={study} design={stored} model={compilation?.model} editable />
    </div>
  );
}

/** A double click: a bend is taken out or put in; on the bare floor, quick-add opens. */
function changeAt(hit: Hit, at: Point): void {
  const { changeDesign } = useStudy.getState();
  const { view, size } = useView.getState();
  if (hit.kind === "floor") useBuild.getState().openQuickAdd(at);
  else if (hit.kind === "bend")
    changeDesign("Straighten link", (d) => void d.links.find((l) => l.id === hit.id)?.bends.splice(hit.index, 1));
  else if (hit.kind === "line bend") {
    changeDesign("Straighten line", (d) => {
      const element = d.elements.find((e) => e.id === hit.id);
      if (element && "line" in element && element.line.length > 1) element.line.splice(hit.index, 1);
    });
  } else if (hit.kind === "road point") straightenRoad(hit.id, hit.index);
  else if (hit.kind === "road") bendRoad(hit.id, hit.segment, at);
  else if (hit.kind === "link" && hit.segment >= 0) {
    const bend = snap(toFloor(view, size, at), gridStep(view));
    changeDesign("Add bend", (d) => void d.links.find((l) => l.id === hit.id)?.bends.splice(hit.segment, 0, bend));
  }
}

function elementUnder(stage: StageHandle | null, at: Point): string | undefined {
  const node = stage?.under(at);
  return node?.name() === ELEMENT ? node.id() : undefined;
}

function cursorFor(pans: boolean, placing: boolean, picking: boolean, hovered: string | undefined): string {
  if (picking) return "crosshair";
  if (placing) return "copy";
  if (pans) return "grabbing";
  return hovered ? "pointer" : "default";
}

const toggled = (ids: readonly string[], id: string) => (ids.includes(id) ? ids.filter((i) => i !== id) : [...ids, id]);

const ghostOf = (kind: ElementKindName, at: Point): Element =>
  elementSchema.parse({ kind, id: "ghost", name: kindOf({ kind }).label, at });
