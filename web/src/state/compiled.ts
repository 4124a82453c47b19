import { type Compilation, compile, type Study } from "@busy-harbor/core";
import { useEffect, useMemo, useState } from "react";
import { useStudy } from "./study.ts";

const cache = new WeakMap<Study, Map<string, Compilation>>();
let last: Study | undefined;

/** Parts of a study of which no model is made. */
const NOT_COMPILED: ReadonlySet<string> = new Set(["name", "question", "frame", "comparison", "experiments"]);

const isSameModel = (a: Study, b: Study): boolean =>
  [...new Set([...Object.keys(a), ...Object.keys(b)] as (keyof Study)[])].every(
    (part) => NOT_COMPILED.has(part) || a[part] === b[part],
  );

/** The compilation of a design; the same object while what it is made of is the same. */
export function compiled(study: Study, designId: string): Compilation {
  let byDesign = cache.get(study);
  if (!byDesign) {
    byDesign = (last && isSameModel(last, study) && cache.get(last)) || new Map<string, Compilation>();
    cache.set(study, byDesign);
  }
  last = study;
  let compilation = byDesign.get(designId);
  if (!compilation) byDesign.set(designId, (compilation = compile(study, designId)));
  return compilation;
}

/** Designs of more elements are compiled when changes pause, so that dragging and typing never wait for it. */
const AT_ONCE = 150;
const PAUSE = 200;

/** The compilation of the design on screen; of a large one, as it was at the last pause. */
export function useCompiled(): Compilation | undefined {
  const study = useStudy((s) => s.history?.present);
  const designId = useStudy((s) => s.designId);
  const [settled, setSettled] = useState(study);
  const design = study?.designs.find((d) => d.id === designId);
  const large = (design?.elements.length ?? 0) > AT_ONCE;
  const waits = large && settled?.designs.some((d) => d.id === designId);
  useEffect(() => {
    if (!large) return;
    const timer = setTimeout(() => setSettled(study), waits ? PAUSE : 0);
    return () => clearTimeout(timer);
  }, [study, large, waits]);
  const shown = waits ? settled : study;
  return useMemo(
    () => (shown && shown.designs.some((d) => d.id === designId) ? compiled(shown, designId) : undefined),
    [shown, designId],
  );
}
