import type { Problem } from "@busy-harbor/core";
import type { SearchRead } from "@busy-harbor/core/experiments";

/** A study as it is kept: its text without designs, each design's text, and the files that came with it. */
export interface PreparedStudy {
  readonly name: string;
  readonly header: string;
  readonly designs: readonly { readonly id: string; readonly name: string; readonly body: string }[];
  readonly files: readonly { readonly id: string; readonly bytes: Uint8Array }[];
}

/** What the thread that reads documents answers: what was asked for, or why that cannot be. */
export type Read<T> =
  | { readonly ok: true; readonly value: T }
  | {
      readonly ok: false;
      readonly status: number;
      readonly type: string;
      readonly title: string;
      readonly problems?: readonly Problem[];
    };

export interface PreparedSave {
  readonly revision: number;
  readonly study: PreparedStudy;
}

/** What a run needs that is made from the study once, before it is queued. */
export interface PreparedRun {
  readonly designName: string;
  readonly fingerprint: string;
  readonly settings: string;
  /** The study file with the one design that runs, and its hash. */
  readonly snapshot: string;
  readonly documentId: string;
  readonly measures: string;
}

/** A run of a scenario, with the values of its factors as they are told. */
export interface PreparedScenario extends PreparedRun {
  readonly designId: string;
  readonly factors: Readonly<Record<string, string>>;
  readonly name: string;
}

/** A search, and the study as it was when it began. */
export interface PreparedSearch {
  readonly text: string;
  readonly hash: string;
  readonly search: SearchRead;
  readonly measure: string;
  readonly bounded: string | null;
}

/** The text of a study file from its parts as they are kept. */
export const joined = (header: string, designs: readonly string[]): string =>
  `${header.slice(0, -1)},"designs":[${designs.join(",")}]}`;
