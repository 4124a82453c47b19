import { type Compilation, compile, type Study } from "@busy-harbor/core";
import { useMemo } from "react";
import { useStudy } from "./study.ts";

const cache = new WeakMap<Study, Map<string, Compilation>>();

/** The compilation of a design; the same object while the study is the same. */
export function compiled(study: Study, designId: string): Compilation {
  let byDesign = cache.get(study);
  if (!byDesign) cache.set(study, (byDesign = new Map()));
  let compilation = byDesign.get(designId);
  if (!compilation) byDesign.set(designId, (compilation = compile(study, designId)));
  return compilation;
}

/** The compilation of the design on screen. */
export function useCompiled(): Compilation | undefined {
  const study = useStudy((s) => s.history?.present);
  const designId = useStudy((s) => s.designId);
  return useMemo(() => (study && study.designs.some((d) => d.id === designId) ? compiled(study, designId) : undefined), [study, designId]);
}
