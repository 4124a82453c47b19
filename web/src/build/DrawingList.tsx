import type { Study } from "@busy-harbor/core";
import { ArrowDown, ArrowUp, Eye, EyeOff, ImagePlus, Lock, LockOpen } from "lucide-react";
import { changeDrawing, reorderDrawing, showDrawing } from "../drawings/drawingStore.ts";
import { useDrawingFiles } from "../drawings/files.ts";
import { chooseDrawing } from "./buildCommands.ts";
import { Section } from "./fields.tsx";

/** The study's background drawings, the front one first, and the way to add one. */
export function DrawingList({ study }: { study: Study }) {
  const files = useDrawingFiles((s) => s.files);
  const fromFront = study.drawings.toReversed();
  return (
    <Section title="Background drawings">
      <ul aria-label="Background drawings">
        {fromFront.map((drawing, i) => {
          const { id, name, visible, locked } = drawing;
          const file = files[drawing.file];
          return (
            <li key={id} className="flex items-center gap-0.5 py-0.5">
              <button
                className="min-w-0 grow truncate rounded px-1 text-left text-action underline-offset-2 hover:underline"
                onClick={() => showDrawing(id)}
              >
                {name}
              </button>
              {file?.state === "broken" && <span className="text-xs text-buoy-deep">cannot be shown</span>}
              {file?.state === "reading" && <span className="text-xs text-soft">reading …</span>}
              <button
                className="button button-quiet px-1!"
                aria-label={`Bring ${name} forward`}
                title="Forward"
                disabled={i === 0}
                onClick={() => reorderDrawing(id, 1)}
              >
                <ArrowUp size={13} />
              </button>
              <button
                className="button button-quiet px-1!"
                aria-label={`Send ${name} back`}
                title="Back"
                disabled={i === fromFront.length - 1}
                onClick={() => reorderDrawing(id, -1)}
              >
                <ArrowDown size={13} />
              </button>
              <button
                className="button button-quiet px-1!"
                aria-label={`Show ${name}`}
                aria-pressed={visible}
                title={visible ? "Shown" : "Hidden"}
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
                title={locked ? "Locked in place" : "Can be moved"}
                onClick={() =>
                  changeDrawing(id, locked ? "Unlock drawing" : "Lock drawing", (d) => void (d.locked = !locked))
                }
              >
                {locked ? <Lock size={14} /> : <LockOpen size={14} />}
              </button>
            </li>
          );
        })}
      </ul>
      <button className="button mt-1" onClick={() => void chooseDrawing()}>
        <ImagePlus size={14} /> Add drawing
      </button>
      <p className="pt-1 text-xs text-soft">DXF, SVG, PNG or JPEG; or drop a file on the floor.</p>
    </Section>
  );
}
