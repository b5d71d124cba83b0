import { Region } from '@ulkret/core/breakdown';
import { type CareNote, Stopped } from '@ulkret/core/care';
import { useState } from 'react';
import { Button } from '../ui/button';
import { Caution } from '../ui/caution';
import { Choice } from '../ui/choice';
import { Quiet, Row } from '../ui/frame';
import { Chip } from '../ui/chip';
import { Sheet } from '../ui/dialog';
import { TextArea } from '../ui/text-field';

const whyWords: Readonly<Record<CareNote['why'], string>> = {
  'tap out': 'Tapped out',
  pain: 'Pain',
  unconscious: 'Unconscious',
  other: 'Something else',
};

/**
 * The care note that a stop for safety has already written with the likeliest words: here they are made right. Whatever is
 * changed is a new note in the old one's place, and both stay on record.
 */
export default function CarePanel({
  note,
  people,
  nameOf,
  onKeep,
  close,
}: {
  note: CareNote;
  people: readonly string[];
  nameOf: (id: string) => string;
  onKeep: (changed: Pick<CareNote, 'person' | 'why' | 'regions' | 'words'> | 'lift') => void;
  close: () => void;
}) {
  const [person, setPerson] = useState(note.person);
  const [why, setWhy] = useState(note.why);
  const [regions, setRegions] = useState<readonly Region[]>(note.regions);
  const [words, setWords] = useState(note.words);
  const changed =
    person !== note.person ||
    why !== note.why ||
    words !== note.words ||
    regions.join() !== note.regions.join();
  return (
    <Sheet label="Care note" close={close}>
      <h2>Stopped for safety: their round is over</h2>
      <Quiet>It is noted already. Change what is not right; nothing is lost if you close this.</Quiet>
      <Choice
        label="Who"
        value={person}
        options={people.map((id) => ({ value: id, text: nameOf(id) }))}
        onChange={setPerson}
      />
      <Choice
        label="What"
        value={why}
        options={Stopped.options.map((value) => ({ value, text: whyWords[value] }))}
        onChange={setWhy}
      />
      <fieldset>
        <legend>
          <strong>Kept off today</strong>
        </legend>
        <Row>
          {Region.options.map((region) => (
            <Chip
              key={region}
              isSelected={regions.includes(region)}
              onChange={(on) =>
                setRegions(on ? [...regions, region] : regions.filter((one) => one !== region))
              }
            >
              {region}
            </Chip>
          ))}
        </Row>
      </fieldset>
      <TextArea label="In your words" value={words} maxLength={1000} onChange={setWords} />
      <Caution
        note={
          why === 'unconscious'
            ? 'Nobody who was unconscious trains on that day. Follow your first-aid rules and call for help; a clinician decides about return.'
            : 'Release at once and ask before anything else. Concussion and pain in the neck or a joint go to a clinician; this note is no medical advice.'
        }
      />
      <Row>
        <Button
          onPress={() => {
            if (changed) onKeep({ person, why, regions: [...regions], words });
            close();
          }}
        >
          Keep the note
        </Button>
        {note.why !== 'unconscious' && why !== 'unconscious' && (
          <Button
            $quiet
            onPress={() => {
              onKeep('lift');
              close();
            }}
          >
            It was nothing: go on
          </Button>
        )}
      </Row>
    </Sheet>
  );
}
