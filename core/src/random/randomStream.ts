import { ln } from "../numeric/elementary.ts";
import { type SeedWords, UniformSource } from "./mrg32k3a.ts";

/** Draws made ahead at a time. */
const AHEAD = 64;

/**
 * One stream of random numbers and those who draw from it. They must all have
 * asked for their draws before the first is drawn: who draws alone may then draw
 * ahead, which does not change what is drawn.
 */
export class RandomStream {
  private readonly source: UniformSource;
  private takers = 0;
  private drawnAhead = false;
  private forgetAhead = (): void => {};
  /** How many of those made ahead have been drawn. */
  private drawnOfAhead = (): number => 0;

  constructor(words?: SeedWords) {
    this.source = new UniformSource(words);
  }

  /** Goes to the state given by six words; nothing drawn ahead is kept. Mirrored, it draws 1 - u in place of u. */
  seed(words: SeedWords, mirrored = false): void {
    this.source.seed(words, mirrored);
    this.forgetAhead();
  }

  /** How many numbers have been drawn since its seed was set. */
  get draws(): number {
    return this.source.given + this.drawnOfAhead();
  }

  /** Draws uniform numbers in (0, 1). */
  uniform(): () => number {
    this.addTaker();
    const { source } = this;
    return () => source.next();
  }

  /** Draws exponential numbers of a mean, by inversion: the k-th is what the k-th uniform gives. */
  exponential(mean: number): () => number {
    this.addTaker();
    const { source } = this;
    const block = new Float64Array(AHEAD);
    let at = AHEAD;
    let blocks = 0;
    this.drawnOfAhead = () => blocks * AHEAD - (AHEAD - at);
    // Only a taker alone draws ahead, so the last to ask is the only one that may have anything to forget.
    this.forgetAhead = () => {
      at = AHEAD;
      blocks = 0;
    };
    const refill = (): number => {
      if (this.takers > 1) return -mean * ln(1 - source.next());
      this.drawnAhead = true;
      blocks += 1;
      source.fill(block);
      for (let i = 0; i < AHEAD; i++) block[i] = -mean * ln(1 - block[i]);
      at = 1;
      return block[0];
    };
    return () => (at < AHEAD ? block[at++] : refill());
  }

  private addTaker(): void {
    if (this.drawnAhead) throw new Error("A stream got one more to draw from it after draws were made ahead.");
    this.takers += 1;
  }
}
