import type { EntityType } from "@busy-harbor/core";
import { useEffect, useState } from "react";
import { api } from "../api/client.ts";
import { cleanSvg, drawSvg } from "../drawings/svg.ts";
import type { Look } from "./symbols/entities.ts";

/** Longer edge that an entity's picture is kept at, in pixels. */
const PIXELS = 96;

const kept = new Map<string, Promise<ImageBitmap | undefined>>();

async function load({ file, format }: NonNullable<EntityType["picture"]>): Promise<ImageBitmap | undefined> {
  try {
    const bytes = await api.file(file);
    const whole = format === "svg" ? await drawSvg(cleanSvg(new TextDecoder().decode(bytes))) : await createImageBitmap(new Blob([bytes], { type: `image/${format}` }));
    const scale = PIXELS / Math.max(whole.width, whole.height);
    return await createImageBitmap(whole, { resizeWidth: Math.max(1, Math.round(whole.width * scale)), resizeHeight: Math.max(1, Math.round(whole.height * scale)), resizeQuality: "high" });
  } catch {
    // Shown as a plain parcel; the card of the type says that its file is missing.
    return undefined;
  }
}

/** The looks of entity types, with their pictures once these have come. */
export function usePictures(types: readonly EntityType[]): readonly Look[] {
  const [looks, setLooks] = useState<readonly Look[]>(types);
  useEffect(() => {
    setLooks(types);
    let gone = false;
    const wanted = types.map(({ look, picture }) => {
      if (look !== "picture" || !picture) return undefined;
      if (!kept.has(picture.file)) kept.set(picture.file, load(picture));
      return kept.get(picture.file);
    });
    if (wanted.some(Boolean)) void Promise.all(wanted).then((images) => !gone && setLooks(types.map(({ look }, i) => ({ look, image: images[i] }))));
    return () => {
      gone = true;
    };
  }, [types]);
  return looks;
}
