import { Dialog } from "radix-ui";
import { useState } from "react";
import { inDrawingThread } from "../drawings/files.ts";
import { COLOURS } from "../floor/colours.ts";
import { drawnDesign } from "../floor/members.ts";
import { floorPicture } from "../floor/picture.ts";
import { fit, type Size, type View } from "../floor/view.ts";
import { extentPoints, useView } from "../floor/viewStore.ts";
import { useDesign, useStudy } from "../state/study.ts";
import { announce } from "../ui/announce.ts";
import { saveBlob } from "../ui/saveFile.ts";
import { Slider } from "../ui/Slider.tsx";
import { ToggleGroup } from "../ui/ToggleGroup.tsx";
import { drawnCorners } from "./buildCommands.ts";
import { useBuild } from "./buildStore.ts";

/** Pixels of the whole plan's longer side, as the screen counts them. */
const WHOLE = 1600;
const ROOM = { top: 24, right: 24, bottom: 24, left: 24 };
/** Most pixels that a browser makes a picture of. */
const MOST_PIXELS = 120e6;
const SCALES = [1, 2, 3, 4, 6, 8];

type Part = "whole" | "view";

/** Asks what of the floor is saved or printed as a picture, and how sharp. */
export default function SavePicture() {
  const close = () => useBuild.setState({ savingPicture: false });
  return (
    <Dialog.Root open onOpenChange={(open) => !open && close()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/15" />
        <Dialog.Content
          aria-describedby={undefined}
          className="panel float fixed top-[18vh] left-1/2 z-50 w-[420px] -translate-x-1/2 p-5"
        >
          <Dialog.Title className="pb-3 text-base">The floor as a picture</Dialog.Title>
          <Wishes onClose={close} />
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

function Wishes({ onClose }: { onClose: () => void }) {
  const study = useStudy((s) => s.history?.present);
  const stored = useDesign();
  const [part, setPart] = useState<Part>("whole");
  const [at, setAt] = useState(1);
  const [isDrawing, setDrawing] = useState(false);
  const shown = useView();
  if (!study || !stored) return null;
  const design = drawnDesign(study, stored);
  const { view, size } = part === "view" ? shown : wholePlan();
  const most = Math.sqrt(MOST_PIXELS / (size.width * size.height));
  const ratio = Math.min(SCALES[at], most);
  const [width, height] = [Math.round(size.width * ratio), Math.round(size.height * ratio)];

  function wholePlan(): { view: View; size: Size } {
    const points = [...extentPoints(design, study!.plan), ...drawnCorners(study!.drawings)];
    const [xs, ys] = [points.map((p) => p[0]), points.map((p) => p[1])];
    const wide = Math.max(1, Math.max(...xs) - Math.min(...xs) + 6);
    const high = Math.max(1, Math.max(...ys) - Math.min(...ys) + 4);
    const longer = WHOLE / Math.max(wide, high);
    const room = ROOM.left + ROOM.right;
    const box = {
      width: Math.max(320, Math.round(wide * longer)) + room,
      height: Math.max(240, Math.round(high * longer)) + room,
    };
    return { view: fit(points, box, ROOM), size: box };
  }

  const draw = async (): Promise<Blob> => {
    const drawings = study.drawings.filter((d) => d.visible);
    const image =
      drawings.length > 0
        ? await inDrawingThread((remote) =>
            remote.paint(drawings, view, size, ratio, { ink: COLOURS.ink, paper: COLOURS.paper }),
          )
        : undefined;
    const picture = floorPicture({
      design,
      plan: study.plan,
      view,
      size,
      ratio,
      names: true,
      backdrop: image && { image, view, size },
    });
    const blob = await new Promise<Blob | null>((resolve) => picture.toBlob(resolve, "image/png"));
    if (!blob) throw new Error("The browser could not make a picture so large. Choose a smaller scale.");
    return blob;
  };
  const make = async (take: (blob: Blob) => void | Promise<void>) => {
    setDrawing(true);
    try {
      await take(await draw());
      onClose();
    } catch (error) {
      announce(error instanceof Error ? error.message : String(error), true);
    } finally {
      setDrawing(false);
    }
  };
  const save = () =>
    make((blob) => {
      saveBlob(`${study.name}, ${design.name}.png`, blob);
      announce(`Saved a picture of ${width} × ${height} pixels.`);
    });

  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        void save();
      }}
    >
      <ToggleGroup
        label="What is in it"
        value={part}
        options={[
          ["whole", "The whole plan"],
          ["view", "What is in view"],
        ]}
        onChange={setPart}
      />
      <div className="flex items-center gap-4 py-4">
        <span className="w-24 text-soft">Sharpness</span>
        <div className="grow">
          <Slider
            label="Sharpness"
            value={at}
            most={SCALES.length - 1}
            valueText={`${SCALES[at]} times the screen's`}
            onChange={setAt}
          />
        </div>
        <span className="w-8 text-right tabular-nums">{SCALES[at]} ×</span>
      </div>
      <p className="pb-4 text-soft" data-testid="picture-size">
        {width} × {height} pixels
        {ratio < SCALES[at] && ", the most a browser can make"}. Displays are not in it.
      </p>
      <div className="flex justify-end gap-2">
        <Dialog.Close className="button">Cancel</Dialog.Close>
        <button type="button" className="button" disabled={isDrawing} onClick={() => void make(printPicture)}>
          Print
        </button>
        <button className="button button-main" disabled={isDrawing}>
          {isDrawing ? "Drawing …" : "Save PNG"}
        </button>
      </div>
    </form>
  );
}

/** Has the browser print a picture on a page of its own. */
async function printPicture(blob: Blob): Promise<void> {
  const frame = document.createElement("iframe");
  Object.assign(frame.style, { position: "fixed", width: "0", height: "0", border: "0" });
  document.body.append(frame);
  const url = URL.createObjectURL(blob);
  const page = frame.contentWindow!;
  const image = page.document.createElement("img");
  image.style.maxWidth = "100%";
  image.src = url;
  page.document.body.append(image);
  await image.decode();
  page.addEventListener("afterprint", () => {
    frame.remove();
    URL.revokeObjectURL(url);
  });
  page.print();
}
