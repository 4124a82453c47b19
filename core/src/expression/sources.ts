import type { Checked } from "./check.ts";
import type { Source } from "./scope.ts";

/** What a checked expression reads of a running model, each as often as it is named. */
export function sourcesOf(checked: Checked): Source[] {
  const sources: Source[] = [];
  const nothing = () => Number.NaN;
  checked.compile({
    reader(source) {
      sources.push(source);
      return nothing;
    },
    random: () => ({ uniform: () => nothing, exponential: () => nothing }),
  });
  return sources;
}
