import { type CareNote, holdsOn, ofTheHead, standingNotes, untilCleared } from '@ulkret/core/care';
import { lazy, Suspense, useEffect, useState } from 'react';
import { useMay } from '../api/may';
import { today, useKit } from '../device/kit';
import { onNewFacts } from '../device/new-facts';
import { Button } from '../ui/button';
import { Panel } from '../ui/frame';
import { List } from '../ui/list';
import { dayOf } from '../ui/words';

const Cleared = lazy(() => import('./Cleared'));

/** Stops for safety that still keep somebody off something; a coach writes down when a clinician has cleared them. */
export function CareFlags() {
  const kit = useKit();
  const decides = useMay('coach');
  // What has reached the server since the room was asked for may lift something.
  const { mutate } = kit;
  useEffect(() => onNewFacts(() => void mutate()), [mutate]);
  const [cleared, setCleared] = useState<CareNote | null>(null);
  const nameOf = (id: string) => kit.data?.students.find((one) => one.id === id)?.name ?? id;
  const day = today();
  const open = standingNotes(kit.data?.notes ?? []).filter(
    (note) => holdsOn(note, day) && (note.regions.length > 0 || ofTheHead.has(note.why)),
  );
  if (open.length === 0) return null;
  return (
    <Panel>
      <h2>Open care flags</h2>
      <List>
        {open.map((note) => (
          <li key={note.id}>
            <span>
              <strong>{nameOf(note.person)}</strong>: {note.why}
              {note.regions.length > 0 && `, rests ${note.regions.join(', ')}`},{' '}
              {untilCleared.has(note.why)
                ? `${dayOf(note.at)}: off the mat until a clinician clears them`
                : `until ${dayOf(note.until)}`}
              . {note.words}
            </span>
            {decides && untilCleared.has(note.why) && note.at.slice(0, 10) < day && (
              <Button $quiet onPress={() => setCleared(note)}>
                Record clearance
              </Button>
            )}
          </li>
        ))}
      </List>
      <Suspense>
        {cleared && (
          <Cleared
            note={cleared}
            name={nameOf(cleared.person)}
            close={() => setCleared(null)}
            kept={(note) =>
              void kit.mutate((known) => known && { ...known, notes: [...known.notes, note] }, {
                revalidate: false,
              })
            }
          />
        )}
      </Suspense>
    </Panel>
  );
}
