import { type Study, writeStudy } from "@busy-harbor/core";
import { api } from "../api/client.ts";

/** The text of a study's file with the files of its drawings in it, so that it can be opened anywhere. */
export async function wholeStudyText(study: Study): Promise<string> {
  const files: Record<string, string> = {};
  const pictures = study.designs.flatMap((d) =>
    d.displays.flatMap((display) => (display.kind === "picture" ? [display] : [])),
  );
  const looks = study.designs.flatMap((d) => d.entityTypes.flatMap((t) => t.picture ?? []));
  const elements = study.designs.flatMap((d) => d.elements.flatMap((e) => e.picture ?? []));
  for (const { file } of [...study.drawings, ...pictures, ...looks, ...elements])
    files[file] ??= await toBase64(await api.file(file));
  return writeStudy({ ...study, files });
}

function toBase64(bytes: Uint8Array<ArrayBuffer>): Promise<string> {
  return new Promise((resolve, reject) => {
    const reader = new FileReader();
    reader.onload = () => resolve(String(reader.result).replace(/^[^,]*,/, ""));
    reader.onerror = () => reject(reader.error ?? new Error("A drawing's file could not be read."));
    reader.readAsDataURL(new Blob([bytes]));
  });
}
