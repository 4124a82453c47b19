import stdCos from "@stdlib/math-base-special-cos";
import stdExp from "@stdlib/math-base-special-exp";
import stdLog10 from "@stdlib/math-base-special-log10";
import stdPow from "@stdlib/math-base-special-pow";
import stdSin from "@stdlib/math-base-special-sin";
import stdSinh from "@stdlib/math-base-special-sinh";
import stdTan from "@stdlib/math-base-special-tan";

/*
 * Elementary functions in plain arithmetic. Those of the language's own Math may
 * differ in the last bit from one engine, or one version of it, to the next; these
 * give the same bits everywhere. (Math.sqrt, floor and the like are exact by the
 * standard and stay.)
 *
 * They are constants of this module, not passed on by name: bundled, a name
 * passed on is looked up as a property at every call.
 */
export { ln } from "./ln.ts";
export const cos = stdCos;
export const exp = stdExp;
export const log10 = stdLog10;
export const pow = stdPow;
export const sin = stdSin;
export const sinh = stdSinh;
export const tan = stdTan;
