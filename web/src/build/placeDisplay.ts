import type { Point } from "@busy-harbor/core";
import { api } from "../api/client.ts";
import { addDisplay, type DisplayKind } from "../displays/displayStore.ts";
import { sha256 } from "../drawings/files.ts";
import { formatOf } from "../drawings/format.ts";
import { imageSize } from "../drawings/imageSize.ts";
import { useDrawings } from "../drawings/drawingStore.ts";
import { DrawingProblem, refuse } from "../drawings/problem.ts";
import { cleanSvg } from "../drawings/svg.ts";
import { gridStep, snap, toFloor } from "../floor/view.ts";
import { useView } from "../floor/viewStore.ts";
import { chooseFile } from "../ui/chooseFile.ts";

/** Metres that a picture is wide at first. */
const PICTURE_WIDTH = 5;

/** Puts a display at the upper left of the floor that is in view; a picture asks for its file first. */
export async function placeDisplay(kind: DisplayKind): Promise<void> {
  const { view, size } = useView.getState();
  const at: Point = snap(toFloor(view, size, [size.width * 0.12, size.height * 0.16]), gridStep(view));
  if (kind !== "picture") return addDisplay(kind, at);
  const file = await chooseFile(".svg,.png,.jpg,.jpeg");
  if (file) await placePicture(file, at);
}

/** Puts a picture from a file on the floor; what cannot be shown is refused with its reason. */
export async function placePicture(file: File, at: Point): Promise<void> {
  try {
    const bytes = new Uint8Array(await file.arrayBuffer());
    const format = formatOf(bytes);
    if (format === "svg") cleanSvg(new TextDecoder().decode(bytes));
    else if (format === "dxf") return refuse("A DXF is a drawing, not a picture.", "Add it as a background drawing.");
    else imageSize(bytes, format);
    const id = await sha256(bytes);
    await api.keepFile(id, bytes);
    addDisplay("picture", at, { file: id, format, width: PICTURE_WIDTH });
  } catch (error) {
    const hint = error instanceof DrawingProblem ? error.hint : "Try again once the server answers.";
    useDrawings.setState({ refusal: { name: file.name, message: error instanceof Error ? error.message : "The file could not be kept.", hint } });
  }
}
