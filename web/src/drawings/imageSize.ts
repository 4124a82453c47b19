import { refuse } from "./problem.ts";

/** Most pixels of a picture: above that, opening it may take all of the machine's memory. */
const MOST_PIXELS = 120e6;

export interface PixelSize {
  readonly width: number;
  readonly height: number;
}

/**
 * Width and height of a PNG or JPEG from its head, without opening it. Throws a `DrawingProblem` for broken or huge
 * ones.
 */
export function imageSize(bytes: Uint8Array, format: "png" | "jpeg"): PixelSize {
  const size = format === "png" ? pngSize(bytes) : jpegSize(bytes);
  if (!size || size.width === 0 || size.height === 0)
    return refuse("The picture is broken: its size cannot be read.", "Save it again with the program that made it.");
  if (size.width * size.height > MOST_PIXELS)
    return refuse(
      `The picture has ${size.width} by ${size.height} pixels; at most ${MOST_PIXELS / 1e6} million are taken.`,
      "Make it smaller and save it again.",
    );
  return size;
}

/** The header chunk follows the signature at once (ISO/IEC 15948, 5.6). */
function pngSize(bytes: Uint8Array): PixelSize | undefined {
  if (bytes.length < 33) return undefined;
  const view = new DataView(bytes.buffer, bytes.byteOffset);
  return view.getUint32(12) === 0x49484452 ? { width: view.getUint32(16), height: view.getUint32(20) } : undefined;
}

/** The first frame header holds the size (ISO/IEC 10918-1, B.2.2). */
function jpegSize(bytes: Uint8Array): PixelSize | undefined {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  let at = 2;
  while (at + 9 < bytes.length) {
    if (bytes[at] !== 0xff) return undefined;
    const marker = bytes[at + 1];
    if (marker === 0xff) {
      at += 1;
      continue;
    }
    const frame = marker >= 0xc0 && marker <= 0xcf && marker !== 0xc4 && marker !== 0xc8 && marker !== 0xcc;
    if (frame) return { height: view.getUint16(at + 5), width: view.getUint16(at + 7) };
    at += 2 + view.getUint16(at + 2);
  }
  return undefined;
}
