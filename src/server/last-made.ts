/** What was made last, by its name: made anew when it is made of something else. */
export class LastMade<T> {
  private readonly known = new Map<string, { madeOf: unknown; value: T }>();

  /** `most`: so many are kept; the one asked for last goes last. */
  constructor(private readonly most: number) {}

  of(key: string, madeOf: unknown, make: () => T): T {
    const known = this.known.get(key);
    const value = known && known.madeOf === madeOf ? known.value : make();
    this.known.delete(key);
    this.known.set(key, { madeOf, value });
    if (this.known.size > this.most) this.known.delete(this.known.keys().next().value!);
    return value;
  }

  forget(key: string): void {
    this.known.delete(key);
  }
}
