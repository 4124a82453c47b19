import {
  LAST_STREAM,
  type RandomSource,
  streamSettingsSchema,
  type StreamSettings,
  type Study,
} from "@busy-harbor/core";

/** What a study says of a stream; nothing of its own, where it says nothing. */
export const settingsOf = (study: Study, stream: number): StreamSettings =>
  study.streams.find((s) => s.stream === stream) ?? streamSettingsSchema.parse({ stream });

/** Changes what a draft of the study says of a stream; what says nothing more is taken out. */
export function setStream(draft: Study, stream: number, change: Partial<StreamSettings>): void {
  const now = { ...settingsOf(draft, stream), ...change };
  draft.streams = draft.streams.filter((s) => s.stream !== stream);
  if (now.name !== "" || now.seed !== null || now.again) draft.streams.push(now);
}

/** Lets a source draw from another stream: one of its own, or one that it shares. */
export function setNumber(draft: Study, { path }: RandomSource, stream: number): void {
  let holder = draft as unknown as Record<string | number, unknown>;
  for (const step of path.slice(0, -1)) holder = holder[step] as Record<string | number, unknown>;
  holder[path[path.length - 1]] = stream;
}

/** A whole number that a stream or a seed may be; undefined where the text is none. */
export function readWhole(text: string): number | undefined {
  const number = Number(text);
  return text.trim() !== "" && Number.isInteger(number) && number >= 0 && number <= LAST_STREAM ? number : undefined;
}

/** Holds the numbers of some sources the same in every replication, and has all others draw new ones. */
export function hold(draft: Study, sources: readonly RandomSource[], which: (source: RandomSource) => boolean): void {
  for (const { stream } of [...draft.streams]) setStream(draft, stream, { again: false });
  // A stream that is shared is held where one of those who share it is.
  for (const source of sources) if (which(source)) setStream(draft, source.stream, { again: true });
}
