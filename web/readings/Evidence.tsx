import { endpoints, evidenceAtOnce, type InputOf, type OutputOf } from '@ulkret/contract';
import { type Breakdown, readFor, type Side, numberOf } from '@ulkret/core/breakdown';
import type { Rep } from '@ulkret/core/rep';
import { useState } from 'react';
import { uuidv7 } from 'uuidv7';
import { useApi } from '../api/use-api';
import { useHere } from '../api/signed-in';
import { stamp } from '../device/session-log';
import { useOutbox, useSyncState } from '../device/use-outbox';
import { Loaded } from '../ui/states';
import { Button } from '../ui/button';
import { Select } from '../ui/select';
import { Panel, Quiet, Row } from '../ui/frame';
import { grouped, many } from '../ui/words';
import type { Reads } from '../reader/use-reading';
import { RepLine, RepList } from './RepList';
import type { Settings } from './settings';

const atFirst = 12;

/** The question whose answer are the reps behind a number, asked with the settings that the number was read with. */
export const evidenceQuery = (
  settings: Settings,
  technique: string,
  checkpoint: string,
  student: string | undefined,
  { slice, period }: Pick<Reads, 'slice' | 'period'> = settings.reads,
): EvidenceProps['query'] => ({
  technique,
  checkpoint,
  student,
  asOf: period.asOf,
  weeks: period.weeks,
  rung: slice.rung ?? undefined,
  side: slice.side ?? undefined,
  partner: slice.partner ?? undefined,
});

interface EvidenceProps {
  query: InputOf<typeof endpoints.evidence>['query'];
  breakdown: Breakdown;
  lead: Side;
  /** The n that the reading gave; what is listed must be as many. */
  expected: number;
}

/** The reps that a number is made of, latest first. */
export function Evidence({ query, breakdown, lead, expected }: EvidenceProps) {
  const evidence = useApi(endpoints.evidence, { query });
  const { coach } = useHere();
  const [pages, setPages] = useState(0);
  const [looking, setLooking] = useState(false);
  return (
    <Panel>
      <h2>The reps behind it</h2>
      <Loaded of={evidence} what="the reps">
        {({ reps, reached, failed }) => {
          const left = reached - Math.max(atFirst, pages * evidenceAtOnce);
          return (
            <>
              <p data-testid="evidence">
                {many(reached, 'rep')} reached it: {grouped(failed)} ended there, {grouped(reached - failed)}{' '}
                went on.
                {reached !== expected && (
                  <Quiet as="span"> New reps have come in since the reading was made.</Quiet>
                )}
              </p>
              <Reps
                of={pages === 0 ? reps.slice(0, atFirst) : reps}
                {...{ query, breakdown, lead, looking }}
              />
              {Array.from({ length: Math.max(0, pages - 1) }, (_, i) => (
                <Earlier key={i} skip={(i + 1) * evidenceAtOnce} {...{ query, breakdown, lead, looking }} />
              ))}
              <Row>
                {left > 0 && (
                  <Button $quiet onPress={() => setPages(pages + 1)}>
                    {reached <= (pages + 1) * evidenceAtOnce
                      ? `Show all ${reached}`
                      : `Show ${(pages + 1) * evidenceAtOnce} of ${reached}`}
                  </Button>
                )}
                {reps.some(({ rep }) => rep.observer !== coach.id) && (
                  <Button $quiet onPress={() => setLooking(!looking)}>
                    {looking ? 'Done' : 'Add a second opinion'}
                  </Button>
                )}
              </Row>
            </>
          );
        }}
      </Loaded>
    </Panel>
  );
}

type Among = Pick<EvidenceProps, 'query' | 'breakdown' | 'lead'> & { looking: boolean };

/** A further page of reps, earlier ones. */
function Earlier({ skip, ...among }: Among & { skip: number }) {
  const evidence = useApi(endpoints.evidence, { query: { ...among.query, skip } });
  return (
    <Loaded of={evidence} what="the reps">
      {({ reps }) => <Reps of={reps} {...among} />}
    </Loaded>
  );
}

function Reps({
  of,
  query,
  breakdown,
  lead,
  looking,
}: Among & { of: OutputOf<typeof endpoints.evidence>['reps'] }) {
  const students = useApi(endpoints.students);
  const { coach } = useHere();
  const nameOf = (id: string) => students.data?.students.find((one) => one.id === id)?.name ?? id;
  const causeOf = (id: string) =>
    readFor([...breakdown.mistakes, ...breakdown.defences].find((one) => one.id === id)?.title ?? id, lead);
  return (
    <RepList>
      {of.map(({ rep, observation }) => (
        <RepLine
          key={rep.id}
          word={observation}
          mood={observation}
          name={query.student ? undefined : nameOf(rep.student)}
          numberOf={(id) => numberOf(breakdown, id)}
          {...{ rep, nameOf }}
        >
          {rep.cause && observation === 'failed' && `: ${causeOf(rep.cause)}`}
          {looking && rep.observer !== coach.id && (
            <>
              {' '}
              <SecondOpinion rep={rep} breakdown={breakdown} lead={lead} />
            </>
          )}
        </RepLine>
      ))}
    </RepList>
  );
}

/** A second opinion on another coach's rep, for agreement only. */
function SecondOpinion({ rep, breakdown, lead }: { rep: Rep; breakdown: Breakdown; lead: Side }) {
  const { coach } = useHere();
  const outbox = useOutbox();
  const { waiting } = useSyncState();
  const [kept, setKept] = useState(false);
  if (kept)
    return (
      <Quiet as="span" role="status">
        {waiting > 0 ? 'sending' : 'saved'}
      </Quiet>
    );
  const keep = (choice: string) => {
    const fact = {
      id: uuidv7(),
      rep: rep.id,
      stop: choice === 'finished' ? null : choice,
      at: stamp(),
      observer: coach.id,
    };
    void outbox.record(rep.session ?? rep.id, { is: 'looks', fact }).then(() => setKept(true));
  };
  return (
    <Select<string>
      label="Your second opinion"
      unlabelled
      value=""
      options={[
        { value: '', text: 'I saw it as …' },
        ...breakdown.checkpoints.map(({ id, title }, i) => ({
          value: id,
          text: `stopped at ${i + 1} ${readFor(title, lead)}`,
        })),
        { value: 'finished', text: 'finished' },
      ]}
      onChange={(stop) => stop !== '' && keep(stop)}
    />
  );
}
