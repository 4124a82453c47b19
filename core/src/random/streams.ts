import { applyJump, type SeedWords, seedWords, streamJump, substreamJump, uniformSource } from "./mrg32k3a.ts";

/**
 * The random streams of one replication. Stream `s` of replication `r` is
 * substream `r` of stream `s`, so every place that draws keeps its own numbers
 * whatever else changes in the model.
 */
export interface Streams {
  /** The one source of uniforms of stream `stream`; the same function on every call. */
  uniform(stream: number): () => number;
}

const streamStarts = new Map<string, SeedWords>();

function startOf(seed: number, stream: number): SeedWords {
  const key = `${seed}/${stream}`;
  let start = streamStarts.get(key);
  if (!start) {
    start = applyJump(streamJump(stream), seedWords(seed));
    if (streamStarts.size > 20_000) streamStarts.clear();
    streamStarts.set(key, start);
  }
  return start;
}

export function openStreams(seed: number, replication: number): Streams {
  const jump = substreamJump(replication);
  const open = new Map<number, () => number>();
  return {
    uniform(stream) {
      let source = open.get(stream);
      if (!source) {
        source = uniformSource(applyJump(jump, startOf(seed, stream)));
        open.set(stream, source);
      }
      return source;
    },
  };
}
