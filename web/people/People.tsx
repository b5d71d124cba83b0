import { endpoints, type TechniqueRow } from '@ulkret/contract';
import { readFor } from '@ulkret/core/breakdown';
import { gradeWords, type RuleSet } from '@ulkret/core/care';
import {
  estimated,
  isMinor,
  type Measured,
  measuredWords,
  openInjuries,
  type Student,
} from '@ulkret/core/people';
import { lazy, Suspense, useState } from 'react';
import { Link } from 'react-router';
import styled from 'styled-components';
import { useMay } from '../api/may';
import { useHere } from '../api/signed-in';
import { useApi } from '../api/use-api';
import { rulesOf, today, useKit } from '../device/kit';
import { decidedReads, useDecisions, useRates } from '../reader/use-reading';
import { RopeThumb } from '../strand/RopeThumb';
import { Empty, Loaded } from '../ui/states';
import { Button, WordButton } from '../ui/button';
import { Sheet } from '../ui/dialog';
import { Head, Page, Panel, Quiet, Row } from '../ui/frame';
import { Select } from '../ui/select';
import { type Column, DataTable } from '../ui/data-table';
import { many } from '../ui/words';
import { StudentForm } from './StudentForm';
import { Title } from '../ui/title';

const NameCell = styled.span`
  display: grid;
  justify-items: start;
  line-height: 1.2;
  a {
    display: inline-block;
    min-height: 24px;
    font-size: 0.88rem;
  }
`;

const ReadList = lazy(() => import('./ReadList'));
const ManyAtOnce = lazy(() => import('./ManyAtOnce'));

const whoWords = {
  roster: 'on the roster',
  care: 'minors and open injuries',
  guests: 'guests',
  archived: 'archived',
  'left long ago': 'left long ago',
} as const;
type Who = keyof typeof whoWords;
const whos = Object.keys(whoWords) as Who[];

const isOf: Readonly<Record<Who, (student: Student, day: string, leftBefore: string | null) => boolean>> = {
  roster: ({ archived }) => !archived,
  care: (student, day) =>
    !student.archived && (isMinor(student, day) || openInjuries(student, day).length > 0),
  guests: ({ archived, guest }) => !archived && guest,
  archived: ({ archived }) => archived,
  'left long ago': ({ archived, archivedOn }, _, leftBefore) =>
    archived && archivedOn !== null && leftBefore !== null && archivedOn < leftBefore,
};

/** The day this many months before another (ISO dates). */
function monthsBefore(day: string, months: number): string {
  const date = new Date(`${day}T00:00:00Z`);
  date.setUTCMonth(date.getUTCMonth() - months);
  return date.toISOString().slice(0, 10);
}

/** The thumbnail of the strand, for a screen reader. */
const worksOn = ({ technique, strand }: TechniqueRow, at: string | undefined): string => {
  const place = strand.findIndex(({ id }) => id === at);
  return place < 0
    ? `${technique.name}: nothing to correct yet`
    : `${technique.name}: works on ${place + 1} ${readFor(strand[place]!.title, 'right')}`;
};

export default function People() {
  const students = useApi(endpoints.students);
  const keeps = useMay('coach');
  const keepsRules = useMay('head');
  const [open, setOpen] = useState<Student | 'new' | null>(null);
  const day = today();
  const [reading, setReading] = useState(false);
  const [who, setWho] = useState<Who>('roster');
  const kit = useKit();
  const rules = rulesOf(kit.data);
  // Leavers from before this day should be erased, as the rules say; erased people are not listed.
  const { leftMonths } = rules.keep;
  const leftBefore = leftMonths === null ? null : monthsBefore(day, leftMonths);
  const [chosen, setChosen] = useState<ReadonlySet<string> | undefined>();
  const columns = useColumns(
    setOpen,
    rules,
    (students.data?.students ?? []).some(({ grade }) => grade !== null),
  );
  const shown = (rows: readonly Student[]) => rows.filter((row) => isOf[who](row, day, leftBefore));
  return (
    <Page>
      <PeopleHead keeps={keeps} read={() => setReading(true)} add={() => setOpen('new')} />
      <Loaded of={students} what="the roster">
        {({ students: rows }) =>
          rows.length === 0 ? (
            <NobodyYet />
          ) : (
            <>
              {leftBefore !== null && keepsRules && (
                <LeftLongAgo
                  n={rows.filter((row) => isOf['left long ago'](row, day, leftBefore)).length}
                  months={leftMonths!}
                  show={() => {
                    setWho('left long ago');
                    setChosen(new Set());
                  }}
                />
              )}
              <Panel>
                <Row>
                  <ShowWho
                    value={who}
                    withLongGone={leftBefore !== null}
                    choose={(value) => {
                      setWho(value);
                      setChosen(chosen && new Set());
                    }}
                  />
                  {keeps && (
                    <Button $quiet onPress={() => setChosen(chosen ? undefined : new Set())}>
                      {chosen ? 'Done' : 'Select several'}
                    </Button>
                  )}
                </Row>
                <Quiet>{many(shown(rows).length, 'student')}. Personal data: lock this device.</Quiet>
                <DataTable
                  label="the roster"
                  rows={shown(rows)}
                  keyOf={({ id }) => id}
                  wordsOf={({ name }) => name}
                  columns={columns}
                  chosen={chosen}
                  onChoose={setChosen}
                />
                <Suspense>
                  {chosen && chosen.size > 0 && (
                    <ManyAtOnce
                      chosen={rows.filter(({ id }) => chosen.has(id))}
                      rules={rules}
                      leftLongAgo={who === 'left long ago'}
                      done={() => setChosen(undefined)}
                    />
                  )}
                </Suspense>
              </Panel>
            </>
          )
        }
      </Loaded>
      <Suspense>
        {reading && <ReadList known={students.data?.students ?? []} close={() => setReading(false)} />}
      </Suspense>
      <StudentSheet of={open} close={() => setOpen(null)} saved={() => void students.mutate()} />
    </Page>
  );
}

/** Leavers whose time is over: the rules say to erase them. */
function LeftLongAgo({ n, months, show }: { n: number; months: number; show: () => void }) {
  return (
    n > 0 && (
      <Panel role="note">
        <p>
          {many(n, 'student')} left more than {many(months, 'month')} ago. Your rules say to erase them.
        </p>
        <Button $quiet onPress={show}>
          Show them
        </Button>
      </Panel>
    )
  );
}

/** The roster's columns; with the strand of what was drilled last. */
function useColumns(open: (student: Student) => void, rules: RuleSet, hasGrades: boolean): Column<Student>[] {
  const keeps = useMay('coach');
  const day = today();
  const { academy } = useHere();
  const techniques = useApi(endpoints.techniques);
  const sessions = useApi(endpoints.sessions);
  const last = sessions.data?.sessions[0]?.session.technique;
  const drilled = techniques.data?.techniques.find(({ technique }) => technique.id === last);
  const { data: decisions } = useDecisions(drilled?.technique.id);
  const { data: rates } = useRates(drilled?.technique.id, decidedReads);
  const measured = (of: Measured, value: number | null) =>
    value === null ? '–' : measuredWords(academy.units, of, value);
  return [
    {
      head: 'Name',
      cell: (student) => (
        <NameCell>
          {keeps ? <WordButton onPress={() => open(student)}>{student.name}</WordButton> : student.name}
          <Link to={`/people/${student.id}`} aria-label={`All readings of ${student.name}`}>
            readings
          </Link>
        </NameCell>
      ),
      by: ({ name }) => name,
    },
    ...(drilled
      ? [
          {
            head: `Works on: ${drilled.technique.name}`,
            cell: ({ id }: Student) => {
              const decided = decisions?.get(id);
              const own = rates?.reading.students.find(({ student }) => student === id);
              const at = decided?.kind === 'correct' ? decided.checkpoint : undefined;
              if (!own) return '–';
              return (
                <Link to={`/readings/${drilled.technique.id}/${id}`} aria-label={worksOn(drilled, at)}>
                  <RopeThumb
                    knots={drilled.strand}
                    checkpoints={own.checkpoints}
                    marked={at}
                    gap={19}
                    full={15}
                  />
                </Link>
              );
            },
          },
        ]
      : []),
    { head: 'Main side', cell: ({ mainSide }) => mainSide, by: ({ mainSide }) => mainSide },
    {
      head: 'Experience',
      cell: ({ experienceMonths }) =>
        experienceMonths === null ? 'not known' : many(experienceMonths, 'month'),
      by: ({ experienceMonths }) => experienceMonths,
    },
    ...(rules.ladder.length > 0 || hasGrades
      ? [
          {
            head: 'Grade',
            cell: ({ grade }: Student) => (grade === null ? '–' : gradeWords(rules, grade)),
            by: ({ grade }: Student) => grade,
          },
        ]
      : []),
    {
      head: 'Stature',
      cell: ({ statureCm }) => measured('length', statureCm),
      by: ({ statureCm }) => statureCm,
    },
    { head: 'Mass', cell: ({ massKg }) => measured('mass', massKg), by: ({ massKg }) => massKg },
    {
      head: 'Arm span',
      cell: (student) => {
        const guess = estimated(student, 'armSpanCm');
        return guess === null ? (
          measured('length', student.armSpanCm)
        ) : (
          <Quiet as="span" title="Estimated from stature">
            about {measured('length', guess)}
          </Quiet>
        );
      },
      by: ({ armSpanCm }) => armSpanCm,
    },
    { head: 'Hips', cell: ({ hipMobility }) => hipMobility ?? '–', by: ({ hipMobility }) => hipMobility },
    {
      head: 'Care',
      cell: (student) =>
        [
          ...(student.archived ? ['archived'] : []),
          ...(student.guest ? ['guest'] : []),
          ...(isMinor(student, day) ? ['minor'] : []),
          ...openInjuries(student, day).map(({ region, side }) => `${side ?? ''} ${region}`.trim()),
        ].join(', '),
    },
  ];
}

function PeopleHead({ keeps, read, add }: { keeps: boolean; read: () => void; add: () => void }) {
  return (
    <Head>
      <Title>People</Title>
      {keeps && (
        <Row>
          <Button $quiet onPress={read}>
            Import a list
          </Button>
          <Button $tall onPress={add}>
            Add a student
          </Button>
        </Row>
      )}
    </Head>
  );
}

const NobodyYet = () => (
  <Empty title="The roster is empty.">
    <p>A name is enough to start; add measurements later. You can also import a list from a spreadsheet.</p>
  </Empty>
);

function ShowWho({
  value,
  withLongGone,
  choose,
}: {
  value: Who;
  withLongGone: boolean;
  choose: (who: Who) => void;
}) {
  return (
    <Select
      label="Show"
      options={whos
        .filter((one) => one !== 'left long ago' || withLongGone)
        .map((one) => ({ value: one, text: whoWords[one] }))}
      value={value}
      onChange={choose}
    />
  );
}

/** A student who is added or changed, over the roster. */
function StudentSheet({
  of: open,
  close,
  saved,
}: {
  of: Student | 'new' | null;
  close: () => void;
  saved: () => void;
}) {
  return (
    <Sheet
      label={open === 'new' ? 'Add a student' : 'Change a student'}
      isOpen={open !== null}
      written
      close={close}
    >
      {open !== null && (
        <StudentForm
          student={open === 'new' ? null : open}
          done={() => {
            close();
            saved();
          }}
          cancel={close}
        />
      )}
    </Sheet>
  );
}
