import type { Design } from "@busy-harbor/core";
import { useEffect, useState } from "react";
import { useSameSet } from "../../ui/useSameSet.ts";
import { changes } from "../changes.ts";
import { NOTHING } from "../scene.ts";

/** Milliseconds without a change after which what has changed rests again. */
const RESTED = 700;
/** Most things that may be apart before all is drawn anew. */
const MOST_APART = 400;

/**
 * A design in two parts: as it was when it last rested, and which of its elements and links have changed since, as by
 * being dragged or typed about; so that what rests need not be drawn again for every step.
 */
export function useResting(design: Design): { readonly rested: Design; readonly apart: ReadonlySet<string> } {
  const [resting, setResting] = useState(design);
  const changed = resting === design ? NOTHING : changes(resting, design);
  const isSame = changed !== undefined && changed.size <= MOST_APART;
  // Another design, or more or fewer elements: all of it rests as it is now.
  if (!isSame) setResting(design);
  useEffect(() => {
    if (resting === design) return;
    const rest = setTimeout(() => setResting(design), RESTED);
    return () => clearTimeout(rest);
  }, [resting, design]);
  const apart = useSameSet(isSame ? changed : NOTHING);
  return { rested: isSame ? resting : design, apart };
}
