import type { Drawing } from "@busy-harbor/core";
import { expose, transfer } from "comlink";
import type { Size, View } from "../floor/view.ts";
import { readDxf } from "./dxf/readDxf.ts";
import { type DrawingFormat, formatOf } from "./format.ts";
import { imageSize } from "./imageSize.ts";
import type { LayerInfo } from "./lineDrawing.ts";
import { type Content, type Page, paintDrawing } from "./paint.ts";
import { DrawingProblem } from "./problem.ts";

/** What the page knows of a drawing's file once it is read. */
export interface FileInfo {
  readonly format: DrawingFormat;
  /** Extent in the drawing's unit; pixels of a picture. */
  readonly width: number;
  readonly height: number;
  readonly unit: number | undefined;
  readonly layers: readonly LayerInfo[];
  readonly lines: number;
  readonly notes: readonly string[];
}

/** An error on its way to the page, which keeps no classes. */
export type Opened =
  | { readonly ok: true; readonly info: FileInfo }
  | { readonly ok: false; readonly message: string; readonly hint: string };

const contents = new Map<string, Content>();

async function read(bytes: Uint8Array, onProgress: (share: number) => void): Promise<[Content, FileInfo]> {
  const format = formatOf(bytes);
  switch (format) {
    case "dxf": {
      // Older files are in the code page of their system, newer ones in UTF-8.
      const text = decode(bytes);
      const lines = readDxf(text, onProgress);
      const { width, height, unit, layers, notes } = lines;
      return [
        { kind: "lines", lines },
        { format, width, height, unit, layers, notes, lines: layers.reduce((sum, l) => sum + l.count, 0) },
      ];
    }
    case "png":
    case "jpeg": {
      const size = imageSize(bytes, format);
      const image = await createImageBitmap(new Blob([bytes.slice().buffer], { type: `image/${format}` })).catch(() => {
        throw new DrawingProblem("The picture is broken or cut off.", "Save it again with the program that made it.");
      });
      return [
        { kind: "picture", image, ...size },
        { format, ...size, unit: undefined, layers: [], notes: [], lines: 0 },
      ];
    }
    case "svg":
      throw new DrawingProblem("An SVG is drawn by the page.", "");
  }
}

function decode(bytes: Uint8Array): string {
  try {
    return new TextDecoder("utf-8", { fatal: true }).decode(bytes);
  } catch {
    return new TextDecoder("windows-1252").decode(bytes);
  }
}

const worker = {
  /** Reads a file and keeps it for painting under `id`. `onProgress` is told which share has been read. */
  async open(id: string, bytes: Uint8Array, onProgress: (share: number) => void): Promise<Opened> {
    try {
      const [content, info] = await read(bytes, onProgress);
      contents.set(id, content);
      return { ok: true, info };
    } catch (error) {
      if (error instanceof DrawingProblem) return { ok: false, message: error.message, hint: error.hint };
      return {
        ok: false,
        message: "The file cannot be read.",
        hint: "It may be broken, or too large for this machine's memory.",
      };
    }
  },

  /** Keeps a picture that the page has drawn from a file. */
  keep(id: string, image: ImageBitmap, width: number, height: number): void {
    contents.set(id, { kind: "picture", image, width, height });
  },

  /** The drawings, the lowest first, as a picture of the floor seen so. */
  paint(drawings: readonly Drawing[], view: View, size: Size, ratio: number, page: Page): ImageBitmap {
    const canvas = new OffscreenCanvas(
      Math.max(1, Math.round(size.width * ratio)),
      Math.max(1, Math.round(size.height * ratio)),
    );
    const ctx = canvas.getContext("2d")!;
    ctx.setTransform(ratio, 0, 0, ratio, 0, 0);
    for (const drawing of drawings) {
      const content = contents.get(drawing.file);
      if (content) paintDrawing(ctx, drawing, content, view, size, page);
    }
    const image = canvas.transferToImageBitmap();
    return transfer(image, [image]);
  },
};

export type DrawingWorker = typeof worker;
expose(worker);
