/** Why the disk takes nothing, in words, where it may take it later; undefined for any other error. */
export function storageFault(error: unknown): string | undefined {
  const text = error instanceof Error ? `${error.message} ${"code" in error ? String(error.code) : ""}` : "";
  if (/SQLITE_FULL|ENOSPC|database or disk is full/.test(text))
    return "There is no room left on the disk. Make room, and it goes on by itself.";
  if (/SQLITE_IOERR|EIO\b|disk I\/O error/.test(text))
    return "The disk reports errors. It goes on by itself once it can be written again.";
  if (/SQLITE_READONLY|EROFS|readonly database/.test(text))
    return "The data folder cannot be written any more. It goes on by itself once it can.";
  return undefined;
}
