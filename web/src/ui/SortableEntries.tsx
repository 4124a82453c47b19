import {
  closestCenter,
  DndContext,
  type DragEndEvent,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
} from "@dnd-kit/core";
import { restrictToParentElement, restrictToVerticalAxis } from "@dnd-kit/modifiers";
import {
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
  verticalListSortingStrategy,
} from "@dnd-kit/sortable";
import { CSS } from "@dnd-kit/utilities";
import { GripVertical } from "lucide-react";
import type { ReactNode } from "react";
import type { SortableProps } from "./sorting.ts";

/** The entries of a `SortableList`: moved by their grips, by the pointer or with Space and the arrow keys. */
export default function SortableEntries({ ids, nameOf, onMove, children }: SortableProps) {
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const end = ({ active, over }: DragEndEvent) => {
    const [from, to] = [ids.indexOf(String(active.id)), over ? ids.indexOf(String(over.id)) : -1];
    if (from >= 0 && to >= 0 && from !== to) onMove(from, to);
  };
  const place = (id: string | number | undefined) => (id === undefined ? 0 : ids.indexOf(String(id)) + 1);
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={closestCenter}
      modifiers={[restrictToVerticalAxis, restrictToParentElement]}
      onDragEnd={end}
      accessibility={{
        // Lists and trees hold their entries alone.
        container: document.body,
        screenReaderInstructions: {
          draggable: "Space takes it up, the arrow keys move it, Space puts it down, Escape puts it back.",
        },
        announcements: {
          onDragStart: ({ active }) =>
            `${nameOf(String(active.id))} taken up, place ${place(active.id)} of ${ids.length}.`,
          onDragOver: ({ active, over }) => `${nameOf(String(active.id))} now at place ${place(over?.id)}.`,
          onDragEnd: ({ active, over }) => `${nameOf(String(active.id))} put down at place ${place(over?.id)}.`,
          onDragCancel: ({ active }) => `${nameOf(String(active.id))} is back where it was.`,
        },
      }}
    >
      <SortableContext items={[...ids]} strategy={verticalListSortingStrategy}>
        <div>
          {ids.map((id, i) => (
            <Entry key={id} id={id} name={nameOf(id)} isAlone={ids.length < 2}>
              {(grip) => children(id, i, grip)}
            </Entry>
          ))}
        </div>
      </SortableContext>
    </DndContext>
  );
}

function Entry({
  id,
  name,
  isAlone,
  children,
}: {
  id: string;
  name: string;
  isAlone: boolean;
  children: (grip: ReactNode) => ReactNode;
}) {
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, transition, isDragging } = useSortable({
    id,
  });
  const grip = !isAlone && (
    <button
      ref={setActivatorNodeRef}
      type="button"
      className="cursor-grab touch-none rounded text-soft"
      {...attributes}
      {...listeners}
      aria-label={`Move ${name}`}
      data-tip="Drag to change the order"
    >
      <GripVertical size={13} />
    </button>
  );
  return (
    <div
      ref={setNodeRef}
      className={isDragging ? "relative z-10 opacity-80" : ""}
      style={{ transform: CSS.Translate.toString(transform), transition }}
    >
      {children(grip)}
    </div>
  );
}
