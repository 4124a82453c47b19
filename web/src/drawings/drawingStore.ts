import { type Drawing, drawingSchema, type Point } from "@busy-harbor/core";
import { create } from "zustand";
import { api } from "../api/client.ts";
import { extentPoints, useView } from "../floor/viewStore.ts";
import { newId } from "../state/edits.ts";
import { useShown } from "../state/shown.ts";
import { useStudy } from "../state/study.ts";
import { announce } from "../ui/announce.ts";
import type { FileInfo } from "./drawing.worker.ts";
import { fileRead, openFile, sha256 } from "./files.ts";
import { MOST_BYTES } from "./format.ts";
import { DrawingProblem, refuse } from "./problem.ts";
import { likelyUnit } from "./scale.ts";

interface DrawingState {
  /** Points picked on the floor to set the scale by, at most two. */
  picked: readonly Point[] | undefined;
  /** A file on its way in. */
  adding:
    { readonly name: string; readonly doing: string; readonly share?: number; readonly stop: () => void } | undefined;
  /** Why the last file was not taken. */
  refusal: { readonly name: string; readonly message: string; readonly hint: string } | undefined;
  pick(point: Point): void;
}

export const useDrawings = create<DrawingState>((set, get) => ({
  picked: undefined,
  adding: undefined,
  refusal: undefined,
  pick: (point) => set({ picked: [...(get().picked ?? []).slice(0, 1), point] }),
}));

/** Opens the card of a drawing, or closes whatever card is open. */
export function showDrawing(id: string | undefined): void {
  useDrawings.setState({ picked: undefined, refusal: undefined });
  useShown.getState().show(id ? { kind: "drawing", id } : undefined);
}

const drawingOf = (id: string | undefined) => useStudy.getState().history?.present.drawings.find((d) => d.id === id);

/** Changes one drawing, as one step to undo. */
export function changeDrawing(id: string, name: string, recipe: (drawing: Drawing) => void, mergeKey?: string): void {
  useStudy.getState().change(
    name,
    (study) => {
      const drawing = study.drawings.find((d) => d.id === id);
      if (drawing) recipe(drawing);
    },
    mergeKey && `${id}/${mergeKey}`,
  );
}

/**
 * Takes a file as a background drawing: reads it off this thread, keeps it on the server, and opens its card. False
 * when it was not taken.
 */
export async function addDrawing(file: File): Promise<boolean> {
  const stop = new AbortController();
  const say = (doing: string, share?: number) =>
    useDrawings.setState({ adding: { name: file.name, doing, share, stop: () => stop.abort() }, refusal: undefined });
  say("Reading");
  try {
    if (file.size > MOST_BYTES)
      refuse(
        `The file has ${Math.ceil(file.size / 2 ** 20)} MB; at most ${MOST_BYTES / 2 ** 20} MB are taken.`,
        "Leave out layers that the plan does not need, and save it again.",
      );
    const bytes = new Uint8Array(await file.arrayBuffer());
    const id = await sha256(bytes);
    const info = await openFile(
      id,
      bytes,
      stop.signal,
      (share) => useDrawings.getState().adding && say("Reading", share),
    );
    say("Keeping");
    await api.keepFile(id, bytes, stop.signal);
    fileRead(id, info);
    place(file.name, id, info);
    return true;
  } catch (error) {
    if (stop.signal.aborted) announce(`${file.name} was not added.`);
    else if (error instanceof DrawingProblem)
      useDrawings.setState({ refusal: { name: file.name, message: error.message, hint: error.hint } });
    else
      useDrawings.setState({
        refusal: {
          name: file.name,
          message: error instanceof Error ? error.message : "The file could not be kept.",
          hint: "Add it again once the server answers.",
        },
      });
  } finally {
    useDrawings.setState({ adding: undefined });
  }
  return false;
}

/** Puts a drawing under what stands on the floor, in the unit its file names or else the likeliest. */
function place(fileName: string, file: string, info: FileInfo): void {
  const { change, history, designId, select } = useStudy.getState();
  const study = history?.present;
  const design = study?.designs.find((d) => d.id === designId);
  if (!study || !design) return;
  const standing = extentPoints(design, study.plan);
  const { view, size } = useView.getState();
  const middle: Point = standing.length > 0 ? middleOf(standing) : [view.x, view.y];
  const extent = Math.max(info.width, info.height);
  // A picture's pixels say nothing of metres: it begins as large as the screen.
  const metresPerUnit =
    info.unit ??
    (info.format === "dxf" ? likelyUnit(extent, standing).metres : (0.6 * size.width) / view.scale / extent);
  const drawing = drawingSchema.parse({
    id: newId("drawing"),
    name:
      fileName
        .replace(/\.[^.]*$/, "")
        .slice(0, 80)
        .trim() || "Drawing",
    file,
    format: info.format,
    at: middle,
    metresPerUnit,
  });
  change(`Add drawing ${drawing.name}`, (s) => void s.drawings.push(drawing));
  select([]);
  showDrawing(drawing.id);
  announce(`${drawing.name} added.`);
}

function middleOf(points: readonly Point[]): Point {
  const [xs, ys] = [points.map((p) => p[0]), points.map((p) => p[1])];
  const middle = (all: readonly number[]) => Math.round((Math.min(...all) + Math.max(...all)) * 500) / 1000;
  return [middle(xs), middle(ys)];
}

export function deleteDrawing(id: string): void {
  const drawing = drawingOf(id);
  if (!drawing) return;
  const { change, undo } = useStudy.getState();
  change(`Delete drawing ${drawing.name}`, (s) => void (s.drawings = s.drawings.filter((d) => d.id !== id)));
  showDrawing(undefined);
  announce(`${drawing.name} deleted.`, false, { label: "Undo", run: undo });
}

/** Puts a drawing in another's place among the drawings; later ones lie in front. */
export function reorderDrawing(id: string, inPlaceOf: string): void {
  useStudy.getState().change("Change order of drawings", ({ drawings }) => {
    const [from, to] = [id, inPlaceOf].map((which) => drawings.findIndex((d) => d.id === which));
    if (from >= 0 && to >= 0) drawings.splice(to, 0, ...drawings.splice(from, 1));
  });
}
