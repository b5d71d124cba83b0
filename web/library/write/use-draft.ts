import { endpoints, type SavedDraft } from '@ulkret/contract';
import {
  type Breakdown,
  type Conflict,
  type Draft,
  editsBetween,
  type Id,
  merge,
  setAt,
  type Technique,
  withAnswerIds,
} from '@ulkret/core/breakdown';
import {
  type Dispatch,
  type SetStateAction,
  startTransition,
  useCallback,
  useEffect,
  useRef,
  useState,
} from 'react';
import { Saying } from './saying';
import { packSteps, redone, type UndoSteps, stepTo, undone, unpackSteps } from './steps';
import { useSWRConfig } from 'swr';
import { ApiRefusal, ask } from '../../api/ask';

/** What is being written: the technique itself and its next edition. */
export interface DraftWork {
  technique: Technique;
  draft: Draft;
}

/** Two edits that met in the same fields. */
export interface Meeting {
  merged: DraftWork;
  conflicts: Conflict[];
  theirs: DraftWork;
  by: string;
  revision: number;
}

interface Base {
  work: DraftWork;
  /** 0 if no draft is saved yet. */
  revision: number;
}

const savePauseMs = 900;
const retryMs = 5000;
const keyOf = (id: string) => `ulkret-draft ${id}`;
const stepsKeyOf = (id: string) => `ulkret-steps ${id}`;

/** The draft that a technique's next edition begins from: the one that is being written, or the latest edition. */
export const beginFrom = (
  technique: Technique,
  latest: Breakdown | undefined,
  saved: SavedDraft | null,
): Base =>
  saved
    ? { work: { technique: saved.technique, draft: saved.draft }, revision: saved.revision }
    : { work: { technique, draft: withAnswerIds(latest!) }, revision: 0 };

/** What this window had not sent when it was closed. */
function unsent(id: string): { base: Base; present: DraftWork } | null {
  try {
    return JSON.parse(localStorage.getItem(keyOf(id)) ?? 'null') as { base: Base; present: DraftWork } | null;
  } catch {
    return null;
  }
}

/**
 * A draft with undo and redo, also after a reload of this tab, that saves itself. What somebody else saved in between is merged field by field; where both
 * changed the same field, the meeting is for the coach to decide, and nothing of either is lost.
 */
export function useDraft(start: Base) {
  const id = start.work.technique.id;
  const [kept] = useState(() => unsent(id));
  const base = useRef<Base>(kept?.base ?? start);
  const [steps, setSteps] = useState(() =>
    unpackSteps(sessionStorage.getItem(stepsKeyOf(id)), kept?.present ?? start.work),
  );
  const { past, present, future } = steps;
  const [status] = useState(() => new Saying('saved'));
  const saveAgain = useRef<() => Promise<unknown>>(() => Promise.resolve());
  const retry = useRef<ReturnType<typeof setTimeout>>(undefined);
  const [notice, setNotice] = useState<string | null>(null);
  const [meeting, setMeeting] = useState<Meeting | null>(null);
  const { mutate } = useSWRConfig();
  const latest = useRef(present);
  useEffect(() => {
    latest.current = present;
  }, [present]);

  const { change, set, edit, undo, redo } = useSteps(setSteps);

  /** Brings what is there by now together with mine. */
  const meet = useCallback(
    async (mine: DraftWork) => {
      const [{ draft: saved }, published] = await Promise.all([
        ask(endpoints.draft, { params: { id } }),
        ask(endpoints.technique, { params: { id } }),
      ]);
      const there = beginFrom(published.technique, published.editions.at(-1), saved);
      const { merged, conflicts } = merge(base.current.work, mine, there.work);
      const by = saved?.savedBy ?? 'somebody';
      if (conflicts.length === 0) {
        base.current = there;
        change(() => merged);
        setNotice(`${by} edited other fields. Both changes are saved.`);
      } else {
        status.say('not saved: edit conflict');
        setMeeting({ merged, conflicts, theirs: there.work, by, revision: there.revision });
      }
    },
    [change, id, status],
  );

  // Unsent work is stored in this browser when the page is left, and when it cannot be sent.
  const keep = useCallback(() => {
    if (latest.current === base.current.work) return;
    localStorage.setItem(keyOf(id), JSON.stringify({ base: base.current, present: latest.current }));
  }, [id]);

  const saveNow = useCallback(async (): Promise<number | null> => {
    clearTimeout(retry.current);
    const work = latest.current;
    if (work === base.current.work) {
      status.say('saved');
      localStorage.removeItem(keyOf(id));
      return base.current.revision;
    }
    status.say('saving …');
    const { work: before, revision } = base.current;
    try {
      const saved = await ask(endpoints.saveDraft, {
        params: { id },
        body: { revision, edition: before.draft.edition, edits: editsBetween(before, work) },
      });
      base.current = { work, revision: saved.revision };
      if (latest.current === work) {
        status.say('saved');
        localStorage.removeItem(keyOf(id));
      }
      return saved.revision;
    } catch (error) {
      if (!(error instanceof ApiRefusal)) throw error;
      if (error.status !== 409) {
        status.say(`saved in this window only: ${error.message}`);
        keep();
        retry.current = setTimeout(() => void saveAgain.current(), retryMs);
        return null;
      }
      await meet(work);
      return null;
    }
  }, [id, keep, meet, status]);
  const saving = useRef<Promise<unknown>>(Promise.resolve());
  /**
   * Saves what is there now; answers with the revision, or null where it could not be saved. One save waits for the one
   * before: two on the way at once would meet each other, and publishing would stop at that.
   */
  const save = useCallback((): Promise<number | null> => {
    const saved = saving.current.then(saveNow, saveNow);
    saving.current = saved;
    return saved;
  }, [saveNow]);

  useEffect(() => {
    saveAgain.current = save;
    return () => clearTimeout(retry.current);
  }, [save]);
  const forget = useKeptOnLeave(id, steps, keep);

  /** Ends a meeting with what the coach chose. */
  const settle = (chosen: DraftWork) => {
    if (!meeting) return;
    base.current = { work: meeting.theirs, revision: meeting.revision };
    setMeeting(null);
    change(() => chosen);
  };

  useEffect(() => {
    if (meeting) return;
    if (present === base.current.work) {
      status.say('saved');
      localStorage.removeItem(keyOf(id));
      return;
    }
    status.say('unsaved');
    const timer = setTimeout(() => void save(), savePauseMs);
    return () => clearTimeout(timer);
  }, [present, meeting, id, save, status]);

  return {
    work: present,
    set,
    edit,
    undo,
    redo,
    save,
    status,
    notice,
    meeting,
    settle,
    canUndo: past.length > 0,
    canRedo: future.length > 0,
    /** Lists elsewhere show the technique as it was; call it after publishing. */
    refreshLists: () => mutate(() => true),
    /** Lets go of what is not sent: it was published, or thrown away. */
    forget: () => {
      base.current = { ...base.current, work: latest.current };
      localStorage.removeItem(keyOf(id));
      forget();
    },
  };
}
export type DraftState = ReturnType<typeof useDraft>;

/** The ways to change a draft, each one step of its undo. */
function useSteps(setSteps: Dispatch<SetStateAction<UndoSteps<DraftWork>>>) {
  const change = useCallback(
    (next: (work: DraftWork) => DraftWork) => {
      startTransition(() => setSteps((now) => stepTo(now, next(now.present))));
    },
    [setSteps],
  );
  const set = useCallback(
    (path: readonly (string | number)[], value: unknown) =>
      change((work) =>
        path[0] === 'technique'
          ? { ...work, technique: setAt(work.technique, path.slice(1), value) }
          : { ...work, draft: setAt(work.draft, path, value) },
      ),
    [change],
  );
  const edit = useCallback(
    (next: (draft: Draft) => Draft) => change((work) => ({ ...work, draft: next(work.draft) })),
    [change],
  );
  const undo = useCallback(() => setSteps(undone), [setSteps]);
  const redo = useCallback(() => setSteps(redone), [setSteps]);
  return { change, set, edit, undo, redo };
}

/** Keeps unsent text and the steps in this browser when the page is left; the function returned forgets them. */
function useKeptOnLeave(id: Id, steps: UndoSteps<DraftWork>, keep: () => void): () => void {
  const forgotten = useRef(false);
  const latestSteps = useRef(steps);
  useEffect(() => {
    latestSteps.current = steps;
  }, [steps]);
  useEffect(() => {
    const leave = () => {
      if (forgotten.current) return sessionStorage.removeItem(stepsKeyOf(id));
      keep();
      try {
        sessionStorage.setItem(stepsKeyOf(id), packSteps(latestSteps.current));
      } catch {
        sessionStorage.removeItem(stepsKeyOf(id));
      }
    };
    window.addEventListener('pagehide', leave);
    return () => {
      window.removeEventListener('pagehide', leave);
      leave();
    };
  }, [id, keep]);
  return useCallback(() => {
    forgotten.current = true;
  }, []);
}
