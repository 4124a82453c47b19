import { applyJump, type SeedWords, seedWords, streamJump, substreamJump } from "./mrg32k3a.ts";
import { RandomStream } from "./randomStream.ts";

/**
 * The random streams of one replication. Stream `s` of replication `r` is
 * substream `r` of stream `s`, so every place that draws keeps its own numbers
 * whatever else changes in the model.
 */
export interface Streams {
  /** The stream of that number; the same on every call. */
  stream(number: number): RandomStream;
  /** Takes all streams to the start of another replication. */
  begin(seed: number, replication: number): void;
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
  let jump = substreamJump(replication);
  const open = new Map<number, RandomStream>();
  const seedStream = (stream: RandomStream, number: number) => stream.seed(applyJump(jump, startOf(seed, number)));
  return {
    stream(number) {
      let stream = open.get(number);
      if (!stream) {
        stream = new RandomStream();
        seedStream(stream, number);
        open.set(number, stream);
      }
      return stream;
    },
    begin(newSeed, newReplication) {
      seed = newSeed;
      jump = substreamJump(newReplication);
      open.forEach(seedStream);
    },
  };
}
