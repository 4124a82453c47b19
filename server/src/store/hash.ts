import { createHash } from "node:crypto";

/** The SHA-256 of a text, by which it is kept once. */
export const hashOf = (text: string): string => createHash("sha256").update(text).digest("hex");
