/**
 * Edits of one thing, one after the other: each is sent on the version that the one before it left, so that two quick
 * ones never refuse each other. What somebody else changed meanwhile is fetched and the edit is tried once more on it.
 */
export interface Versioned {
  version: number;
}

export class Chain<T extends Versioned> {
  private last: Promise<unknown> = Promise.resolve();
  private waiting = 0;

  constructor(
    /** The present state. */
    private readonly now: () => T | null,
    /** Takes a state over. */
    private readonly took: (made: T) => void,
    /** Fetches the state anew. */
    private readonly fetch: () => Promise<unknown>,
    /** Whether a refusal says that the version was stale. */
    private readonly stale: (fault: unknown) => boolean,
  ) {}

  /** Edits that have not come back yet. */
  get pending(): number {
    return this.waiting;
  }

  /** Send an edit when those before it are through; rejects with what the server says of this one alone. */
  add(send: (version: number) => Promise<T>): Promise<void> {
    this.waiting++;
    const mine = this.last.then(async () => {
      const base = this.now();
      if (!base) return;
      try {
        this.took(await send(base.version));
      } catch (fault) {
        if (!this.stale(fault)) throw fault;
        await this.fetch();
        const fresh = this.now();
        if (fresh) this.took(await send(fresh.version));
      }
    });
    this.last = mine.catch(() => undefined).finally(() => this.waiting--);
    return mine;
  }
}
