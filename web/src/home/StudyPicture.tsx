import { type Study } from "@busy-harbor/core";
import { useEffect, useRef } from "react";
import { drawnDesign } from "../floor/members.ts";
import { floorPicture } from "../floor/picture.ts";
import { fit } from "../floor/view.ts";
import { extentPoints, useView } from "../floor/viewStore.ts";

const SIZE = { width: 168, height: 104 };
const ROOM = { top: 8, right: 10, bottom: 8, left: 10 };
/** It is drawn larger and shown smaller, as symbols have a least size. */
const SMALLER = 2.4;

/** The floor of a study's first design in small. */
export function StudyPicture({ study }: { study: Study | undefined }) {
  const holder = useRef<HTMLDivElement>(null);
  // A change of colours changes the view.
  const colours = useView((s) => s.view);
  useEffect(() => {
    const [first] = study?.designs ?? [];
    if (!study || !first) return;
    const design = drawnDesign(study, first);
    const size = { width: SIZE.width * SMALLER, height: SIZE.height * SMALLER };
    const points = extentPoints(design, study.plan);
    const picture = floorPicture({
      design,
      plan: study.plan,
      view: fit(points, size, ROOM),
      size,
      ratio: (window.devicePixelRatio || 1) / SMALLER,
      names: false,
    });
    Object.assign(picture.style, { position: "static", width: "100%", height: "100%", display: "block" });
    holder.current!.replaceChildren(picture);
  }, [study, colours]);
  return (
    <div ref={holder} aria-hidden className="shrink-0 overflow-hidden rounded-md border border-line" style={SIZE} />
  );
}
