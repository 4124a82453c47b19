import { proxy, transfer, type Remote, wrap } from "comlink";
import { create } from "zustand";
import { api } from "../api/client.ts";
import type { DrawingWorker, FileInfo, Opened } from "./drawing.worker.ts";
import { formatOf } from "./format.ts";
import { DrawingProblem } from "./problem.ts";
import { svgReader } from "./svgReader.ts";

export type FileState =
  | { readonly state: "reading" }
  | { readonly state: "ready"; readonly info: FileInfo }
  | { readonly state: "broken"; readonly message: string; readonly hint: string };

interface DrawingFiles {
  /** What is known of each drawing's file, by its id. */
  readonly files: Readonly<Record<string, FileState>>;
}

export const useDrawingFiles = create<DrawingFiles>(() => ({ files: {} }));

const setFile = (id: string, state: FileState | undefined) =>
  useDrawingFiles.setState(({ files: { [id]: _, ...others } }) => ({
    files: state ? { ...others, [id]: state } : others,
  }));

/** Longest time that reading a file may take, in ms. */
const MOST_TIME = 120_000;

interface Thread {
  readonly worker: Worker;
  readonly remote: Remote<DrawingWorker>;
  /** Rejects when the thread is ended, as its answers then never come. */
  readonly ended: Promise<never>;
  readonly end: (ended: ThreadEnded) => void;
}

/** What those hear who wait for a thread that was ended because of another's file. */
class ThreadEnded extends Error {}

let thread: Thread | undefined;

function startThread(): Thread {
  const worker = new Worker(new URL("./drawing.worker.ts", import.meta.url), { type: "module" });
  let end: Thread["end"] = () => undefined;
  const ended = new Promise<never>((_, reject) => (end = reject));
  // Each who waits hears of it; nobody may be waiting.
  ended.catch(() => undefined);
  return { worker, remote: wrap<DrawingWorker>(worker), ended, end };
}

/** Has the thread that reads and paints drawings do something. Throws when the thread is ended meanwhile. */
export function inDrawingThread<T>(work: (remote: Remote<DrawingWorker>) => Promise<T>): Promise<T> {
  thread ??= startThread();
  return Promise.race([work(thread.remote), thread.ended]);
}

/** Ends the thread, whatever it is doing; the drawings that were open are read again when next shown. */
function endThread(): void {
  thread?.worker.terminate();
  thread?.end(new ThreadEnded("Reading the file was interrupted."));
  thread = undefined;
  useDrawingFiles.setState({ files: {} });
}

export const sha256 = async (bytes: Uint8Array<ArrayBuffer>): Promise<string> =>
  [...new Uint8Array(await crypto.subtle.digest("SHA-256", bytes))]
    .map((b) => b.toString(16).padStart(2, "0"))
    .join("");

async function readSvg(id: string, bytes: Uint8Array): Promise<FileInfo> {
  const { cleanSvg, drawSvg } = await svgReader();
  const clean = cleanSvg(new TextDecoder().decode(bytes));
  const image = await drawSvg(clean);
  await inDrawingThread((remote) => remote.keep(id, transfer(image, [image]), clean.width, clean.height));
  return { format: "svg", width: clean.width, height: clean.height, unit: undefined, layers: [], lines: 0, notes: [] };
}

/**
 * Reads a drawing's file, off this thread. Throws a `DrawingProblem` with the reason when it cannot be read, takes
 * too long, or `signal` stops it.
 */
export async function openFile(
  id: string,
  bytes: Uint8Array<ArrayBuffer>,
  signal?: AbortSignal,
  onProgress: (share: number) => void = () => {},
): Promise<FileInfo> {
  if (formatOf(bytes) === "svg") return await readSvg(id, bytes);
  let late = false;
  const stop = () => endThread();
  const timer = setTimeout(() => {
    late = true;
    endThread();
  }, MOST_TIME);
  signal?.addEventListener("abort", stop);
  try {
    const opened = await inDrawingThread<Opened>((remote) => remote.open(id, bytes, proxy(onProgress)));
    if (!opened.ok) throw new DrawingProblem(opened.message, opened.hint);
    return opened.info;
  } catch (error) {
    if (late)
      throw new DrawingProblem(
        "Reading the file takes too long.",
        "Leave out layers that the plan does not need, and save it again.",
      );
    throw error;
  } finally {
    clearTimeout(timer);
    signal?.removeEventListener("abort", stop);
  }
}

export const fileRead = (id: string, info: FileInfo): void => setFile(id, { state: "ready", info });

/** Fetches and reads the file of a drawing unless that is done or under way. */
export async function ensureFile(id: string): Promise<void> {
  if (useDrawingFiles.getState().files[id]) return;
  setFile(id, { state: "reading" });
  try {
    fileRead(id, await openFile(id, await api.file(id)));
  } catch (error) {
    // Ended because of another file: this one is read again.
    if (error instanceof ThreadEnded) setFile(id, undefined);
    else if (error instanceof DrawingProblem)
      setFile(id, { state: "broken", message: error.message, hint: error.hint });
    else
      setFile(id, {
        state: "broken",
        message: "The drawing's file is not there.",
        hint: "Delete the drawing and add its file again.",
      });
  }
}

/** Tries again to read what could not be read. */
export function readAgain(id: string): void {
  setFile(id, undefined);
  void ensureFile(id);
}
