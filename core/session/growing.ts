interface Folded<T, S> {
  list: readonly T[];
  value: S;
}

/**
 * Folds over lists that mostly grow by one at their end, such as the reps of a student: what was folded before is not folded again,
 * so that a tap costs the same at the end of a class as at its beginning.
 */
export class Growing<T, S> {
  private readonly known = new Map<string, Folded<T, S>>();

  constructor(private readonly step: (sum: S, one: T) => S) {}

  /** The fold of a list that goes by a name, from a first value. */
  of(name: string, list: readonly T[], first: S): S {
    const before = this.known.get(name);
    if (before?.list === list) return before.value;
    const grewByOne =
      before !== undefined &&
      before.list.length + 1 === list.length &&
      before.list.every((one, i) => one === list[i]);
    const value = grewByOne ? this.step(before.value, list.at(-1)!) : list.reduce(this.step, first);
    this.known.set(name, { list, value });
    return value;
  }

  clear(): void {
    this.known.clear();
  }
}
