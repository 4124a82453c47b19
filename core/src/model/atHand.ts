/** A row that is at hand. */
export interface AtHand {
  at: number;
}
