import { endpoints, type Followed as One } from '@ulkret/contract';
import { readFor, checkpointWords } from '@ulkret/core/breakdown';
import { type Life, type LifeState, workedWords } from '@ulkret/core/prescription';
import { Link } from 'react-router';
import { useApi } from '../api/use-api';
import { addressOf } from '../api/ask';
import { useKit } from '../device/kit';
import { DataTable } from '../ui/data-table';
import { Fold } from '../ui/fold';
import { Head, Page, Panel, Quiet } from '../ui/frame';
import { Empty, Loaded } from '../ui/states';
import { Title } from '../ui/title';
import { dayOf, percent, range, together } from '../ui/words';

/** Corrections that need something done come first. */
const order: readonly LifeState[] = [
  'stepped back',
  'lapsed',
  'recheck due',
  'in work',
  'accepted',
  'signed off',
  'kept',
  'ended',
  'replaced',
];

/** Everything that was agreed to: how far it has come, and whether it worked. */
export default function Followed() {
  const told = useApi(endpoints.prescriptions);
  const drills = useApi(endpoints.drills);
  const kit = useKit();
  const nameOf = (id: string) => kit.data?.students.find((one) => one.id === id)?.name ?? id;
  const breakdownOf = (id: string) => kit.data?.techniques.find((one) => one.technique.id === id);
  const drillOf = (id: string) => drills.data?.drills.find((one) => one.id === id)?.title ?? id;
  const pointOf = ({ life: { technique, terms } }: One) => {
    const breakdown = breakdownOf(technique)?.breakdown ?? { checkpoints: [] };
    return checkpointWords(breakdown, terms.checkpoint, terms.first);
  };
  return (
    <Page>
      <Head>
        <div>
          <Title>Corrections and their results</Title>
          <Quiet>
            <Link to="/correct">What to correct tonight</Link>
          </Quiet>
        </div>
        <a href={addressOf(endpoints.exportPrescriptions)} download>
          As CSV
        </a>
      </Head>
      <Loaded of={told} what="the corrections">
        {({ prescriptions, tells, coaches }) =>
          prescriptions.length === 0 ? (
            <Empty title="No corrections yet.">
              <p>
                <Link to="/correct">Decide what to correct</Link>: here you then follow each one.
              </p>
            </Empty>
          ) : (
            <>
              <Panel>
                <DataTable
                  label="the corrections"
                  rows={[...prescriptions].sort(
                    (a, b) =>
                      order.indexOf(a.life.state) - order.indexOf(b.life.state) ||
                      (a.life.since < b.life.since ? 1 : -1),
                  )}
                  keyOf={({ life }) => life.id}
                  wordsOf={(one) =>
                    [nameOf(one.life.student), pointOf(one), one.life.state, one.life.terms.cue].join(' ')
                  }
                  columns={[
                    {
                      head: 'Who',
                      cell: ({ life }) => (
                        <Link to={`/readings/${life.technique}/${life.student}`}>{nameOf(life.student)}</Link>
                      ),
                      by: ({ life }) => nameOf(life.student),
                    },
                    {
                      head: 'What',
                      cell: (one) => (
                        <>
                          {pointOf(one)}
                          <br />
                          <Quiet as="span">
                            {breakdownOf(one.life.technique)?.technique.name ?? one.life.technique}
                            {one.life.terms.drill && `, ${drillOf(one.life.terms.drill)}`}, rung{' '}
                            {one.life.terms.rung}
                          </Quiet>
                        </>
                      ),
                    },
                    {
                      head: 'Status',
                      cell: ({ life }) => <Status life={life} />,
                      by: ({ life }) => order.indexOf(life.state),
                    },
                    { head: 'Did it work?', cell: ({ worked }) => together(workedWords(worked)) },
                  ]}
                />
              </Panel>
              <Quiet>
                Problems picked at their worst improve on their own. Compare “lost since” with “without a
                correction”, not with “before”.
              </Quiet>
              <Taken title="By drill" tells={tells.drill} nameOf={drillOf} />
              <Taken title="By cue" tells={tells.cue} nameOf={(cue) => readFor(cue, 'right')} />
              <Taken
                title="By coach"
                tells={tells.coach}
                nameOf={(id) => coaches.find((one) => one.id === id)?.name ?? id}
              />
            </>
          )
        }
      </Loaded>
    </Page>
  );
}

/** Outcomes taken together under a name: of how many it is known, and what was lost before and since. */
function Taken({
  title,
  tells,
  nameOf,
}: {
  title: string;
  tells: Readonly<
    Record<
      string,
      { prescriptions: number; known: number; fell: number } & Pick<
        One['worked'],
        'before' | 'after' | 'untouched'
      >
    >
  >;
  nameOf: (id: string) => string;
}) {
  const rows = Object.entries(tells);
  if (rows.length === 0) return null;
  const rateOf = ({ seen, hazard }: One['worked']['before']) =>
    seen === 0 ? '–' : `${percent(hazard.value)} (${range(hazard)}) of ${seen}`;
  return (
    <Panel>
      <h2>{title}</h2>
      <DataTable
        label={title}
        rows={rows}
        keyOf={([name]) => name}
        wordsOf={([name]) => nameOf(name)}
        columns={[
          { head: '', cell: ([name]) => nameOf(name), by: ([name]) => nameOf(name) },
          {
            head: 'Clearly fell',
            cell: ([, { fell, known, prescriptions }]) =>
              known === 0
                ? `not enough reps yet, of ${prescriptions}`
                : `${fell} of ${known}${prescriptions > known ? ` (${prescriptions - known} too early to say)` : ''}`,
            by: ([, { fell }]) => fell,
          },
          { head: 'Lost before', cell: ([, { before }]) => rateOf(before) },
          { head: 'Lost since', cell: ([, { after }]) => rateOf(after) },
          {
            head: 'Without a correction, about',
            cell: ([, { untouched }]) => (untouched === null ? '–' : percent(untouched)),
          },
        ]}
      />
    </Panel>
  );
}

/** How far a correction has come, with its history. */
function Status({ life }: { life: Life }) {
  return (
    <>
      <strong>{life.state}</strong>
      {life.held.length > 0 && `: held ${life.held.filter(Boolean).length} of ${life.held.length}`}
      {life.due &&
        (life.state === 'recheck due' ? `, due since ${dayOf(life.due)}` : `, recheck ${dayOf(life.due)}`)}
      <Fold says="History">
        {() => (
          <ul>
            {life.events.map(({ at, by, is, words }) => (
              <li key={at + is}>
                {dayOf(at)}: {is} ({by}){words && `, ${words}`}
              </li>
            ))}
          </ul>
        )}
      </Fold>
    </>
  );
}
