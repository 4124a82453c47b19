/** What an entity's time in the system is made of, as float columns of a token. */
export const PART = { waiting: 3, worked: 4, moving: 5, dwelling: 6, blocked: 7 } as const;
export const FIRST_PART = 3;
export const PARTS = 5;
/** Parts from this one on are not in every model, and cost nothing where they are not. */
export const FIRST_RARE_PART = 5;

/** Float columns: when the present phase began, when it was born, order in the list it waits in, and the parts. */
export const SINCE = 0;
export const BORN = 1;
export const JOINED = 2;

/**
 * Whole-number columns: next step, next token of the list it waits in (of the free list when not alive), place, way
 * chosen last, entity type, previous token of that list.
 */
export const PC = 0;
export const NEXT = 1;
export const PLACE = 2;
export const WAY = 3;
export const TYPE = 4;
export const PREVIOUS = 5;

/** Columns are kept together, eight a token, so that a step touches one stretch of memory. */
export const STRIDE_BITS = 3;
const STRIDE = 1 << STRIDE_BITS;

/** Type of a token that is a process of the system, or not alive. */
export const NO_TYPE = -1;

/**
 * Tokens, the things that run step programs: entities, and the processes of the
 * system such as a source of arrivals. Freed tokens are used again. The arrays
 * are replaced when the pool grows, so read them from the pool each time.
 */
export class TokenPool {
  floats = new Float64Array(256 * STRIDE);
  ints = new Int32Array(256 * STRIDE);
  /** Number of the entity, counted from 1 in order of creation. */
  serial = new Float64Array(256);
  /** Attribute values, `attributeCount` a token. */
  attributes: Float64Array;
  /** Tokens in use. */
  alive = 0;
  /** Every token ever used is below this number. */
  used = 0;
  /** Whether any token has been credited a rare part since the start; until then those of all tokens are 0. */
  hasRareParts = false;
  private size = 256;
  private firstFree = -1;

  constructor(readonly attributeCount: number) {
    this.attributes = new Float64Array(256 * attributeCount);
  }

  take(type: number, pc: number, clock: Float64Array): number {
    let token = this.firstFree;
    if (token >= 0) this.firstFree = this.ints[(token << STRIDE_BITS) + NEXT];
    else {
      token = this.used++;
      if (token === this.size) this.grow();
    }
    this.alive += 1;
    const base = token << STRIDE_BITS;
    const { ints, floats } = this;
    ints[base + PC] = pc;
    ints[base + TYPE] = type;
    floats[base + BORN] = clock[0];
    floats[base + 3] = 0;
    floats[base + 4] = 0;
    if (this.hasRareParts) {
      floats[base + 5] = 0;
      floats[base + 6] = 0;
      floats[base + 7] = 0;
    }
    return token;
  }

  /** Told of each token that is given back, while somebody wants to know. */
  onRelease: ((token: number) => void) | undefined;

  release(token: number): void {
    if (this.onRelease) this.onRelease(token);
    const base = token << STRIDE_BITS;
    this.alive -= 1;
    this.ints[base + TYPE] = NO_TYPE;
    this.ints[base + NEXT] = this.firstFree;
    this.firstFree = token;
  }

  typeOf(token: number): number {
    return this.ints[(token << STRIDE_BITS) + TYPE];
  }

  placeOf(token: number): number {
    return this.ints[(token << STRIDE_BITS) + PLACE];
  }

  wayOf(token: number): number {
    return this.ints[(token << STRIDE_BITS) + WAY];
  }

  setWay(token: number, way: number): void {
    this.ints[(token << STRIDE_BITS) + WAY] = way;
  }

  /** The step with which a token goes on. */
  pcOf(token: number): number {
    return this.ints[(token << STRIDE_BITS) + PC];
  }

  setPc(token: number, pc: number): void {
    this.ints[(token << STRIDE_BITS) + PC] = pc;
  }

  bornAt(token: number): number {
    return this.floats[(token << STRIDE_BITS) + BORN];
  }

  sinceOf(token: number): number {
    return this.floats[(token << STRIDE_BITS) + SINCE];
  }

  /** The token begins a phase at a place, by its number. */
  begin(token: number, place: number, clock: Float64Array): void {
    const base = token << STRIDE_BITS;
    this.ints[base + PLACE] = place;
    this.floats[base + SINCE] = clock[0];
  }

  /** The token begins a phase at a place, and goes on with step `pc` when it is over. */
  beginUntil(token: number, place: number, pc: number, clock: Float64Array): void {
    const base = token << STRIDE_BITS;
    const { ints } = this;
    ints[base + PLACE] = place;
    ints[base + PC] = pc;
    this.floats[base + SINCE] = clock[0];
  }

  /** What the last `credit` added: in a cell, as a number returned from a function may be boxed. */
  readonly credited = new Float64Array(1);

  /** Adds what a token spent in its present phase to one part of its time in the system; `credited` tells how much. */
  credit(token: number, part: number, clock: Float64Array): void {
    const { floats } = this;
    const base = token << STRIDE_BITS;
    const spent = clock[0] - floats[base + SINCE];
    floats[base + part] += spent;
    if (part >= FIRST_RARE_PART) this.hasRareParts = true;
    this.credited[0] = spent;
  }

  /** Forgets all tokens. */
  reset(): void {
    const end = this.used << STRIDE_BITS;
    this.floats.fill(0, 0, end);
    this.ints.fill(0, 0, end);
    this.serial.fill(0, 0, this.used);
    this.attributes.fill(0, 0, this.used * this.attributeCount);
    this.alive = 0;
    this.used = 0;
    this.firstFree = -1;
    this.hasRareParts = false;
  }

  private grow(): void {
    this.size *= 2;
    const { ints, floats, serial, attributes } = this;
    this.ints = new Int32Array(this.size * STRIDE);
    this.ints.set(ints);
    this.floats = new Float64Array(this.size * STRIDE);
    this.floats.set(floats);
    this.serial = new Float64Array(this.size);
    this.serial.set(serial);
    this.attributes = new Float64Array(this.size * this.attributeCount);
    this.attributes.set(attributes);
  }
}
