import type { Element, EntityType } from "@busy-harbor/core";
import { api } from "../api/client.ts";
import { svgReader } from "../drawings/svgReader.ts";
import { useView } from "./viewStore.ts";

type Picture = NonNullable<EntityType["picture"]> | NonNullable<Element["picture"]>;

/** Loads a picture with its longer edge at so many pixels; undefined where its file is missing or broken. */
export async function loadPicture(
  { file, format }: Pick<Picture, "file" | "format">,
  pixels: number,
): Promise<ImageBitmap | undefined> {
  try {
    const bytes = await api.file(file);
    const whole =
      format === "svg"
        ? await svgReader().then(({ cleanSvg, drawSvg }) => drawSvg(cleanSvg(new TextDecoder().decode(bytes))))
        : await createImageBitmap(new Blob([bytes], { type: `image/${format}` }));
    const scale = pixels / Math.max(whole.width, whole.height);
    return await createImageBitmap(whole, {
      resizeWidth: Math.max(1, Math.round(whole.width * scale)),
      resizeHeight: Math.max(1, Math.round(whole.height * scale)),
      resizeQuality: "high",
    });
  } catch {
    return undefined;
  }
}

/** Longer edge that an element's picture is kept at, in pixels. */
const PIXELS = 512;

/**
 * What is known of pictures of elements by their files: nothing while one is on its way, null where it cannot be had.
 */
const known = new Map<string, ImageBitmap | null | undefined>();

/** An element's picture, if it is here; else it is fetched, and the floor drawn again when it comes. */
export function pictureOf({ picture }: Pick<Element, "picture">): ImageBitmap | undefined {
  if (!picture) return undefined;
  if (!known.has(picture.file)) {
    known.set(picture.file, undefined);
    void loadPicture(picture, PIXELS).then((image) => {
      known.set(picture.file, image ?? null);
      useView.setState(({ view }) => ({ view: { ...view } }));
    });
  }
  return known.get(picture.file) ?? undefined;
}

/** Height over width of an element's picture; 1 until it is here. */
export function aspectOf({ picture }: Pick<Element, "picture">): number {
  const image = picture && known.get(picture.file);
  return image ? image.height / image.width : 1;
}
