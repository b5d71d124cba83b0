import { createContext, type ReactNode, useContext, useMemo, useState } from 'react';
import { Typing } from './typing';

/** The way to a field of the work. */
export type Path = readonly (string | number)[];
/** Sets the value at a path of the work. */
export type Set = (path: Path, value: unknown) => void;

interface Written {
  /** All that is written, as its paths name it. */
  whole: unknown;
  set: Set;
  typing: Typing;
}
const WrittenContext = createContext<Written | null>(null);

/** The fields inside belong to this work. */
export function Writing({ whole, set, children }: { whole: unknown; set: Set; children: ReactNode }) {
  const [typing] = useState(() => new Typing());
  const written = useMemo(() => ({ whole, set, typing }), [whole, set, typing]);
  return <WrittenContext value={written}>{children}</WrittenContext>;
}

export function useWriting(): Written {
  const written = useContext(WrittenContext);
  if (!written) throw new Error('a field of the library is outside of what is written');
  return written;
}

const step = (of: unknown, key: string | number): unknown =>
  of === null || of === undefined ? undefined : (of as Record<string | number, unknown>)[key];

/** The value at a path; undefined if nothing is there. */
export const useAt = (path: Path): unknown => path.reduce(step, useWriting().whole);
