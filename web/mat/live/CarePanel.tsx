import { Region } from '@ulkret/core/breakdown';
import { type CareNote, ofTheHead, type Stopped, untilCleared } from '@ulkret/core/care';
import { useState } from 'react';
import { Select } from '../../ui/select';
import { useMat, useMatStore } from './use-mat';
import { rulesOf, today, useKit } from '../../device/kit';
import { Button } from '../../ui/button';
import { Caution } from '../../ui/caution';
import { Chip } from '../../ui/chip';
import { Choice } from '../../ui/choice';
import { DateField } from '../../ui/date-field';
import { Sheet } from '../../ui/dialog';
import { Quiet, Row } from '../../ui/frame';
import { TextArea } from '../../ui/text-field';

type Why = Exclude<Stopped, 'not said' | 'tap out' | 'cleared' | 'pressed by mistake'>;
const whyWords: Readonly<Record<Why, string>> = {
  'hard tap': 'Late or hard tap',
  pain: 'Pain',
  dizzy: 'Dizzy',
  'knock on the head': 'Knock on the head',
  unconscious: 'Unconscious',
  other: 'Something else',
};

/** What was said before, where it can be said here. */
const whyOf = (why: Stopped): Why | null => (why in whyWords ? (why as Why) : null);

const cautions: Partial<Record<Why, string>> = {
  unconscious:
    'Follow your first-aid rules and call for help. Off the mat until a coach records a clinician’s clearance.',
  'knock on the head':
    'It may be a concussion: stop, and keep somebody with them. Off the mat until a coach records a clinician’s clearance.',
  dizzy:
    'Dizzy after a strangle or a knock: stop for the day and keep somebody with them. A clinician decides about return.',
  pain: 'Pain in the neck or a joint goes to a clinician; this note is no medical advice.',
};

/** Regions that there are two of. */
const paired: ReadonlySet<Region> = new Set(
  Region.options.filter((region) => !['neck', 'spine', 'jaw', 'head', 'back'].includes(region)),
);

const nobody = '';

const daysOn = (days: number): string =>
  new Date(Date.parse(`${today()}T12:00:00Z`) + days * 86_400_000).toISOString().slice(0, 10);

/**
 * What went wrong, after a recorded stop for safety. Only pain and worse keep somebody off: which region, and for how
 * long, is up to the coach. Each change is a new note in the place of the old one.
 */
export default function CarePanel({ close }: { close: () => void }) {
  const over = useMat(({ state }) => state.over);
  return over?.is === 'care' ? <Care key={over.note.id} note={over.note} close={close} /> : null;
}

function Care({ note, close }: { note: CareNote; close: () => void }) {
  const store = useMatStore();
  const { nameOf } = store.knows();
  const { pairs, waiting } = useMat(({ common }) => common.now);
  const open = useMat((now) => now.open);
  const near = open?.view.members ?? [];
  const others = [...pairs.flat(), ...waiting].filter((id) => !near.includes(id));
  const replace = (said: Pick<CareNote, 'person' | 'why' | 'regions' | 'side' | 'until' | 'words'>) =>
    store.work.add({ is: 'notes', fact: { ...note, ...store.made(), replaces: note.id, ...said } });
  const { safeguarding } = rulesOf(useKit().data);
  const care = useCare(note, replace, close);
  const { person, setPerson, why, setWhy, words, setWords, hurts, off, missing, keep } = care;
  return (
    <Sheet label="Stop for safety" written tall close={close}>
      <h2>What went wrong?</h2>
      <Quiet>Saved. The pair stays stopped until you say what happened.</Quiet>
      <Button
        $tall
        $quiet
        onPress={() => {
          replace({ person, why: 'pressed by mistake', regions: [], side: null, until: today(), words: '' });
          close();
        }}
      >
        Pressed by mistake: nothing went wrong
      </Button>
      <Choice
        label="Who"
        value={near.includes(person) ? person : null}
        options={near.map((id) => ({ value: id, text: nameOf(id) }))}
        onChange={setPerson}
      />
      {others.length > 0 && (
        <Select
          label="or somebody else"
          value={near.includes(person) ? nobody : person}
          options={[
            { value: nobody, text: 'choose …' },
            ...others.map((id) => ({ value: id, text: nameOf(id) })),
          ]}
          onChange={(id) => id !== nobody && setPerson(id)}
        />
      )}
      <Choice<Why>
        label="What"
        value={why}
        options={(Object.keys(whyWords) as Why[]).map((value) => ({ value, text: whyWords[value] }))}
        onChange={setWhy}
      />
      {hurts && <Where care={care} />}
      {off && !(why !== null && untilCleared.has(why)) && <Until care={care} />}
      {why && cautions[why] && <Caution note={cautions[why]} />}
      {safeguarding && <Quiet>If this is about how somebody was treated, speak to: {safeguarding}</Quiet>}
      <TextArea label="In your words" value={words} maxLength={1000} onChange={setWords} />
      <Row>
        <Button $tall isDisabled={missing !== null} onPress={keep}>
          {off ? 'Save' : 'Save and continue'}
        </Button>
        {missing && <Quiet>{missing}</Quiet>}
      </Row>
    </Sheet>
  );
}

type CareDetails = Pick<CareNote, 'person' | 'why' | 'regions' | 'side' | 'until' | 'words'>;

/** What is entered about a stop, and what is missing before it can be saved. */
function useCare(note: CareNote, replace: (said: CareDetails) => void, close: () => void) {
  const [person, setPerson] = useState(note.person);
  const [why, setWhy] = useState<Why | null>(whyOf(note.why));
  const [regions, setRegions] = useState<readonly Region[]>(note.regions);
  const [side, setSide] = useState(note.side);
  const [until, setUntil] = useState(note.until);
  const [words, setWords] = useState(note.words);
  const hurts = why === 'pain';
  const off = hurts || (why !== null && ofTheHead.has(why));
  const missing =
    why === null ? 'Say what went wrong.' : hurts && regions.length === 0 ? 'Say where it hurts.' : null;
  const keep = () => {
    if (why === null) return;
    replace({
      person,
      why,
      regions: hurts ? [...regions] : [],
      side: hurts && regions.some((region) => paired.has(region)) ? side : null,
      until: off ? until : today(),
      words,
    });
    close();
  };
  return {
    ...{
      person,
      setPerson,
      why,
      setWhy,
      regions,
      setRegions,
      side,
      setSide,
      until,
      setUntil,
      words,
      setWords,
    },
    ...{ hurts, off, missing, keep },
  };
}

/** Where it hurts; the side for regions that the body has twice. */
function Where({ care: { regions, setRegions, side, setSide } }: { care: ReturnType<typeof useCare> }) {
  return (
    <>
      <fieldset>
        <legend>
          <strong>Where</strong>
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
      {regions.some((region) => paired.has(region)) && (
        <Choice
          label="Side of the body"
          value={side ?? 'both'}
          options={[
            { value: 'right', text: 'Right' },
            { value: 'left', text: 'Left' },
            { value: 'both', text: 'Both' },
          ]}
          onChange={(one) => setSide(one === 'both' ? null : one)}
        />
      )}
    </>
  );
}

/** Until when they rest. */
function Until({ care: { hurts, until, setUntil } }: { care: ReturnType<typeof useCare> }) {
  return (
    <Row>
      <DateField
        label={hurts ? 'Rest this region until' : 'No training until'}
        value={until}
        onChange={(day) => setUntil(day ?? today())}
      />
      {[
        [0, 'today'],
        [3, '3 days'],
        [7, 'a week'],
      ].map(([days, text]) => (
        <Button key={text} $quiet onPress={() => setUntil(daysOn(Number(days)))}>
          {text}
        </Button>
      ))}
    </Row>
  );
}
