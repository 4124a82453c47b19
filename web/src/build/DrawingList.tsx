import type { Study } from "@busy-harbor/core";
import { Eye, EyeOff, ImagePlus, Lock, LockOpen } from "lucide-react";
import { changeDrawing, reorderDrawing, showDrawing } from "../drawings/drawingStore.ts";
import { useDrawingFiles } from "../drawings/files.ts";
import { chooseDrawing } from "./buildCommands.ts";
import { SortableList } from "../ui/SortableList.tsx";
import { Section } from "./fields.tsx";

/** The study's background drawings, the front one first, and the way to add one. */
export function DrawingList({ study }: { study: Study }) {
  const files = useDrawingFiles((s) => s.files);
  const fromFront = study.drawings.toReversed();
  return (
    <Section title="Background drawings">
      <div role="group" aria-label="Background drawings">
        <SortableList
          ids={fromFront.map((d) => d.id)}
          nameOf={(id) => fromFront.find((d) => d.id === id)?.name ?? ""}
          onMove={(from, to) => reorderDrawing(fromFront[from].id, fromFront[to].id)}
        >
          {(id, i, grip) => {
            const drawing = fromFront[i];
            const { name, visible, locked } = drawing;
            const file = files[drawing.file];
            return (
              <div className="flex items-center gap-0.5 py-0.5">
                <button
                  className="min-w-0 grow truncate rounded px-1 text-left text-action underline-offset-2 hover:underline"
                  onClick={() => showDrawing(id)}
                >
                  {name}
                </button>
                {file?.state === "broken" && <span className="text-xs text-buoy-deep">cannot be shown</span>}
                {file?.state === "reading" && <span className="text-xs text-soft">reading …</span>}
                {grip}
                <button
                  className="button button-quiet px-1!"
                  aria-label={`Show ${name}`}
                  aria-pressed={visible}
                  data-tip={visible ? "Shown" : "Hidden"}
                  onClick={() =>
                    changeDrawing(id, visible ? "Hide drawing" : "Show drawing", (d) => void (d.visible = !visible))
                  }
                >
                  {visible ? <Eye size={14} /> : <EyeOff size={14} />}
                </button>
                <button
                  className="button button-quiet px-1!"
                  aria-label={`Lock ${name}`}
                  aria-pressed={locked}
                  data-tip={locked ? "Locked in place" : "Can be moved"}
                  onClick={() =>
                    changeDrawing(id, locked ? "Unlock drawing" : "Lock drawing", (d) => void (d.locked = !locked))
                  }
                >
                  {locked ? <Lock size={14} /> : <LockOpen size={14} />}
                </button>
              </div>
            );
          }}
        </SortableList>
      </div>
      <button className="button mt-1" onClick={() => void chooseDrawing()}>
        <ImagePlus size={14} /> Add drawing
      </button>
      <p className="pt-1 text-xs text-soft">DXF, SVG, PNG or JPEG; or drop a file on the floor.</p>
    </Section>
  );
}
