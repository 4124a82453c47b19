import { elementKinds, type ElementKindName, kindOf, type Road, ROAD_KINDS, type Traits } from "@busy-harbor/core";
import {
  AlignLeft,
  ChartLine,
  Clock3,
  Gauge,
  Hash,
  Image,
  type LucideIcon,
  PersonStanding,
  RectangleHorizontal,
  Table2,
} from "lucide-react";
import { Popover } from "radix-ui";
import { type ReactNode, useLayoutEffect, useRef, useState } from "react";
import { DISPLAY_LABELS, type DisplayKind } from "../displays/displayStore.ts";
import { useView } from "../floor/viewStore.ts";
import { groupBy } from "../groupBy.ts";
import { useBuild } from "./buildStore.ts";
import { ROAD_LABELS, startLaying } from "./layRoad.ts";
import { placeDisplay } from "./placeDisplay.ts";
import { addAt } from "./putOnFloor.ts";
import { SymbolIcon } from "./SymbolIcon.tsx";

const DISPLAY_ICONS: Readonly<Record<DisplayKind, LucideIcon>> = {
  clock: Clock3,
  text: AlignLeft,
  number: Hash,
  gauge: Gauge,
  bar: RectangleHorizontal,
  people: PersonStanding,
  table: Table2,
  chart: ChartLine,
  picture: Image,
};

/** Something that can be taken to the floor. */
interface Piece {
  readonly key: string;
  readonly label: string;
  readonly summary: string;
  readonly icon: ReactNode;
  readonly kind?: ElementKindName;
  readonly place: () => void;
}

interface Group {
  readonly name: string;
  readonly pieces: readonly Piece[];
}

/** Ways are drawn, and so are put down in another manner than elements. */
const WAYS: readonly Piece[] = ROAD_KINDS.map((kind) => ({
  key: `way-${kind}`,
  label: ROAD_LABELS[kind],
  summary:
    kind === "walkway"
      ? "For those who walk: drawn click after click, joined where it meets another."
      : "For what drives: drawn click after click, joined where it meets another.",
  icon: (
    <span className="flex h-10 w-10 items-center justify-center">
      <WayIcon kind={kind} />
    </span>
  ),
  place: () => startLaying(kind),
}));

/** Places stand with what is given out: the group of the flow stays open where most people work. */
const dockGroupOf = (kind: ElementKindName): Traits["group"] => {
  const { group, hasSpots = false } = kindOf({ kind });
  return hasSpots ? "resources" : group;
};

const GROUPS: readonly Group[] = [
  ...[...groupBy(Object.keys(elementKinds) as ElementKindName[], dockGroupOf)].map(([name, kinds]): Group => ({
    name: capital(name),
    pieces: [
      ...kinds.map((kind) => ({
        key: kind,
        kind,
        label: elementKinds[kind].label,
        summary: elementKinds[kind].summary,
        icon: <SymbolIcon kind={kind} />,
        place: () => {
          const { size } = useView.getState();
          addAt(kind, [size.width / 2, size.height / 2]);
        },
      })),
      ...(name === "transport" ? WAYS : []),
    ],
  })),
  {
    name: "Displays",
    pieces: (Object.keys(DISPLAY_LABELS) as DisplayKind[]).map((kind) => {
      const Icon = DISPLAY_ICONS[kind];
      return {
        key: `display-${kind}`,
        label: DISPLAY_LABELS[kind],
        summary: "Stands on the floor and is read while watching.",
        icon: (
          <span className="flex h-10 w-10 items-center justify-center">
            <Icon size={20} strokeWidth={1.5} />
          </span>
        ),
        place: () => void placeDisplay(kind),
      };
    }),
  },
];

/** A bent stretch of way, as broad as its kind. */
function WayIcon({ kind }: { kind: Road["kind"] }) {
  const path = "M3 24C12 24 10 6 22 6H29";
  return (
    <svg width={32} height={30} aria-hidden fill="none">
      <path d={path} stroke="var(--color-ink)" strokeWidth={kind === "road" ? 11 : 7} />
      <path d={path} stroke="var(--color-sheet)" strokeWidth={kind === "road" ? 8.5 : 4.5} />
      <path d={path} stroke="var(--color-ink)" strokeWidth={1} strokeDasharray={kind === "road" ? "4 3" : "1.5 2.5"} />
    </svg>
  );
}

/** Pixels that a piece, a folded group and the edges of the dock take. */
const PIECE = 65;
const FOLDED = 76;
const EDGES = 22;
/** Most pieces of an opened group beside one another. */
const MOST_ABREAST = 5;

/** How many groups, from the first, have room to be open all the time. */
function openGroups(width: number): number {
  for (let open = GROUPS.length; open > 0; open--) {
    const pieces = GROUPS.slice(0, open).reduce((sum, g) => sum + g.pieces.length, 0);
    if (EDGES + pieces * PIECE + open * 9 + (GROUPS.length - open) * FOLDED <= width) return open;
  }
  return 0;
}

/**
 * What can be placed, in groups: a click takes a piece to the floor, Enter puts it in the middle. Groups for which
 * there is no room are folded, and open on hover, focus or click. On a `low` floor all are, and without words.
 */
export function Dock({ low = false }: { low?: boolean }) {
  const holder = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(Infinity);
  useLayoutEffect(() => {
    const element = holder.current!;
    const observer = new ResizeObserver(() => setWidth(element.clientWidth));
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  const open = low ? 0 : openGroups(width);
  return (
    <div ref={holder} className="pointer-events-none flex w-full justify-center">
      <div
        role="toolbar"
        aria-label="Elements to place"
        data-testid="dock"
        className="panel float pointer-events-auto flex gap-0.5 px-2 py-1.5"
      >
        {GROUPS.map((group, i) => (
          <div key={group.name} role="group" aria-label={group.name} className="flex gap-0.5">
            {i > 0 && <span role="separator" className="mx-1 w-px shrink-0 self-stretch bg-line" />}
            {i < open ? (
              group.pieces.map((piece) => <PieceButton key={piece.key} piece={piece} />)
            ) : (
              <Folded group={group} low={low} />
            )}
          </div>
        ))}
      </div>
    </div>
  );
}

function PieceButton({ piece, onPlaced }: { piece: Piece; onPlaced?: () => void }) {
  const placing = useBuild((s) => s.placing);
  const { startPlacing, stopPlacing } = useBuild.getState();
  const { kind } = piece;
  const isPlacing = kind !== undefined && placing === kind;
  return (
    <button
      data-tip={piece.summary}
      aria-pressed={kind && isPlacing}
      className={`flex w-[63px] shrink-0 flex-col items-center rounded-lg pt-0.5 pb-1 text-xs ${isPlacing ? "bg-water text-ink" : "text-soft hover:bg-water"}`}
      onClick={(event) => {
        // A click by keyboard has no place: the element goes into the middle of the floor.
        if (kind === undefined || event.detail === 0) piece.place();
        else if (isPlacing) stopPlacing();
        else startPlacing(kind);
        onPlaced?.();
      }}
    >
      {piece.icon}
      <span className="whitespace-nowrap">{piece.label}</span>
    </button>
  );
}

/** A group as one button, whose pieces are shown above it. */
function Folded({ group, low }: { group: Group; low: boolean }) {
  const [open, setOpen] = useState(false);
  const closing = useRef<ReturnType<typeof setTimeout>>(undefined);
  /** Whether the keys go into the pieces when they are shown. */
  const takesKeys = useRef(false);
  const trigger = useRef<HTMLButtonElement>(null);
  const show = (keys: boolean) => {
    clearTimeout(closing.current);
    takesKeys.current = keys;
    setOpen(true);
  };
  /** The pointer may cross the gap between button and pieces. */
  const leave = () => (closing.current = setTimeout(() => setOpen(false), 250));
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Anchor asChild>
        <button
          ref={trigger}
          aria-haspopup="dialog"
          aria-expanded={open}
          className="flex w-[66px] shrink-0 flex-col items-center rounded-lg px-1 pt-0.5 pb-1 text-xs text-soft hover:bg-water"
          onPointerEnter={(event) => event.pointerType === "mouse" && show(false)}
          onPointerLeave={leave}
          onFocus={(event) => event.currentTarget.matches(":focus-visible") && show(false)}
          onKeyDown={(event) => {
            if (event.key !== "ArrowUp" || !open) return;
            event.preventDefault();
            event.stopPropagation();
            document.getElementById(`pieces-${group.name}`)?.querySelector("button")?.focus();
          }}
          onClick={() => {
            if (open) document.getElementById(`pieces-${group.name}`)?.querySelector("button")?.focus();
            else show(true);
          }}
        >
          <span className={`flex items-center -space-x-3 ${low ? "h-6" : "h-10"}`} aria-hidden>
            {group.pieces.slice(0, 2).map((piece) => (
              <span key={piece.key} className="scale-75">
                {piece.icon}
              </span>
            ))}
          </span>
          <span className={low ? "sr-only" : ""}>{group.name}</span>
        </button>
      </Popover.Anchor>
      <Popover.Portal>
        <Popover.Content
          id={`pieces-${group.name}`}
          side="top"
          sideOffset={10}
          collisionPadding={8}
          aria-label={group.name}
          className="panel float z-30 grid gap-0.5 p-2"
          style={{ gridTemplateColumns: `repeat(${Math.min(group.pieces.length, MOST_ABREAST)}, 68px)` }}
          onPointerEnter={() => clearTimeout(closing.current)}
          onPointerLeave={leave}
          onOpenAutoFocus={(event) => !takesKeys.current && event.preventDefault()}
          onCloseAutoFocus={(event) => event.preventDefault()}
          onInteractOutside={(event) => trigger.current?.contains(event.target as Node) && event.preventDefault()}
        >
          {group.pieces.map((piece) => (
            <PieceButton key={piece.key} piece={piece} onPlaced={() => setOpen(false)} />
          ))}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

function capital(word: string): string {
  return word.charAt(0).toUpperCase() + word.slice(1);
}
