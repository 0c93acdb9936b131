/**
 * Edits of one thing, one after the other: each is sent on the version that the one before it left, so that two quick
 * ones never refuse each other. The server sets an edit beside those of others; it refuses one that changes the same.
 */
export interface Versioned {
  version: number;
}

export class Chain<T extends Versioned> {
  private last: Promise<unknown> = Promise.resolve();
  private waiting = 0;
  /** The last state this chain knew of: an edit still goes out when its thing is no longer the one on the screen. */
  private known: T | null = null;

  constructor(
    /** The present state, or null when something else is on the screen. */
    private readonly now: () => T | null,
    /** Shows a state, if its thing is still on the screen. */
    private readonly took: (made: T) => void,
  ) {}

  /** Edits that have not come back yet. */
  get pending(): number {
    return this.waiting;
  }

  /** Send an edit when those before it are through; rejects with what the server says of this one alone. */
  add(send: (version: number) => Promise<T>): Promise<void> {
    this.waiting++;
    this.known = this.now() ?? this.known;
    const mine = this.last.then(async () => {
      const base = this.now() ?? this.known;
      if (!base) return;
      this.known = await send(base.version);
      this.took(this.known);
    });
    this.last = mine.catch(() => undefined).finally(() => this.waiting--);
    return mine;
  }
}
