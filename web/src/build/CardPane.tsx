import type { ReactNode } from "react";
import { Group, Panel, Separator } from "react-resizable-panels";
import { z } from "zod";
import { create } from "zustand";
import { persist } from "zustand/middleware";

/** Pixels. */
const [NARROWEST, FIRST, WIDEST] = [300, 340, 560];

const keptSchema = z.object({ width: z.number().min(NARROWEST).max(WIDEST) });

/** How wide the card is, kept in this browser. */
export const useCardWidth = create<{ width: number }>()(
  persist(() => ({ width: FIRST }), {
    name: "busy-harbor-card",
    merge: (kept, first) => ({ ...first, ...keptSchema.safeParse(kept).data }),
  }),
);

/** Where the card floats over the floor; its width is set by its left edge. */
export function CardPane({ children }: { children: ReactNode }) {
  return (
    <div className="pointer-events-none absolute top-8 right-3 bottom-3 left-0">
      <Group orientation="horizontal">
        <Panel id="beside-card" minSize={200} />
        <Separator className="pane-edge pointer-events-auto" aria-label="Width of the card" />
        <Panel
          id="card-pane"
          minSize={NARROWEST}
          defaultSize={useCardWidth.getState().width}
          maxSize={WIDEST}
          groupResizeBehavior="preserve-pixel-size"
          onResize={({ inPixels }) => inPixels > 0 && useCardWidth.setState({ width: Math.round(inPixels) })}
        >
          <div className="h-full *:pointer-events-auto">{children}</div>
        </Panel>
      </Group>
    </div>
  );
}
