import type { Point } from "@busy-harbor/core";
import { api } from "../api/client.ts";
import { addDisplay, type DisplayKind } from "../displays/displayStore.ts";
import { sha256 } from "../drawings/files.ts";
import { formatOf } from "../drawings/format.ts";
import { imageSize } from "../drawings/imageSize.ts";
import { useDrawings } from "../drawings/drawingStore.ts";
import { DrawingProblem, refuse } from "../drawings/problem.ts";
import { svgReader } from "../drawings/svgReader.ts";
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
  const picture = await choosePicture();
  if (picture) addDisplay("picture", at, { ...picture, width: PICTURE_WIDTH });
}

/** Lets a person choose a picture, and keeps it. */
export async function choosePicture(): ReturnType<typeof keepPicture> {
  const file = await chooseFile(".svg,.png,.jpg,.jpeg");
  return file && (await keepPicture(file));
}

/** Keeps a picture's file with the study; what cannot be shown is refused on screen with its reason. */
export async function keepPicture(file: File): Promise<{ file: string; format: "svg" | "png" | "jpeg" } | undefined> {
  try {
    const bytes = new Uint8Array(await file.arrayBuffer());
    const format = formatOf(bytes);
    if (format === "svg") (await svgReader()).cleanSvg(new TextDecoder().decode(bytes));
    else if (format === "dxf") return refuse("A DXF is a drawing, not a picture.", "Add it as a background drawing.");
    else imageSize(bytes, format);
    const id = await sha256(bytes);
    await api.keepFile(id, bytes);
    return { file: id, format };
  } catch (error) {
    const hint = error instanceof DrawingProblem ? error.hint : "Try again once the server answers.";
    useDrawings.setState({
      refusal: {
        name: file.name,
        message: error instanceof Error ? error.message : "The file could not be kept.",
        hint,
      },
    });
    return undefined;
  }
}
