import { webcrypto } from "node:crypto";
import { TextDecoder, TextEncoder } from "node:util";

/** What browsers have and the page in tests has not. */
const lacking = {
  TextDecoder,
  TextEncoder,
  structuredClone: <T>(thing: T): T => JSON.parse(JSON.stringify(thing)) as T,
};
for (const [name, value] of Object.entries(lacking))
  if (!(name in globalThis)) Object.defineProperty(globalThis, name, { value, configurable: true, writable: true });
if (!("randomUUID" in globalThis.crypto))
  Object.defineProperty(globalThis, "crypto", { value: webcrypto, configurable: true });
