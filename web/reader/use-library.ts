import { endpoints, type TechniqueRow } from '@ulkret/contract';
import {
  type Draft,
  editsBetween,
  type Finding,
  type Id,
  type RuleTag,
  searchableOf,
  type Technique,
} from '@ulkret/core/breakdown';
import { tagsOf } from '@ulkret/core/care';
import { type Remote, wrap } from 'comlink';
import { startTransition, useEffect, useMemo, useState } from 'react';
import { useApi } from '../api/use-api';
import type { LibraryWorker } from './library';

let shared: Remote<LibraryWorker> | undefined;
const worker = (): Remote<LibraryWorker> =>
  (shared ??= wrap<LibraryWorker>(new Worker(new URL('./library.ts', import.meta.url), { type: 'module' })));

/** Ids of the techniques that fit the words, best first; null where nothing is searched for. */
export function useSearch(rows: readonly TechniqueRow[], words: string): Id[] | null {
  const [found, setFound] = useState<{ words: string; ids: Id[] } | null>(null);
  const loaded = useMemo(
    () =>
      worker().load(
        rows.map(({ technique, words: text }) => ({
          ...searchableOf(technique, { checkpoints: [] }),
          checkpoints: text,
        })),
      ),
    [rows],
  );
  useEffect(() => {
    if (words === '') return;
    let current = true;
    void loaded.then(async () => {
      const ids = await worker().find(words);
      if (current) setFound({ words, ids });
    });
    return () => {
      current = false;
    };
  }, [loaded, words]);
  return words === '' ? null : (found?.ids ?? []);
}

/** The breakdown being written, as the worker has it. */
let followed: object = {};

/** What the critique finds in a draft, a moment after it was changed; null until it has looked once. */
export function useCritique(
  draft: Draft,
  technique: Technique,
  rows: readonly TechniqueRow[],
): Finding[] | null {
  const [found, setFound] = useState<string | null>(null);
  const drills = useApi(endpoints.drills).data?.drills;
  const pieces = useApi(endpoints.pieces).data?.pieces;
  const known = useMemo(
    () =>
      worker().know(
        rows.map(({ technique: one, strand }) => [one.id, strand.map(({ id }) => id)] as [Id, Id[]]),
        rows.map(({ technique: one }) => [one.id, tagsOf(one)] as [Id, RuleTag[]]),
        drills?.map(({ id }) => id),
        pieces?.map(({ id }) => id),
      ),
    [rows, drills, pieces],
  );
  useEffect(() => {
    let current = true;
    // In a task of its own: what was typed is drawn first.
    const timer = setTimeout(() => {
      void known
        .then(() => {
          const edits = editsBetween(followed, { draft, technique });
          followed = { draft, technique };
          return worker().critique(edits);
        })
        .then((findings) => current && startTransition(() => setFound(findings)));
    });
    return () => {
      current = false;
      clearTimeout(timer);
    };
  }, [draft, technique, known]);
  // The same findings stay the same object.
  return useMemo(() => (found === null ? null : (JSON.parse(found) as Finding[])), [found]);
}
