import { endpoints, notesSeenBy, type PersonNote } from '@ulkret/contract';
import type { Student } from '@ulkret/core/people';
import { useState } from 'react';
import { uuidv7 } from 'uuidv7';
import { ask } from '../api/ask';
import { useMay } from '../api/may';
import { useHere } from '../api/signed-in';
import { useApi } from '../api/use-api';
import { useAsking } from '../api/use-asking';
import { Button } from '../ui/button';
import { Fold } from '../ui/fold';
import { Panel, Quiet, Row } from '../ui/frame';
import { List } from '../ui/list';
import { Select } from '../ui/select';
import { Loaded, Refused } from '../ui/states';
import { TextArea } from '../ui/text-field';
import { toast } from '../ui/toast';
import { dayOf } from '../ui/words';

type SeenBy = PersonNote['seenBy'];
const eyes: Readonly<Record<SeenBy, string>> = {
  coaches: 'coaches only',
  'all who log': 'assistants too',
  'them too': 'student too (on their card)',
};

/** What coaches have written down about somebody, each for the eyes that they have chosen. */
export function Notes({ student }: { student: Student }) {
  const { coach } = useHere();
  const writes = useMay('coach');
  const heads = useMay('head');
  const notes = useApi(endpoints.personNotes, { params: { id: student.id } });
  const [words, setWords] = useState('');
  const [seenBy, setSeenBy] = useState<SeenBy>('coaches');
  const [sure, setSure] = useState<string | null>(null);
  const { asking, refusal, busy } = useAsking();
  const put = async (note: string, body: { words: string; seenBy: SeenBy }) =>
    notes.mutate(await ask(endpoints.savePersonNote, { params: { id: student.id, note }, body }), {
      revalidate: false,
    });
  const write = () =>
    asking(async () => {
      await put(uuidv7(), { words, seenBy });
      // Text typed since then is the next note.
      setWords((now) => (now === words ? '' : now));
    }, 'The note was not saved.');
  const takeAway = (note: PersonNote) =>
    asking(async () => {
      const params = { id: student.id, note: note.id };
      await notes.mutate(await ask(endpoints.removePersonNote, { params }), { revalidate: false });
      // A restored note belongs to the coach who restored it.
      toast('Note deleted', note.by === coach.id ? () => put(note.id, note) : null);
    }, 'The note is still there.');
  return (
    <Loaded of={notes} what="the notes">
      {({ notes: list }) =>
        list.length === 0 && !writes ? null : (
          <Panel>
            <h2>Notes</h2>
            {list.length > 0 && (
              <List>
                {list.map((note) => (
                  <li key={note.id}>
                    <span>
                      {note.words}
                      <Quiet as="span">
                        {' '}
                        {note.byName}, {dayOf(note.at)}; {eyes[note.seenBy]}
                      </Quiet>
                    </span>
                    {writes && (heads || note.by === coach.id) && (
                      <Button
                        $quiet
                        isDisabled={busy}
                        // Another's cannot be brought back in their name: that is asked twice.
                        onPress={() =>
                          note.by === coach.id || sure === note.id ? void takeAway(note) : setSure(note.id)
                        }
                      >
                        {sure === note.id ? 'Delete for good' : 'Delete'}
                      </Button>
                    )}
                  </li>
                ))}
              </List>
            )}
            {writes && (
              <Fold says={`Add a note about ${student.name}`}>
                {() => (
                  <div style={{ display: 'grid', gap: '0.6rem' }}>
                    <TextArea label="The note" value={words} maxLength={1000} onChange={setWords} />
                    <Row>
                      <Select
                        label="For"
                        options={notesSeenBy.map((value) => ({ value, text: eyes[value] }))}
                        value={seenBy}
                        onChange={setSeenBy}
                      />
                      <Button isDisabled={busy || words.trim() === ''} onPress={() => void write()}>
                        Save note
                      </Button>
                    </Row>
                    <Quiet>
                      A student who asks for their data gets every note. Enter injuries under People, where
                      the Mat reads them.
                    </Quiet>
                  </div>
                )}
              </Fold>
            )}
            <Refused by={refusal} />
          </Panel>
        )
      }
    </Loaded>
  );
}
