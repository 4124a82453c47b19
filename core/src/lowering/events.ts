/** What an event is called, and what it carries. */
export interface EventSpec {
  readonly label: string;
  /** Whether an entity is at hand when it happens. */
  readonly of: "entity" | "element";
  /** The entity can be held there, or be sent elsewhere, before it goes on. */
  readonly holds?: boolean;
}

export type EventSpecs = Readonly<Record<string, EventSpec>>;

/** What is done when an event happens; `token` is the entity at hand, -1 where there is none. */
export type Listener = (token: number) => void;

/**
 * Events at elements, to which others listen: signals, and rules. Who listens says so before elements are lowered;
 * then a function at which an event happens is taken as it is where nobody does, so that nothing is paid for events
 * that nobody hears.
 */
export class Events {
  private readonly listeners = new Map<string, Listener[]>();
  private readonly fired = new Set<string>();

  /** Has `act` done whenever the event happens at the element, in the order of these calls. */
  listen(elementId: string, event: string, act: Listener): void {
    const key = `${elementId}/${event}`;
    this.listeners.set(key, [...(this.listeners.get(key) ?? []), act]);
  }

  /** The same, ahead of those who listen already: of several gates with one signal the last is opened first. */
  listenAhead(elementId: string, event: string, act: Listener): void {
    const key = `${elementId}/${event}`;
    this.listeners.set(key, [act, ...(this.listeners.get(key) ?? [])]);
  }

  isHeard(elementId: string, event: string): boolean {
    return this.listeners.has(`${elementId}/${event}`);
  }

  /** What tells those who listen; undefined where nobody does. */
  teller(elementId: string, event: string): Listener | undefined {
    const key = `${elementId}/${event}`;
    this.fired.add(key);
    const listeners = this.listeners.get(key);
    if (!listeners) return undefined;
    if (listeners.length === 1) return listeners[0];
    return (token) => {
      for (const act of listeners) act(token);
    };
  }

  /** A function at whose beginning the event happens: the very same where nobody listens. */
  before<R>(elementId: string, event: string, act: (token: number) => R): (token: number) => R {
    const tell = this.teller(elementId, event);
    if (!tell) return act;
    return (token) => {
      tell(token);
      return act(token);
    };
  }

  /** Events that somebody listens to and that no element fires. */
  get unheard(): readonly string[] {
    return [...this.listeners.keys()].filter((key) => !this.fired.has(key));
  }
}
