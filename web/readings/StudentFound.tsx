import { type Breakdown, placeOf, readFor, type Side } from '@ulkret/core/breakdown';
import { type Prescription, prescriptionWords } from '@ulkret/core/prescription';
import { type CheckpointReading, compare, notesOf, type Reading } from '@ulkret/core/reading';
import { useRef } from 'react';
import { Link } from 'react-router';
import styled from 'styled-components';
import { Caution } from '../ui/caution';
import { Columns, Panel, Quiet } from '../ui/frame';
import { useNarrow } from '../ui/use-narrow';
import { many, percent, range } from '../ui/words';
import { Strand } from '../strand/Strand';
import { useDecisions } from '../reader/use-reading';
import { Accepted } from './Accepted';
import { Causes } from './Causes';
import { Bars } from './charts';
import { Conditions } from './Conditions';
import { Evidence, evidenceQuery } from './Evidence';
import { weighed } from './Frame';

import { type FoundProps, KnotLink, LostHere, OwnCounts, TakeHome } from './StudentStrand';
import { squad } from './squad-name';

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

/** What was read of a student: the strand, what to correct, and the reps behind it. */
export function Found({ known, settings, student, answer, reading, against }: FoundProps) {
  const { breakdown, technique, nameOf } = known;
  const { data: decisions } = useDecisions(breakdown.technique);
  const person = known.students.find((one) => one.id === student);
  const name = person?.name ?? (student === squad ? 'The squad' : nameOf(student));
  const mainSide = person?.mainSide ?? 'right';
  const lead: Side = settings.reads.slice.side ?? mainSide;
  // A correction belongs to the present reading, not to half of a comparison.
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
