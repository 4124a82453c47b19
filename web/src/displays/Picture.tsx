import { useEffect, useState } from "react";
import { api } from "../api/client.ts";
import { svgReader } from "../drawings/svgReader.ts";

/** A picture from a study's file. As an image it can run and fetch nothing, whatever is in it. */
export function Picture({
  file,
  format,
  width,
  title,
}: {
  file: string;
  format: "svg" | "png" | "jpeg";
  width: number;
  title: string;
}) {
  const [url, setUrl] = useState<string>();
  const [missing, setMissing] = useState(false);
  useEffect(() => {
    let made: string | undefined;
    let gone = false;
    api
      .file(file)
      .then(async (bytes) => {
        const content = format === "svg" ? (await svgReader()).cleanSvg(new TextDecoder().decode(bytes)).text : bytes;
        if (gone) return;
        made = URL.createObjectURL(
          new Blob([content], { type: format === "svg" ? "image/svg+xml" : `image/${format}` }),
        );
        setUrl(made);
      })
      .catch(() => !gone && setMissing(true));
    return () => {
      gone = true;
      if (made) URL.revokeObjectURL(made);
    };
  }, [file, format]);
  if (missing) return <p className="text-xs text-buoy-deep">The picture's file is not there.</p>;
  return url ? (
    <img src={url} alt={title || "Picture"} draggable={false} style={{ width }} />
  ) : (
    <p className="text-xs text-soft">…</p>
  );
}
