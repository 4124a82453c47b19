import type { ReactNode } from "react";
import { Group, Panel, Separator, useDefaultLayout } from "react-resizable-panels";
import { z } from "zod";

/** Pixels. */
const [NARROWEST, FIRST, WIDEST] = [240, 272, 560];

const layoutSchema = z.record(z.string(), z.number().min(0).max(100));

/** Layouts kept in this browser; what is none is as if it were not there. */
const LAYOUTS = {
  getItem(key: string): string | null {
    const text = localStorage.getItem(key);
    try {
      return text !== null && layoutSchema.safeParse(JSON.parse(text)).success ? text : null;
    } catch {
      return null;
    }
  },
  setItem: (key: string, text: string) => localStorage.setItem(key, text),
};

/** A page with a pane at its left that is sized by its edge; its width is kept in this browser. */
export function SidePane({ id, pane, children }: { id: string; pane: ReactNode; children: ReactNode }) {
  const { defaultLayout, onLayoutChanged } = useDefaultLayout({
    id: `busy-harbor-${id}`,
    storage: LAYOUTS,
    onlySaveAfterUserInteractions: true,
  });
  return (
    <Group
      id={id}
      className="min-h-0 grow"
      orientation="horizontal"
      defaultLayout={defaultLayout}
      onLayoutChanged={onLayoutChanged}
    >
      <Panel
        id={`${id}-pane`}
        minSize={NARROWEST}
        defaultSize={FIRST}
        maxSize={WIDEST}
        groupResizeBehavior="preserve-pixel-size"
        className="flex"
      >
        {pane}
      </Panel>
      <Separator className="pane-edge" aria-label="Width of the pane" />
      <Panel id={`${id}-main`} minSize={480} className="flex">
        {children}
      </Panel>
    </Group>
  );
}
