/**
 * The places (0-based) of the longest strictly rising subsequence of `values`; of several equally long ones, the one that
 * ends first. Quadratic: the lists are short.
 */
export function longestRun(values: readonly number[]): ReadonlySet<number> {
  const runs: { length: number; before: number }[] = [];
  for (const [i, value] of values.entries()) {
    let run = { length: 1, before: -1 };
    for (let k = 0; k < i; k++)
      if (values[k]! < value && runs[k]!.length >= run.length)
        run = { length: runs[k]!.length + 1, before: k };
    runs.push(run);
  }
  const longest = Math.max(0, ...runs.map(({ length }) => length));
  const places = new Set<number>();
  for (let at = runs.findIndex(({ length }) => length === longest); at >= 0; at = runs[at]!.before)
    places.add(at);
  return places;
}
