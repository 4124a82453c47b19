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
  /** How many numbers each stream that was asked for has given in this replication. */
  draws(): ReadonlyMap<number, number>;
  /**
   * Takes all streams to the start of another replication; mirrored, to that of its antithetic one (Hammersley and
   * Morton 1956), which draws 1 - u where it draws u.
   */
  begin(seed: number, replication: number, mirrored?: boolean): void;
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

/** What a stream has of its own: a seed in place of the run's, and whether every replication meets the same numbers. */
export type OwnStreams = ReadonlyMap<number, { readonly seed: number | null; readonly again: boolean }>;

const NONE: OwnStreams = new Map();

/** The substream that all replications have of a stream that is to be the same in each. */
const FIRST = substreamJump(1);

export function openStreams(seed: number, replication: number, own: OwnStreams = NONE): Streams {
  let jump = substreamJump(replication);
  let isMirrored = false;
  const open = new Map<number, RandomStream>();
  const seedStream = (stream: RandomStream, number: number) => {
    const of = own.get(number);
    stream.seed(applyJump(of?.again ? FIRST : jump, startOf(of?.seed ?? seed, number)), isMirrored && !of?.again);
  };
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
    draws: () => new Map([...open].map(([number, stream]) => [number, stream.draws])),
    begin(newSeed, newReplication, mirrored = false) {
      isMirrored = mirrored;
      seed = newSeed;
      jump = substreamJump(newReplication);
      open.forEach(seedStream);
    },
  };
}
