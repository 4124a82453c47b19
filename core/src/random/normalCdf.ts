import erfc from "@stdlib/math-base-special-erfc";

/** The standard normal distribution function. */
export const normalCdf = (z: number): number => 0.5 * erfc(-z / Math.SQRT2);
