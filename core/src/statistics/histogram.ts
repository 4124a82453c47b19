const bits = new DataView(new ArrayBuffer(8));
const SUB_BITS = 6;
const SUBS = 1 << SUB_BITS;
const OCTAVES = 128;
const OCTAVE_BIAS = 1023 - 40;

const float = new Float64Array(1);
const words = new Uint32Array(float.buffer);
const HIGH = new Uint8Array(new Uint16Array([1]).buffer)[0] === 1 ? 1 : 0;

/**
 * Counts of values of 0 and more in bins whose width is 1/64 of the power of two
 * below: a quantile read from it is off by at most 0.8 % of its value (half a
 * bin), whatever the values. Memory is bounded, and pages are made when needed.
 */
export class Histogram {
  zeros = 0;
  total = 0;
  private readonly pages: (Uint32Array | undefined)[] = new Array<Uint32Array | undefined>(OCTAVES).fill(undefined);

  add(value: number): void {
    this.total += 1;
    if (value <= 0) {
      this.zeros += 1;
      return;
    }
    float[0] = value;
    const high = words[HIGH];
    let octave = (high >>> 20) - OCTAVE_BIAS;
    if (octave < 0) octave = 0;
    else if (octave >= OCTAVES) octave = OCTAVES - 1;
    const page = this.pages[octave] ?? (this.pages[octave] = new Uint32Array(SUBS));
    page[(high >>> (20 - SUB_BITS)) & (SUBS - 1)] += 1;
  }

  addZero(): void {
    this.total += 1;
    this.zeros += 1;
  }

  /** Takes in all counts of another histogram. */
  include(other: Histogram): void {
    this.total += other.total;
    this.zeros += other.zeros;
    other.pages.forEach((page, octave) => {
      if (!page) return;
      const own = this.pages[octave] ?? (this.pages[octave] = new Uint32Array(SUBS));
      for (let sub = 0; sub < SUBS; sub++) own[sub] += page[sub];
    });
  }

  clear(): void {
    this.zeros = 0;
    this.total = 0;
    this.pages.fill(undefined);
  }

  /**
   * The value with a share `p` of the observations at or below it, as the middle
   * of its bin; NaN without observations. `skipZeros` leaves zeros out.
   */
  quantile(p: number, skipZeros = false): number {
    const zeros = skipZeros ? 0 : this.zeros;
    const count = this.total - (skipZeros ? this.zeros : 0);
    if (count === 0) return Number.NaN;
    const rank = Math.max(1, Math.ceil(p * count));
    let seen = zeros;
    if (seen >= rank) return 0;
    for (let octave = 0; octave < OCTAVES; octave++) {
      const page = this.pages[octave];
      if (!page) continue;
      for (let sub = 0; sub < SUBS; sub++) {
        seen += page[sub];
        if (seen >= rank) return binMiddle(octave, sub);
      }
    }
    return Number.NaN;
  }
}

function binMiddle(octave: number, sub: number): number {
  bits.setUint32(0, ((octave + OCTAVE_BIAS) << 20) | (sub << (20 - SUB_BITS)) | (1 << (19 - SUB_BITS)));
  bits.setUint32(4, 0);
  return bits.getFloat64(0);
}
