/** Why the server cannot start: one sentence that names the place, the cause and what to do. */
export class StartProblem extends Error {}

/** The sentence for an error of the file system or the database while opening what is at `path`. */
export function startProblem(error: unknown, path: string): StartProblem {
  if (error instanceof StartProblem) return error;
  const text = error instanceof Error ? error.message : String(error);
  const code =
    /SQLITE_[A-Z]+|E[A-Z]{3,}/.exec(text)?.[0] ?? (error instanceof Error && "code" in error ? String(error.code) : "");
  const causes: readonly (readonly [test: RegExp, cause: string, advice: string])[] = [
    [/SQLITE_NOTADB/, "is not a database", "move it elsewhere, or name another data folder in HARBOR_DATA"],
    [/SQLITE_CORRUPT/, "is damaged", "put back a copy of it, or name another data folder in HARBOR_DATA"],
    [/SQLITE_FULL|ENOSPC/, "cannot be written, as the disk is full", "make room and start again"],
    [
      /SQLITE_READONLY|SQLITE_CANTOPEN|SQLITE_PERM|EACCES|EPERM|EROFS/,
      "cannot be written",
      "give yourself the right to write there, or name another data folder in HARBOR_DATA",
    ],
    [
      /EEXIST|ENOTDIR/,
      "is a file where a folder should be",
      "move it elsewhere, or name another data folder in HARBOR_DATA",
    ],
  ];
  const found = causes.find(([test]) => test.test(code) || test.test(text));
  return new StartProblem(
    found
      ? `${path} ${found[1]}: ${found[2]}.`
      : `${path} cannot be opened (${text}): name another data folder in HARBOR_DATA, or mend it.`,
  );
}
