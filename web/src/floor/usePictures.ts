import type { EntityType } from "@busy-harbor/core";
import { useEffect, useState } from "react";
import { loadPicture } from "./pictures.ts";
import type { Look } from "./symbols/entities.ts";

/** Longer edge that an entity's picture is kept at, in pixels. */
const PIXELS = 96;

/** One that cannot be had is shown as a plain parcel; the card of the type says that its file is missing. */
const kept = new Map<string, Promise<ImageBitmap | undefined>>();

/** The looks of entity types, with their pictures once these have come. */
export function usePictures(types: readonly EntityType[]): readonly Look[] {
  const [looks, setLooks] = useState<readonly Look[]>(types);
  useEffect(() => {
    setLooks(types);
    let gone = false;
    const wanted = types.map(({ look, picture }) => {
      if (look !== "picture" || !picture) return undefined;
      if (!kept.has(picture.file)) kept.set(picture.file, loadPicture(picture, PIXELS));
      return kept.get(picture.file);
    });
    if (wanted.some(Boolean))
      void Promise.all(wanted).then(
        (images) => !gone && setLooks(types.map(({ look }, i) => ({ look, image: images[i] }))),
      );
    return () => {
      gone = true;
    };
  }, [types]);
  return looks;
}
