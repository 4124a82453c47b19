import type { Drawing } from "@busy-harbor/core";
import { refuse } from "./problem.ts";

export type DrawingFormat = Drawing["format"];

/** Largest file taken, in bytes. */
export const MOST_BYTES = 40 * 2 ** 20;

const starts = (bytes: Uint8Array, text: string, from = 0) =>
  [...text].every((c, i) => bytes[from + i] === c.charCodeAt(0));

/** First bytes of formats that only their makers' programs read, or that are no drawings. */
const CLOSED: ReadonlyArray<readonly [start: string, name: string]> = [
  ["AC10", "a drawing in a closed format"],
  ["%PDF", "a PDF file"],
  ["\xD0\xCF\x11\xE0", "a file in a closed format"],
  ["PK", "a packed file"],
  ["GIF8", "a GIF picture"],
  ["RIFF", "a picture in a format that is not read here"],
  ["II*", "a TIFF picture"],
  ["MM\0*", "a TIFF picture"],
  ["BM", "a bitmap picture"],
];

/**
 * What a file is, by its content, whatever it is called. Throws a `DrawingProblem` with a reason when it is no
 * drawing that can be read.
 */
export function formatOf(bytes: Uint8Array): DrawingFormat {
  if (bytes.length === 0) return refuse("The file is empty.", "Choose another file.");
  if (bytes.length > MOST_BYTES)
    return refuse(
      `The file has ${Math.ceil(bytes.length / 2 ** 20)} MB; at most ${MOST_BYTES / 2 ** 20} MB are taken.`,
      "Leave out layers that the plan does not need, and save it again.",
    );
  if (starts(bytes, "\x89PNG\r\n\x1a\n")) return "png";
  if (bytes[0] === 0xff && bytes[1] === 0xd8 && bytes[2] === 0xff) return "jpeg";
  // The name of its first maker comes before these words.
  if (starts(bytes, " Binary DXF\r\n", 7)) return refuse("This is a binary DXF file.");
  for (const [start, name] of CLOSED) if (starts(bytes, start)) return refuse(`This is ${name}.`);
  const head = new TextDecoder("utf-8").decode(bytes.subarray(0, 4096)).replace(/^\uFEFF/, "");
  if (
    /^\s*(<\?xml[^>]*>\s*)?(<!--[\s\S]*?-->\s*|<!DOCTYPE[^>[]*>\s*)*<svg[\s>]/i.test(head) ||
    (/^\s*</.test(head) && /<svg[\s>]/i.test(head))
  )
    return "svg";
  // A DXF file is lines in pairs, a code and a value; it begins with a section or a comment.
  if (/^\s*(999\s*\r?\n[^\n]*\r?\n\s*)*0\s*\r?\n\s*SECTION\b/.test(head)) return "dxf";
  return refuse("This is not a drawing that can be read here.");
}
