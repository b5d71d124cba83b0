import { dequal } from 'dequal';
import { endpoints } from '@ulkret/contract';
import { CheckpointKind, readFor } from '@ulkret/core/breakdown';
import { type Drill, Drill as DrillSchema, DrillKind } from '@ulkret/core/drills';
import { type Rung, rungNames, rungs } from '@ulkret/core/rep';
import { useState } from 'react';
import { Link } from 'react-router';
import { mutate } from 'swr';
import { uuidv7 } from 'uuidv7';
import { useMay } from '../../api/may';
import { addressOf, type ApiRefusal, ask } from '../../api/ask';
import { useApi } from '../../api/use-api';
import { Button } from '../../ui/button';
import { Checkbox } from '../../ui/checkbox';
import { DataTable } from '../../ui/data-table';
import { Sheet } from '../../ui/dialog';
import { Head, Page, Panel, Quiet, Row } from '../../ui/frame';
import { NumberField } from '../../ui/number-field';
import { Select } from '../../ui/select';
import { Loaded, Refused } from '../../ui/states';
import { TextArea, TextField } from '../../ui/text-field';
import { Title } from '../../ui/title';
import { toast } from '../../ui/toast';

const refresh = () => mutate(addressOf(endpoints.drills));

const empty = (): Drill => ({
  id: `drill-${uuidv7().slice(-12)}`,
  title: '',
  kind: 'isolation',
  trains: { kinds: [], answers: false, checkpoints: [], mistakes: [], defences: [], ways: [] },
  setUp: '',
  constraint: '',
  cue: '',
  task: '',
  rungs: { low: 1, high: 2 },
  minutes: 5,
  people: 2,
  loads: [],
  caution: '',
  measure: '',
  retired: false,
});

const trainsWords = ({ trains }: Drill): string =>
  [
    ...trains.kinds,
    ...(trains.answers ? ['answers'] : []),
    ...(trains.pieces?.length ? ['shared pieces'] : []),
  ].join(', ') || 'what names it';

/** Drills: the shipped ones, and those the academy added or changed. */
export default function Drills() {
  const listed = useApi(endpoints.drills);
  const [edited, setEdited] = useState<Drill | null>(null);
  const writes = useMay('coach');
  return (
    <Page>
      <Head>
        <div>
          <Title>Drills</Title>
          <Quiet>
            <Link to="/library">Library</Link>
          </Quiet>
        </div>
        <Row>
          <Button $quiet onPress={() => window.print()}>
            Print
          </Button>
          {writes && <Button onPress={() => setEdited(empty())}>Add a drill</Button>}
        </Row>
      </Head>
      <Quiet>
        Corrections pick the most specific drill: by cause, then checkpoint, then kind. A mistake names drills
        by title, in the workbench.
      </Quiet>
      <Loaded of={listed} what="the drills">
        {({ drills }) => (
          <Panel>
            <DataTable
              label="the drills"
              rows={drills}
              keyOf={({ id }) => id}
              wordsOf={({ title, kind, setUp, cue, task, trains }) =>
                [title, kind, setUp, cue, task, ...trains.kinds].join(' ')
              }
              columns={[
                {
                  head: 'Drill',
                  cell: (one) => (
                    <Button $quiet onPress={() => setEdited(one)}>
                      {one.title}
                      {one.retired && ' (archived)'}
                    </Button>
                  ),
                  by: ({ title }) => title,
                },
                { head: 'Kind', cell: ({ kind }) => kind, by: ({ kind }) => kind },
                { head: 'Trains', cell: trainsWords, by: trainsWords },
                {
                  head: 'Set-up',
                  cell: ({ setUp, constraint }) => (
                    <>
                      {setUp} {constraint && <Quiet as="span">{constraint}</Quiet>}
                    </>
                  ),
                },
                { head: 'Partner', cell: ({ task, people }) => (people === 1 ? 'alone' : task) },
                {
                  head: 'Rungs',
                  cell: ({ rungs: { low, high } }) => (low === high ? low : `${low}–${high}`),
                  by: ({ rungs: { low } }) => low,
                },
                { head: 'Minutes', cell: ({ minutes }) => minutes, by: ({ minutes }) => minutes },
              ]}
            />
          </Panel>
        )}
      </Loaded>
      {edited && <EditDrill drill={edited} close={() => setEdited(null)} />}
    </Page>
  );
}

const rungOptions = rungs.map((rung) => ({ value: String(rung), text: `${rung} ${rungNames[rung]}` }));

function EditDrill({ drill: before, close }: { drill: Drill; close: () => void }) {
  const [drill, setDrill] = useState(before);
  const [refusal, setRefusal] = useState<ApiRefusal | null>(null);
  const put = (part: Partial<Drill>) => setDrill({ ...drill, ...part });
  const read = DrillSchema.safeParse(drill);
  const written = !dequal(drill, before);
  const keep = async (kept: Drill, words: string) => {
    try {
      await ask(endpoints.saveDrill, { params: { id: kept.id }, body: kept });
      await refresh();
      toast(words);
      close();
    } catch (error) {
      setRefusal(error as ApiRefusal);
    }
  };
  return (
    <Sheet label={drill.title || 'New drill'} written={written} close={close}>
      <h2>{drill.title || 'New drill'}</h2>
      <TextField label="Title" value={drill.title} onChange={(title) => put({ title })} />
      <KindAndRungs drill={drill} put={put} />
      <Trains drill={drill} put={put} />
      <TextArea label="Set-up" value={drill.setUp} onChange={(setUp) => put({ setUp })} maxLength={400} />
      <TextField label="Constraint" value={drill.constraint} onChange={(constraint) => put({ constraint })} />
      <TextField label="Cue" value={drill.cue} onChange={(cue) => put({ cue })} />
      <TextField label="What the partner does" value={drill.task} onChange={(task) => put({ task })} />
      <TextField label="Caution" value={drill.caution} onChange={(caution) => put({ caution })} />
      <TextField label="Measure" value={drill.measure} onChange={(measure) => put({ measure })} />
      <Row>
        <NumberField
          label="Minutes per set"
          value={drill.minutes}
          onChange={(minutes) => put({ minutes: minutes ?? 0 })}
        />
        <NumberField
          label="People"
          value={drill.people}
          onChange={(people) => put({ people: people ?? 0 })}
        />
      </Row>
      {written && !read.success && (
        <p role="alert" style={{ color: 'var(--stop)' }}>
          {read.error.issues[0]!.path.length > 0 && `${read.error.issues[0]!.path.join(' ')}: `}
          {read.error.issues[0]!.message}
        </p>
      )}
      <Refused by={refusal} />
      <Row>
        <Button
          isDisabled={!written || !read.success}
          onPress={() => void keep(drill, `“${drill.title}” saved.`)}
        >
          Save drill
        </Button>
        {before.title !== '' && (
          <Button
            $quiet
            onPress={() =>
              void keep(
                { ...before, retired: !before.retired },
                before.retired ? `“${before.title}” restored.` : `“${before.title}” archived.`,
              )
            }
          >
            {before.retired ? 'Restore' : 'Archive'}
          </Button>
        )}
        <Button $quiet onPress={close}>
          Cancel
        </Button>
      </Row>
    </Sheet>
  );
}

interface Part {
  drill: Drill;
  put: (part: Partial<Drill>) => void;
}

function KindAndRungs({ drill, put }: Part) {
  return (
    <Row>
      <Select
        label="Kind"
        options={DrillKind.options.map((value) => ({ value, text: value }))}
        value={drill.kind}
        onChange={(kind) => put({ kind })}
      />
      <Select
        label="From rung"
        options={rungOptions}
        value={String(drill.rungs.low)}
        onChange={(low) => put({ rungs: { ...drill.rungs, low: Number(low) as Rung } })}
      />
      <Select
        label="to rung"
        options={rungOptions}
        value={String(drill.rungs.high)}
        onChange={(high) => put({ rungs: { ...drill.rungs, high: Number(high) as Rung } })}
      />
    </Row>
  );
}

/** The kinds of checkpoint and the pieces that a drill trains. */
function Trains({ drill, put }: Part) {
  const { kinds, pieces: trained = [] } = drill.trains;
  const pieces = useApi(endpoints.pieces).data?.pieces;
  const trains = (part: Partial<Drill['trains']>) => put({ trains: { ...drill.trains, ...part } });
  return (
    <>
      <Row role="group" aria-label="Trains">
        {CheckpointKind.options.map((kind) => (
          <Checkbox
            key={kind}
            isSelected={kinds.includes(kind)}
            onChange={(on) => trains({ kinds: on ? [...kinds, kind] : kinds.filter((one) => one !== kind) })}
          >
            {kind}
          </Checkbox>
        ))}
        <Checkbox isSelected={drill.trains.answers} onChange={(answers) => trains({ answers })}>
          answers to a defence
        </Checkbox>
      </Row>
      {pieces && (
        <Row role="group" aria-label="Shared pieces that it trains">
          {pieces.map(({ id, title }) => (
            <Checkbox
              key={id}
              isSelected={trained.includes(id)}
              onChange={(on) =>
                trains({ pieces: on ? [...trained, id] : trained.filter((one) => one !== id) })
              }
            >
              {readFor(title, 'right')}
            </Checkbox>
          ))}
        </Row>
      )}
    </>
  );
}
