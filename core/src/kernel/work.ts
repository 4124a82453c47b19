import { grown, lengthFor } from "./grown.ts";
import { EventClass, type Kernel } from "./kernel.ts";

const NONE = 0;
const RUNNING = 1;
const PAUSED = 2;

/**
 * Work in progress that can be stopped for any number of reasons at once and goes on
 * when the last of them is gone: one piece of work a token. While it runs it is the token's
 * pending event; while it stands still, what is left of it is kept here.
 */
export class Work {
  private state = new Uint8Array(256);
  private stops = new Int32Array(256);
  private left = new Float64Array(256);
  private whole = new Float64Array(256);
  private unit = new Int32Array(256);
  /** When it came to stand still last, and for how long it has stood still before, since that was last asked. */
  private stoodSince = new Float64Array(256);
  private stoodBefore = new Float64Array(256);

  constructor(private readonly kernel: Kernel) {}

  reset(): void {
    this.state.fill(NONE);
    this.stops.fill(0);
  }

  /** Begins `duration` seconds of work, after which the token goes on; at once, or when nothing stops it any more. */
  begin(token: number, duration: number, id: string, field: string): void {
    this.reach(token);
    if (!(duration >= 0 && duration < Infinity)) {
      this.kernel.failDuration(duration, id, field);
      return;
    }
    this.whole[token] = duration;
    if (this.stops[token] > 0) {
      this.pause(token);
      this.left[token] = duration;
    } else this.run(token, duration);
  }

  /** The work is over, or nothing will come of it: nothing is pending any more. */
  end(token: number): void {
    if (token >= this.state.length) return;
    if (this.state[token] === RUNNING) this.kernel.calendar.cancel(token);
    else if (this.state[token] === PAUSED) this.countStanding(token);
    this.state[token] = NONE;
  }

  /** One more reason to stand still. Work that is due at this very instant is done, and is not stopped. */
  stop(token: number): void {
    this.reach(token);
    if (this.stops[token]++ > 0 || this.state[token] !== RUNNING) return;
    const left = this.kernel.calendar.timeOf(token) - this.kernel.now;
    if (!(left > 0)) return;
    this.kernel.calendar.cancel(token);
    this.left[token] = left;
    this.pause(token);
  }

  /** One reason less. */
  go(token: number): void {
    this.reach(token);
    if (--this.stops[token] > 0 || this.state[token] !== PAUSED) return;
    this.countStanding(token);
    this.run(token, this.left[token]);
  }

  /** All of the work is to be done again, of the same length as before. For work that stands still. */
  startOver(token: number): void {
    if (token < this.state.length && this.state[token] === PAUSED) this.left[token] = this.whole[token];
  }

  /** What is left of work that stands still takes so many times as long, and so would all of it. */
  stretch(token: number, times: number): void {
    if (token >= this.state.length || this.state[token] !== PAUSED) return;
    this.left[token] *= times;
    this.whole[token] *= times;
  }

  isPaused(token: number): boolean {
    return token < this.state.length && this.state[token] === PAUSED;
  }

  /** The slot or unit in which the token is worked on. */
  unitOf(token: number): number {
    return this.unit[token];
  }

  setUnit(token: number, unit: number): void {
    this.reach(token);
    this.unit[token] = unit;
  }

  /** Forgets the reasons of an earlier piece of work. */
  clear(token: number): void {
    this.reach(token);
    this.stops[token] = 0;
    this.state[token] = NONE;
    this.stoodBefore[token] = 0;
  }

  /** Seconds for which its work has stood still since this was last asked, or since it was cleared. */
  takeStanding(token: number): number {
    if (this.state[token] === PAUSED) this.countStanding(token);
    const seconds = this.stoodBefore[token];
    this.stoodBefore[token] = 0;
    return seconds;
  }

  private pause(token: number): void {
    this.state[token] = PAUSED;
    this.stoodSince[token] = this.kernel.now;
  }

  private countStanding(token: number): void {
    this.stoodBefore[token] += this.kernel.now - this.stoodSince[token];
    this.stoodSince[token] = this.kernel.now;
  }

  private run(token: number, duration: number): void {
    this.state[token] = RUNNING;
    this.kernel.schedule(token, duration, EventClass.activityEnd);
  }

  private reach(token: number): void {
    if (token < this.state.length) return;
    const size = lengthFor(token, this.state.length);
    this.state = grown(this.state, size);
    this.stops = grown(this.stops, size);
    this.left = grown(this.left, size);
    this.whole = grown(this.whole, size);
    this.unit = grown(this.unit, size);
    this.stoodSince = grown(this.stoodSince, size);
    this.stoodBefore = grown(this.stoodBefore, size);
  }
}
