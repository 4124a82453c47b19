import { readStudyText, type Study } from "@busy-harbor/core";

/** What a tab had not saved of a study, and from which revision it was made. */
export interface Draft {
  /** Where it is kept. */
  readonly key: string;
  readonly revision: number;
  readonly study: Study;
}

const PREFIX = "busy-harbor-draft-";
const TAB = "busy-harbor-tab";
const keyOf = (studyId: string, tab: string): string => `${PREFIX}${studyId}-${tab}`;

let tab: Promise<string> | undefined;
let tabNow = "";

/**
 * Name of this tab. It holds a lock of that name as long as it lives, so that others can tell whose drafts are left
 * over.
 */
function ownTab(): Promise<string> {
  tab ??= nameTab();
  return tab;
}

async function nameTab(): Promise<string> {
  const session = globalThis.sessionStorage as Storage | undefined;
  const locks = globalThis.navigator?.locks as LockManager | undefined;
  const hold = (name: string) =>
    new Promise<boolean>((resolve) => {
      if (!locks) return resolve(true);
      // Held until the tab is gone, as the promise never settles.
      void locks.request(`${TAB}-${name}`, { ifAvailable: true }, (lock) => {
        resolve(lock !== null);
        return lock ? new Promise<void>(() => undefined) : undefined;
      });
    });
  // A tab that was reloaded has its name already; one that was duplicated has the name of another.
  const before = session?.getItem(TAB);
  tabNow = before && (await hold(before)) ? before : crypto.randomUUID();
  if (tabNow !== before) await hold(tabNow);
  session?.setItem(TAB, tabNow);
  return tabNow;
}

/** Keeps what this tab has not saved yet. */
export function keepDraft(studyId: string, revision: number, study: Study): void {
  if (!tabNow) return;
  try {
    localStorage.setItem(
      keyOf(studyId, tabNow),
      JSON.stringify({ revision, at: Date.now(), text: JSON.stringify(study) }),
    );
  } catch {
    // No room in this browser: the server's copy, saved within a second, must do.
  }
}

/** This tab has saved all; drafts of other tabs stay theirs. */
export function dropDraft(studyId: string): void {
  if (tabNow) localStorage.removeItem(keyOf(studyId, tabNow));
}

/**
 * Drafts of a study that nobody is at work on: this tab's own from before it was reloaded, then those that closed
 * tabs left behind, the latest first.
 */
export async function leftDrafts(studyId: string): Promise<Draft[]> {
  const own = keyOf(studyId, await ownTab());
  const held = await globalThis.navigator?.locks?.query().catch(() => undefined);
  const alive = new Set((held?.held ?? []).map(({ name }) => name));
  const keys = Array.from({ length: localStorage.length }, (_, i) => localStorage.key(i) ?? "").filter((key) =>
    key.startsWith(PREFIX + studyId),
  );
  const found = keys.flatMap((key): (Draft & { at: number })[] => {
    const whose = key.slice((PREFIX + studyId).length + 1);
    if (key !== own && alive.has(`${TAB}-${whose}`)) return [];
    const draft = readDraft(key);
    return draft ? [draft] : [];
  });
  return found.sort((a, b) => Number(b.key === own) - Number(a.key === own) || b.at - a.at);
}

/** Takes over a draft that a closed tab left behind. */
export function adoptDraft(studyId: string, { key, revision, study }: Draft): void {
  if (key === keyOf(studyId, tabNow)) return;
  keepDraft(studyId, revision, study);
  localStorage.removeItem(key);
}

export const discardDraft = ({ key }: Draft): void => localStorage.removeItem(key);

function readDraft(key: string): (Draft & { at: number }) | undefined {
  try {
    const { revision, at, text } = JSON.parse(localStorage.getItem(key) ?? "") as {
      revision: unknown;
      at?: unknown;
      text: unknown;
    };
    const read = readStudyText(String(text));
    return read.ok && typeof revision === "number"
      ? { key, revision, at: Number(at) || 0, study: read.study }
      : undefined;
  } catch {
    return undefined;
  }
}
