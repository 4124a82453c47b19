/** What steps record into: measures of one's own, by their ids. */
export class Recorders {
  private readonly recorders = new Map<string, (value: number, token: number) => void>();

  add(id: string, record: (value: number, token: number) => void): void {
    this.recorders.set(id, record);
  }

  of(id: string): ((value: number, token: number) => void) | undefined {
    return this.recorders.get(id);
  }
}
