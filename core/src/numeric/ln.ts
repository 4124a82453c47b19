const SQRT_HALF_HIGH = 0x3fe6a09e;
const ONE_HIGH = 0x3ff00000;
/** ln 2 in two parts; products of the first with whole numbers up to 1100 are exact. */
const LN2_HIGH = 6.9314718036912381649e-1;
const LN2_LOW = 1.90821492927058770002e-10;

const float = new Float64Array(1);
const words = new Int32Array(float.buffer);
/** 2^-k at place k + 1074: a product with it is exact, and does not wait for memory as writing the exponent would. */
const SCALES = Float64Array.from({ length: 2100 }, (_, i) => 2 ** (1074 - i));
const SCALE_OF_ONE = 1074;
/** Which of the two words of a float holds sign, exponent and upper mantissa. */
const HIGH = new Uint8Array(new Uint16Array([1]).buffer)[0] === 1 ? 1 : 0;

/**
 * Natural logarithm in plain arithmetic, off by less than one unit in the last
 * place: x = 2^k (1 + f) with 1 + f near 1, and ln(1 + f) by a polynomial in
 * f / (2 + f) that minimizes the largest error (the method and constants of Sun
 * Microsystems' freely distributable mathematical library, 1993). The drawing of
 * random numbers spends much of its time here: no branch depends on chance.
 */
export function ln(x: number): number {
  if (!(x >= 2.2250738585072014e-308 && x < Infinity)) return unusual(x);
  float[0] = x;
  const high = words[HIGH] + (ONE_HIGH - SQRT_HALF_HIGH);
  const k = (high >> 20) - 0x3ff;
  const f = x * SCALES[k + SCALE_OF_ONE] - 1;
  const s = f / (2 + f);
  const z = s * s;
  const w = z * z;
  const odd =
    z *
    (6.66666666666673513e-1 +
      w * (2.857142874366239149e-1 + w * (1.818357216161805012e-1 + w * 1.479819860511658591e-1)));
  const even = w * (3.999999999940941908e-1 + w * (2.222219843214978396e-1 + w * 1.531383769920937332e-1));
  const half = 0.5 * f * f;
  return s * (half + (odd + even)) + k * LN2_LOW - half + f + k * LN2_HIGH;
}

function unusual(x: number): number {
  if (x === 0) return -Infinity;
  if (x === Infinity) return Infinity;
  if (!(x > 0)) return Number.NaN;
  const SHIFT = 54;
  return ln(x * 2 ** SHIFT) - SHIFT * LN2_LOW - SHIFT * LN2_HIGH;
}
