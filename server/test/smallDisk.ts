import { execFileSync } from "node:child_process";
import { mkdirSync, mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";

export interface SmallDisk {
  readonly folder: string;
  /** Fills what is left, to the last byte. */
  fill(): void;
  /** Makes room again. */
  empty(): void;
  remove(): void;
}

/** A file system of a few megabytes; undefined where none can be made. */
export function smallDisk(megabytes: number): SmallDisk | undefined {
  if (process.getuid?.() !== 0) return undefined;
  const folder = join(mkdtempSync(join(tmpdir(), "harbor-disk-")), "disk");
  mkdirSync(folder);
  try {
    execFileSync("mount", ["-t", "tmpfs", "-o", `size=${megabytes}m`, "tmpfs", folder], { stdio: "ignore" });
  } catch {
    return undefined;
  }
  const ballast = join(folder, "ballast");
  return {
    folder,
    fill() {
      try {
        execFileSync("dd", ["if=/dev/zero", `of=${ballast}`, "bs=4k"], { stdio: "ignore" });
      } catch {
        // The disk is full, as it should be.
      }
    },
    empty: () => rmSync(ballast, { force: true }),
    remove: () => void execFileSync("umount", [folder]),
  };
}
