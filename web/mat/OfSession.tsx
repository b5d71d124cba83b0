import { endpoints } from '@ulkret/contract';
import type { Breakdown, Technique } from '@ulkret/core/breakdown';
import { type ReactNode, useEffect, useMemo } from 'react';
import { Link, useParams } from 'react-router';
import type { Student } from '@ulkret/core/people';
import type { CareNote, RuleSet } from '@ulkret/core/care';
import { useApi } from '../api/use-api';
import { useHere } from '../api/signed-in';
import { Failed, Loading } from '../ui/states';
import { Page } from '../ui/frame';
import { type OpenSession, useSessionLog } from '../device/session-log';
import { rulesOf, useKit } from '../device/kit';
import { onLive } from '../device/live';

/** A session with what it is about, as this device knows it. */
export interface Opened {
  work: OpenSession;
  breakdown: Breakdown;
  technique: Technique;
  students: readonly Student[];
  notes: readonly CareNote[];
  /** The house's. */
  rules: RuleSet;
  /** The techniques that this device has, with their latest editions: where a pair can go on to. */
  library: ReadonlyMap<string, { technique: Technique; breakdown: Breakdown }>;
  /** The name of a student or coach. */
  nameOf: (id: string) => string;
  coaches: ReadonlyMap<string, string>;
}

/** Opens the session of the address: its log, its edition, its people; from the device where there is no network. */
export function OfSession({ children }: { children: (opened: Opened) => ReactNode }) {
  const { session: id = '' } = useParams();
  return (
    <Open key={id} id={id}>
      {children}
    </Open>
  );
}

function Open({ id, children }: { id: string; children: (opened: Opened) => ReactNode }) {
  const { coach } = useHere();
  const work = useSessionLog(id);
  const { session } = work;
  const kit = useKit();
  const inKit = kit.data?.techniques.find(({ technique }) => technique.id === session?.technique);
  const sameEdition = inKit?.breakdown.edition === session?.edition;
  // An edition that is no longer the latest is fetched separately.
  const older = useApi(
    endpoints.technique,
    session && kit.data && !sameEdition ? { params: { id: session.technique } } : null,
    { revalidateOnFocus: false },
  );
  const { mutate } = kit;
  // The first word of the stream is that it is there; after that it says that something of the house has changed.
  useEffect(() => {
    let opened = false;
    return onLive((facts) => {
      if (facts === null && opened) void mutate();
      opened = true;
    });
  }, [mutate]);
  const { data: kept } = kit;
  const library = useMemo(
    () => new Map((kept?.techniques ?? []).map((one) => [one.technique.id, one])),
    [kept],
  );
  const coachNames = useMemo(
    () =>
      new Map([
        ...(kept?.coaches ?? []).map((one) => [one.id, one.name] as const),
        [coach.id, coach.name] as const,
      ]),
    [kept, coach.id, coach.name],
  );
  const technique = inKit?.technique ?? older.data?.technique;
  const breakdown = sameEdition
    ? inKit?.breakdown
    : older.data?.editions.find(({ edition }) => edition === session?.edition);
  const error = kit.error ?? older.error ?? work.error;
  if (session && breakdown && technique && kit.data) {
    const { students, notes } = kit.data;
    const names = new Map([...coachNames, ...students.map(({ id: one, name }) => [one, name] as const)]);
    return children({
      work: { ...work, session },
      breakdown,
      technique,
      students,
      notes,
      rules: rulesOf(kit.data),
      library,
      nameOf: (one) => names.get(one) ?? one,
      coaches: coachNames,
    });
  }
  return (
    <Page>
      {error ? (
        <>
          <Failed error={error} retry={() => void work.retry()} />
          <Link to="/mat">All classes</Link>
        </>
      ) : (
        <Loading what="the mat" />
      )}
    </Page>
  );
}
