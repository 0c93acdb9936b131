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
  /** The last state this chain knew of: an edit still goes out when its thing is no longer kept in the browser. */
  private known: T | null = null;

  constructor(
    /** The present state, or null when the browser has none any more. */
    private readonly now: () => T | null,
    /** Keeps a state. */
    private readonly took: (made: T) => void,
    /** Told how many edits have not come back yet. */
    private readonly count: (pending: number) => void = () => {},
    /** Whether a fault says that the server is not to be had: the edit is sent again until it is, and is told so. */
    private readonly away: (fault: unknown) => boolean = () => false,
  ) {}

  /** Edits that have not come back yet. */
  get pending(): number {
    return this.waiting;
  }

  private wait(by: number) {
    this.waiting += by;
    this.count(this.waiting);
  }

  /** However long it takes: an edit is not lost because nobody answers. */
  private async through(send: () => Promise<T>): Promise<T> {
    for (let wait = 400; ; wait = Math.min(wait * 2, 4000)) {
      try {
        return await send();
      } catch (fault) {
        if (!this.away(fault)) throw fault;
        await new Promise((resolve) => setTimeout(resolve, wait));
      }
    }
  }

  /** Send an edit when those before it are through; rejects with what the server says of this one alone. */
  add(send: (version: number) => Promise<T>): Promise<void> {
    this.wait(1);
    this.known = this.now() ?? this.known;
    const mine = this.last.then(async () => {
      const base = this.now() ?? this.known;
      if (!base) return;
      this.known = await this.through(() => send(base.version));
      this.took(this.known);
    });
    this.last = mine.catch(() => undefined).finally(() => this.wait(-1));
    return mine;
  }
}
