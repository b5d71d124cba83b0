import { type Breakdown, placeOf, readFor, type Side } from '@ulkret/core/breakdown';
import { type Prescription, prescriptionWords } from '@ulkret/core/prescription';
import { type CheckpointReading, compare, notesOf, type Reading } from '@ulkret/core/reading';
import { useRef } from 'react';
import { Link, useParams } from 'react-router';
import styled from 'styled-components';
import { Nobody } from '../ui/nobody';
import { saveFile } from '../ui/save-file';
import { Button } from '../ui/button';
import { Caution } from '../ui/caution';
import { Columns, Panel, Quiet, Row } from '../ui/frame';
import { useNarrow } from '../ui/use-narrow';
import { many, percent, range, sure } from '../ui/words';
import { strandPng, strandSvg } from '../strand/picture';
import { Strand } from '../strand/Strand';
import type { Answer } from '../reader/asking';
import { useDecisions, useReading, type ReadingState } from '../reader/use-reading';
import { type Against, againstOf } from './against';
import { Accepted } from './Accepted';
import { AgainstPick } from './AgainstPick';
import { Causes } from './Causes';
import { Bars } from './charts';
import { Conditions } from './Conditions';
import { Evidence, evidenceQuery } from './Evidence';
import { Exports, type Known, NoReps, Read, ReadingFrame, weighed } from './Frame';
import { type Settings, useSettings } from './settings';

const KnotLink = styled(Link)`
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: 0 1rem;
  padding: 0.4rem 0.7rem;
  border-radius: 8px;
  color: var(--ink);
  text-decoration: none;
  line-height: 1.25;
  strong {
    font-weight: 600;
  }
  em {
    font-style: normal;
    font-weight: 650;
    text-align: right;
  }
  small {
    color: var(--muted);
    font-size: 0.88rem;
  }
  small {
    grid-column: 1 / -1;
  }
  @media (max-width: 640px) {
    grid-template-columns: minmax(0, 1fr);
    padding: 0.2rem 0.4rem;
    line-height: 1.2;
    em {
      text-align: left;
      font-size: 0.92rem;
    }
    small {
      font-size: 0.84rem;
    }
  }
  &[aria-current] {
    background: var(--wash);
  }
`;

const Told = styled(Panel)`
  display: grid;
  gap: 0.6rem;
  border-top: 4px solid var(--action);
  h2 {
    font-size: 1.25rem;
  }
`;

const NoteList = styled.ul`
  display: grid;
  gap: 0.6rem;
  margin-top: 0.6rem;
`;

/** The squad as a whole has its own row and its own strand; this is its name in the address. */
const squad = 'squad';

export default function StudentPage() {
  const { technique: id = '', student = '' } = useParams();
  const settings = useSettings();
  // Asked for along with the breakdown and the roster, not after them.
  const against = againstOf(settings);
  const first = useReading(id, against?.first ?? settings.reads);
  const second = useReading(id, against?.second ?? null);
  const whose = (known: Known) => (student === squad ? 'the squad’s' : `${known.nameOf(student)}’s`);
  const isKnown = (known: Known) =>
    student === squad || known.students.some(({ id: someone }) => someone === student);
  return (
    <ReadingFrame
      technique={id}
      settings={settings}
      title={(known) => (isKnown(known) ? `Where do ${whose(known)} reps end?` : 'Student not found')}
      also={(known) =>
        student !== squad &&
        isKnown(known) && (
          <Link to={settings.to(`/people/${student}`)}>All that {known.nameOf(student)} drills</Link>
        )
      }
      more={<AgainstPick settings={settings} />}
    >
      {(known) =>
        isKnown(known) ? (
          <StudentRead {...{ known, settings, student, against, first, second }} />
        ) : (
          <Nobody
            or={
              <>
                read{' '}
                <Link to="../squad" relative="path">
                  the squad
                </Link>
              </>
            }
          />
        )
      }
    </ReadingFrame>
  );
}

function StudentRead({
  known,
  settings,
  student,
  against,
  first,
  second,
}: {
  known: Known;
  settings: Settings;
  student: string;
  against: Against | null;
  first: ReadingState<Answer>;
  second: ReadingState<Answer>;
}) {
  const of = ({ reading }: Answer) =>
    student === squad ? reading.squad : reading.students.find((one) => one.student === student);
  return (
    <>
      <Read of={first}>
        {(answer) => {
          const own = of(answer);
          if (!own || own.reps === 0) return <NoReps settings={settings} />;
          const found = { known, settings, student, answer, reading: own };
          if (!against) return <Found {...found} />;
          return (
            <Read of={second} silent>
              {(other) => {
                const later = of(other);
                return later ? (
                  <Found {...found} against={{ ...against, reading: later }} />
                ) : (
                  <NoReps settings={settings} />
                );
              }}
            </Read>
          );
        }}
      </Read>
    </>
  );
}

interface FoundProps {
  known: Known;
  settings: Settings;
  student: string;
  answer: Answer;
  reading: Reading;
  /** The reading that is laid over this one. */
  against?: Against & { reading: Reading };
}

function Found({ known, settings, student, answer, reading, against }: FoundProps) {
  const { breakdown, technique, nameOf } = known;
  const { data: decisions } = useDecisions(breakdown.technique);
  const person = known.students.find((one) => one.id === student);
  const name = person?.name ?? (student === squad ? 'The squad' : nameOf(student));
  const mainSide = person?.mainSide ?? 'right';
  const lead: Side = settings.reads.slice.side ?? mainSide;
  // What to correct is said of the reading as it is now, not of half a comparison.
  const prescription = against ? null : (decisions?.get(student) ?? null);
  /** The state behind the panels next to the strand. */
  const besides =
    against &&
    (against.beside === 'second' || against.reading.finishRate.value < reading.finishRate.value
      ? { reading: against.reading, reads: against.second, words: against.then }
      : { reading, reads: against.first, words: against.names[0] });
  const told = besides?.reading ?? reading;
  const worst = told.checkpoints.reduce((a, b) => (b.leak.value > a.leak.value ? b : a));
  const chosen =
    settings.search.get('checkpoint') ??
    (prescription && prescription.kind !== 'none' ? prescription.checkpoint : worst.checkpoint);
  const at = told.checkpoints.find(({ checkpoint }) => checkpoint === chosen) ?? worst;
  const linkTo = (checkpoint: string) => {
    const search = new URLSearchParams(settings.search);
    search.set('checkpoint', checkpoint);
    return `?${search}`;
  };
  const compared = against && compare(reading, against.reading);
  const narrow = useNarrow();
  const ropeWidth = narrow ? 116 : 184;
  const list = useRef<HTMLDivElement>(null);
  const strand = () => list.current!.querySelector('ol')!;
  const notes = student === squad || against ? [] : notesOf(breakdown, reading, name, mainSide);
  return (
    <Columns>
      <Panel ref={list}>
        <OwnCounts reading={reading} against={against} />
        <Strand
          label={`${name}: where the reps end`}
          knots={breakdown.checkpoints}
          reading={reading}
          against={against?.reading}
          selected={at.checkpoint}
          rowHeight={narrow ? 128 : against ? 92 : 78}
          width={ropeWidth}
          row={({ id }, place) => {
            return (
              <KnotLink to={linkTo(id)} replace aria-current={id === at.checkpoint ? 'true' : undefined}>
                <strong>
                  {place + 1} {readFor(breakdown.checkpoints[place]!.title, lead)}
                </strong>
                <LostHere one={reading.checkpoints[place]!} both={compared?.[place]} then={against?.then} />
              </KnotLink>
            );
          }}
        />
        <p style={{ paddingLeft: ropeWidth + 12 }}>
          <strong>{percent(reading.finishRate.value)} finish</strong>
        </p>
        <Quiet>
          Width is the share of reps still alive. Mistakes fray left, defences right; hatched: untagged.{' '}
          {weighed(answer.settings)}
        </Quiet>
        <TakeHome name={`${breakdown.technique}-${student}`} {...{ answer, reading, strand }} />
      </Panel>
      <div>
        {prescription && (
          <Prescribed {...{ prescription, breakdown, student, name, lead, caution: technique.safetyNote }} />
        )}
        <Findings of={notes} linkTo={linkTo} />
        <CheckpointDetail
          at={at}
          breakdown={breakdown}
          lead={lead}
          reading={told}
          of={besides?.words}
          more={settings.to(`/readings/${breakdown.technique}/at/${at.checkpoint}`)}
        />
        <Conditions at={at} />
        <Gains {...{ name, student, lead, breakdown }} reading={told} />
        <Evidence
          query={evidenceQuery(
            settings,
            breakdown.technique,
            at.checkpoint,
            student === squad ? undefined : student,
            besides?.reads,
          )}
          breakdown={breakdown}
          lead={lead}
          expected={at.reached}
        />
      </div>
    </Columns>
  );
}

function Prescribed({
  prescription,
  breakdown,
  student,
  name,
  lead,
  caution,
}: {
  prescription: Prescription;
  breakdown: Breakdown;
  student: string;
  name: string;
  lead: Side;
  caution: string;
}) {
  const { what, why, how } = prescriptionWords(breakdown, prescription, name, lead);
  return (
    <Told data-testid="prescription">
      <h2>{what}</h2>
      <p>{why}</p>
      {how && <p>{how}</p>}
      {prescription.kind === 'correct' && <Caution note={caution} />}
      <Accepted student={student} breakdown={breakdown} lead={lead} />
    </Told>
  );
}

function CheckpointDetail({
  at,
  breakdown,
  lead,
  reading,
  of,
  more,
}: {
  at: CheckpointReading;
  breakdown: Breakdown;
  lead: Side;
  reading: Reading;
  /** Which half of a comparison it is of, where there is one. */
  of: string | undefined;
  more: string;
}) {
  const place = placeOf(breakdown, at.checkpoint);
  return (
    <Panel>
      <h2>
        {place + 1} {readFor(breakdown.checkpoints[place]!.title, lead)}
      </h2>
      {of && <Quiet>Here and below: {of.toLowerCase()}.</Quiet>}
      <p>
        {at.enough ? (
          <>
            Fixing all that starts here would lift the finish rate from {percent(reading.finishRate.value)} to{' '}
            {percent(reading.finishRate.value + at.rootGain.value)} (by {range(at.rootGain)}).
          </>
        ) : (
          <>
            The range is still wide, {range(at.hazard)}: needs {many(at.moreNeeded, 'more rep')} here to
            narrow it.
          </>
        )}{' '}
        <Link to={more}>Everybody at this checkpoint</Link>
      </p>
      <Causes at={at} breakdown={breakdown} lead={lead} />
    </Panel>
  );
}

/** What of 100 reps finishes, or what two readings finish. */
function OwnCounts({ reading, against }: Pick<FoundProps, 'reading' | 'against'>) {
  return (
    <p style={{ marginBottom: '0.8rem' }}>
      {against ? (
        <>
          {against.names[0]}, {percent(reading.finishRate.value)} finish ({many(reading.reps, 'rep')});{' '}
          {against.names[1]}, the dashed outline, {percent(against.reading.finishRate.value)} (
          {many(against.reading.reps, 'rep')}).
        </>
      ) : (
        <>
          Of 100 reps now, about <strong>{Math.round(reading.finishRate.value * 100)}</strong> finish (
          {range(reading.finishRate)}). Counted: {reading.finished} finishes in {many(reading.reps, 'rep')}.
        </>
      )}
    </p>
  );
}

/** What is lost at one checkpoint, or how it differs between two readings. */
function LostHere({
  one,
  both,
  then,
}: {
  one: CheckpointReading;
  both: ReturnType<typeof compare>[number] | undefined;
  then: string | undefined;
}) {
  return (
    <>
      <em>{percent(one.leak.value)} lost</em>
      {both ? (
        <small>
          {percent(both.first.hazard.value)} of {both.first.reached} → {percent(both.second.hazard.value)} of{' '}
          {both.second.reached}
          {both.fell === null
            ? ' · not enough yet to compare'
            : ` · ${both.fell >= 0.5 ? 'lower' : 'higher'} ${then}, chance ${sure(Math.max(both.fell, 1 - both.fell))}`}
        </small>
      ) : (
        <small>
          {one.failed} of the {one.reached} that got here: {percent(one.hazard.value)}, {range(one.hazard)}
          {!one.enough && ` · still wide, needs ${one.moreNeeded} more`}
        </small>
      )}
    </>
  );
}

/** The strand as a picture, the reading as a table. */
function TakeHome({
  name: file,
  answer,
  reading,
  strand,
}: Pick<FoundProps, 'answer' | 'reading'> & { name: string; strand: () => Element }) {
  return (
    <Row style={{ marginTop: '0.8rem' }}>
      <Button $quiet onPress={() => saveFile(`${file}.svg`, strandSvg(strand()).text, 'image/svg+xml')}>
        Strand as SVG
      </Button>
      <Button $quiet onPress={() => void strandPng(strand()).then((png) => saveFile(`${file}.png`, png))}>
        Strand as PNG
      </Button>
      <Exports
        name={file}
        answer={answer}
        columns={['checkpoint', 'reached', 'failed', 'hazard', 'hazard_low', 'hazard_high', 'leak', 'gain']}
        rows={() =>
          reading.checkpoints.map((one) => [
            one.checkpoint,
            one.reached,
            one.failed,
            one.hazard.value,
            one.hazard.low,
            one.hazard.high,
            one.leak.value,
            one.rootGain.value,
          ])
        }
      />
    </Row>
  );
}

function Findings({
  of: notes,
  linkTo,
}: {
  of: ReturnType<typeof notesOf>;
  linkTo: (checkpoint: string) => string;
}) {
  return (
    notes.length > 0 && (
      <Panel>
        <h2>Findings</h2>
        <NoteList>
          {notes.map(({ checkpoint, text }) => (
            <li key={text}>
              <Link to={linkTo(checkpoint)} replace>
                {text}
              </Link>
            </li>
          ))}
        </NoteList>
      </Panel>
    )
  );
}

/** How much the finish rate rises if each checkpoint is fixed. */
function Gains({
  name,
  student,
  lead,
  breakdown,
  reading: told,
}: {
  name: string;
  student: string;
  lead: Side;
  breakdown: Breakdown;
  reading: Reading;
}) {
  return (
    <Panel>
      <h2>What would fixing it give {student === squad ? 'the squad' : name}?</h2>
      <Quiet>How much the finish rate rises if you fix this.</Quiet>
      <Bars
        label={`What fixing each checkpoint would add to the finish rate of ${name}`}
        lines={[...told.checkpoints]
          .sort((a, b) => b.rootGain.value - a.rootGain.value)
          .filter(({ rootGain }) => rootGain.value > 0.002)
          .map(({ checkpoint, rootGain }) => {
            const place = placeOf(breakdown, checkpoint);
            return {
              name: `${place + 1} ${readFor(breakdown.checkpoints[place]!.title, lead)}`,
              value: rootGain,
            };
          })}
      />
    </Panel>
  );
}
