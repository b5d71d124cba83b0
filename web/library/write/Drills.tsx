import { useAskingForm } from '../../api/use-form';
import { AreaOf, FaultOf, Form, type FormOf, NumberOf, PickOf, TextOf } from '../../ui/form';
import { endpoints } from '@ulkret/contract';
import { CheckpointKind, readFor } from '@ulkret/core/breakdown';
import { type Drill, Drill as DrillSchema, DrillKind } from '@ulkret/core/drills';
import { rungNames, rungs } from '@ulkret/core/rep';
import { useState } from 'react';
import { Link } from 'react-router';
import { mutate } from 'swr';
import { uuidv7 } from 'uuidv7';
import { useMay } from '../../api/may';
import { addressOf, ask } from '../../api/ask';
import { useApi } from '../../api/use-api';
import { Button } from '../../ui/button';
import { Checkbox } from '../../ui/checkbox';
import { DataTable } from '../../ui/data-table';
import { Sheet, SheetActions } from '../../ui/dialog';
import { Head, Page, Panel, Quiet, Row } from '../../ui/frame';
import { Loaded, Refused } from '../../ui/states';
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

const rungOptions = rungs.map((rung) => ({
  value: String(rung),
  is: rung,
  text: `${rung} ${rungNames[rung]}`,
}));

function EditDrill({ drill: before, close }: { drill: Drill; close: () => void }) {
  const { control, values, put, written, submit, sent, refusal } = useAskingForm(
    DrillSchema,
    before,
    async (drill) => {
      await ask(endpoints.saveDrill, { params: { id: drill.id }, body: drill });
      await refresh();
      const said = drill.retired === before.retired ? 'saved' : drill.retired ? 'archived' : 'restored';
      toast(`“${drill.title}” ${said}.`);
      close();
    },
  );
  const title = values.title || 'New drill';
  return (
    <Sheet label={title} written={written} close={close}>
      <Form onSubmit={(event) => void submit(event)}>
        <h2>{title}</h2>
        <TextOf control={control} name="title" label="Title" />
        <KindAndRungs control={control} />
        <Trains drill={values} put={put} />
        <AreaOf control={control} name="setUp" label="Set-up" maxLength={400} />
        <TextOf control={control} name="constraint" label="Constraint" />
        <TextOf control={control} name="cue" label="Cue" />
        <TextOf control={control} name="task" label="What the partner does" />
        <TextOf control={control} name="caution" label="Caution" />
        <TextOf control={control} name="measure" label="Measure" />
        <Row>
          <NumberOf control={control} name="minutes" label="Minutes per set" />
          <NumberOf control={control} name="people" label="People" />
        </Row>
        <Refused by={refusal} />
        <SheetActions label="Save drill" isDisabled={!written} close={close}>
          {before.title !== '' && (
            <Button $quiet onPress={() => void sent({ ...before, retired: !before.retired })}>
              {before.retired ? 'Restore' : 'Archive'}
            </Button>
          )}
        </SheetActions>
      </Form>
    </Sheet>
  );
}

function KindAndRungs({ control }: { control: FormOf<Drill> }) {
  return (
    <>
      <Row>
        <PickOf
          control={control}
          name="kind"
          label="Kind"
          options={DrillKind.options.map((value) => ({ value, text: value }))}
        />
        <PickOf control={control} name="rungs.low" label="From rung" options={rungOptions} />
        <PickOf control={control} name="rungs.high" label="to rung" options={rungOptions} />
      </Row>
      <FaultOf control={control} name="rungs" />
    </>
  );
}

/** The kinds of checkpoint and the pieces that a drill trains. */
function Trains({ drill, put }: { drill: Drill; put: (part: Partial<Drill>) => void }) {
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
