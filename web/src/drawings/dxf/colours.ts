/** Colour of lines that take the ink of the page: the file's "black or white". */
export const INK = -1;

export const BY_BLOCK = 0;
export const BY_LAYER = 256;
const BLACK_OR_WHITE = 7;

const NAMED = [0, 0xff0000, 0xffff00, 0x00ff00, 0x00ffff, 0x0000ff, 0xff00ff, 0xffffff, 0x808080, 0xc0c0c0];
const VALUES = [1, 0.8, 0.6, 0.5, 0.3];
const GREYS = [0x33, 0x5b, 0x84, 0xad, 0xd6, 0xff];

/**
 * Red, green and blue of one of the format's 255 numbered colours: nine named ones, 24 hues in five strengths, full
 * and pale, and greys.
 */
export function numberedColour(index: number): number {
  if (index === BLACK_OR_WHITE || !(index >= 1 && index <= 255)) return INK;
  if (index < 10) return NAMED[index];
  if (index >= 250) return GREYS[index - 250] * 0x010101;
  const hue = Math.floor((index - 10) / 10) / 4;
  const value = VALUES[Math.floor((index % 10) / 2)];
  const least = index % 2 === 1 ? value / 2 : 0;
  // Six sides of the colour circle; on each, one part rises or falls.
  const part = (n: number) => {
    const k = (n + hue) % 6;
    return Math.round(255 * (value - (value - least) * Math.max(0, Math.min(k, 4 - k, 1))));
  };
  return (part(5) << 16) | (part(3) << 8) | part(1);
}
