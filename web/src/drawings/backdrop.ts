import type { Drawing } from "@busy-harbor/core";
import { create } from "zustand";
import { COLOURS } from "../floor/colours.ts";
import type { Size, View } from "../floor/view.ts";
import { inDrawingThread } from "./files.ts";
import type { Page } from "./paint.ts";

/** The drawings as one picture of the floor, seen from `view` on a screen of `size`. */
export interface Backdrop {
  readonly image: ImageBitmap;
  readonly view: View;
  readonly size: Size;
}

interface Wish {
  readonly drawings: readonly Drawing[];
  /** Changes when a file has been read. */
  readonly files: unknown;
  readonly view: View;
  readonly size: Size;
  readonly page: Page;
}

export const useBackdrop = create<{ backdrop: Backdrop | undefined }>(() => ({ backdrop: undefined }));

/** The picture reaches beyond the screen by this share of it on every side, so that panning finds it painted. */
const BEYOND = 0.5;
/** Most pixels of the picture, in all. */
const MOST_PIXELS = 24e6;

let wish: Wish | undefined;
let painted: Wish | undefined;
let painting = false;

/** Whether what was painted for one wish still serves another. */
function serves(done: Wish, now: Wish): boolean {
  const near = (a: number, b: number, room: number) => Math.abs(a - b) * now.view.scale < room * BEYOND * 0.7;
  return (
    done.drawings === now.drawings &&
    done.files === now.files &&
    done.page.ink === now.page.ink &&
    done.view.scale === now.view.scale &&
    done.size.width === now.size.width &&
    done.size.height === now.size.height &&
    near(done.view.x, now.view.x, now.size.width) &&
    near(done.view.y, now.view.y, now.size.height)
  );
}

/**
 * Has the drawings painted as they are wanted, one picture after another on the drawings' thread; until then the last
 * one is shown.
 */
export function wantBackdrop(drawings: readonly Drawing[], files: unknown, view: View, size: Size): void {
  if (size.width === 0) return;
  if (drawings.length === 0) {
    wish = painted = undefined;
    if (useBackdrop.getState().backdrop) show(undefined);
    return;
  }
  // Nothing of another study may be seen while this one's is being painted.
  if (painted && !painted.drawings.some((old) => drawings.some((d) => d.id === old.id))) show(undefined);
  wish = { drawings, files, view, size, page: { ink: COLOURS.ink, paper: COLOURS.paper } };
  if (!painting) void paint();
}

async function paint(): Promise<void> {
  painting = true;
  try {
    while (wish && !(painted && serves(painted, wish))) {
      const now = wish;
      const most = Math.sqrt(MOST_PIXELS / (now.size.width * now.size.height));
      const size = { width: now.size.width * (1 + 2 * BEYOND), height: now.size.height * (1 + 2 * BEYOND) };
      const ratio = Math.min(window.devicePixelRatio || 1, most / (1 + 2 * BEYOND));
      const image = await inDrawingThread((remote) => remote.paint(now.drawings, now.view, size, ratio, now.page));
      painted = now;
      if (wish) show({ image, view: now.view, size });
    }
  } catch {
    // The thread was ended: the files are read again, and the picture is wanted again then.
    painted = undefined;
  } finally {
    painting = false;
  }
}

function show(backdrop: Backdrop | undefined): void {
  useBackdrop.setState({ backdrop });
}
