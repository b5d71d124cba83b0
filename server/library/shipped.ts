/** What an academy has of its own, and what ships where it has not changed it, by their titles. */
export function overShipped<T extends { id: string; title: string }>(
  own: readonly T[],
  shipped: readonly T[],
): T[] {
  const changed = new Set(own.map(({ id }) => id));
  return [...own, ...shipped.filter(({ id }) => !changed.has(id))].sort(
    (a, b) => a.title.localeCompare(b.title) || (a.id < b.id ? -1 : 1),
  );
}
