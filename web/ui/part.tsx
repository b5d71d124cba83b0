import { type ComponentType, type JSX, use, useEffect, useState } from 'react';

/** How long a failed load is remembered. Without it, a component would ask forever. */
export const forgetMs = 500;

/**
 * A part of the app that is loaded when it is first wanted, or when `load` is called before. Once it is here it is drawn in
 * the same pass: `lazy` would show that it is loading even then, and React holds what comes after such a notice back for 0.3 s.
 */
export function part<P extends object = Record<never, never>>(
  from: () => Promise<{ default: ComponentType<P> }>,
) {
  let loading: Promise<{ default: ComponentType<P> }> | null = null;
  let loaded = false;
  const load = () => {
    if (loading) return loading;
    const begun = from();
    loading = begun;
    begun.then(
      (value) => {
        loaded = true;
        // For `use` to read without waiting.
        Object.assign(begun, { status: 'fulfilled', value });
      },
      // Waiting callers must hear of it; the next one asks again.
      () => void setTimeout(() => (loading = null), forgetMs),
    );
    return begun;
  };
  const Part = (props: P): JSX.Element => {
    const { default: Loaded } = use(load());
    return <Loaded {...props} />;
  };
  return Object.assign(Part, { load, isLoaded: () => loaded });
}

interface Loadable {
  load(): Promise<unknown>;
  isLoaded(): boolean;
}

/** Are these parts here? What cannot be loaded counts as here: drawing it says why. */
export function useLoaded(parts: readonly Loadable[]): boolean {
  const [loaded, setLoaded] = useState(() => parts.every((part) => part.isLoaded()));
  useEffect(() => {
    if (!loaded) void Promise.allSettled(parts.map((part) => part.load())).then(() => setLoaded(true));
  }, [loaded, parts]);
  return loaded;
}
