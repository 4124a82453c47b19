/**
 * Elementary functions in plain arithmetic. Those of the language's own Math may
 * differ in the last bit from one engine, or one version of it, to the next; these
 * give the same bits everywhere. (Math.sqrt, floor and the like are exact by the
 * standard and stay.)
 */
export { default as cos } from "@stdlib/math-base-special-cos";
export { default as exp } from "@stdlib/math-base-special-exp";
export { default as ln } from "@stdlib/math-base-special-ln";
export { default as log10 } from "@stdlib/math-base-special-log10";
export { default as pow } from "@stdlib/math-base-special-pow";
export { default as sin } from "@stdlib/math-base-special-sin";
export { default as sinh } from "@stdlib/math-base-special-sinh";
export { default as tan } from "@stdlib/math-base-special-tan";
