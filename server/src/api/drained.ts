import type { Response } from "express";

/** Waits until a response that was full takes more, or is closed. */
export function drained(response: Response): Promise<void> {
  return new Promise((resolve) => {
    const done = () => {
      response.off("drain", done).off("close", done);
      resolve();
    };
    response.on("drain", done).on("close", done);
  });
}
