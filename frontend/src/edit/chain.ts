/**
 * Edits of one thing, one after the other. Each says by itself what it was made on; the server sets it beside those of
 * others, and refuses one that changes the same.
 */
export class Chain<T> {
  private last: Promise<unknown> = Promise.resolve();
  private waiting = 0;

  constructor(
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
  add(send: () => Promise<T>): Promise<void> {
    this.wait(1);
    const mine = this.last.then(async () => this.took(await this.through(send)));
    this.last = mine.catch(() => undefined).finally(() => this.wait(-1));
    return mine;
  }
}
