import { EXIT } from "./console.ts";
import { main } from "./main.ts";

/**
 * What is written to standard output that cannot take it, such as a full disk, ends the program with one line; a
 * reader that has seen enough, such as `head`, is no error.
 */
function cannotWrite(error: NodeJS.ErrnoException): void {
  if (error.code === "EPIPE") process.exit(process.exitCode);
  process.stderr.write(`The output cannot be written: ${error.message}\n`, () => process.exit(EXIT.usage));
}
process.stdout.on("error", cannotWrite);
process.stderr.on("error", () => undefined);

const code = await main(process.argv.slice(2), {
  out: (text) => process.stdout.write(text),
  err: (text) => process.stderr.write(text),
}).catch((error: unknown) => {
  process.stderr.write(
    `The program stopped by an error of its own: ${error instanceof Error ? error.message : String(error)}\n`,
  );
  return EXIT.usage;
});
process.exitCode ??= code;
