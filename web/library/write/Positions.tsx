import { Form, PickOf, TextOf, type FormOf, useSchemaForm } from '../../ui/form';
import { endpoints, type OutputOf } from '@ulkret/contract';
import { type Position, PositionFamily } from '@ulkret/core/breakdown';
import { useState } from 'react';
import { useController } from 'react-hook-form';
import { Link } from 'react-router';
import { mutate } from 'swr';
import { uuidv7 } from 'uuidv7';
import { useMay } from '../../api/may';
import { addressOf, type ApiRefusal, ask } from '../../api/ask';
import { useApi } from '../../api/use-api';
import { Button } from '../../ui/button';
import { DataTable } from '../../ui/data-table';
import { Sheet, SheetActions } from '../../ui/dialog';
import { Head, Page, Panel, Quiet, Row } from '../../ui/frame';
import { Select } from '../../ui/select';
import { Loaded, Refused } from '../../ui/states';
import { TextField } from '../../ui/text-field';
import { Title } from '../../ui/title';
import { toast } from '../../ui/toast';

type PositionRow = OutputOf<typeof endpoints.positions>['positions'][number];
type Saved = Omit<Position, 'mergedInto'>;

const refresh = () => mutate(addressOf(endpoints.positions));
const none = '';

/** Where techniques start and lead to: what they are called, and which are one and the same. */
export default function Positions() {
  const listed = useApi(endpoints.positions);
  const [edited, setEdited] = useState<Position | null>(null);
  const writes = useMay('coach');
  return (
    <Page>
      <Head>
        <div>
          <Title>Positions</Title>
          <Quiet>
            <Link to="/library">Library</Link>
          </Quiet>
        </div>
        {writes && (
          <Button
            onPress={() =>
              setEdited({
                id: `position-${uuidv7().slice(-12)}`,
                name: '',
                aliases: [],
                family: null,
                ahead: null,
                mergedInto: null,
              })
            }
          >
            Add a position
          </Button>
        )}
      </Head>
      <Quiet>
        Start positions, entries, retreats and endings name a position by any of its names. Merge duplicates;
        breakdowns keep working.
      </Quiet>
      <Loaded of={listed} what="the positions">
        {({ positions }) => {
          const standing = positions.filter(({ mergedInto }) => mergedInto === null);
          return (
            <Panel>
              <DataTable
                label="the positions"
                rows={standing}
                keyOf={({ id }) => id}
                wordsOf={({ name, aliases, family }) => [name, ...aliases, family ?? ''].join(' ')}
                columns={[
                  {
                    head: 'Position',
                    cell: (one) => (
                      <Button $quiet isDisabled={!writes} onPress={() => setEdited(one)}>
                        {one.name}
                      </Button>
                    ),
                    by: ({ name }) => name,
                  },
                  {
                    head: 'Also called',
                    cell: ({ aliases }) => aliases.join('; ') || '–',
                  },
                  {
                    head: 'Family',
                    cell: ({ family }) => family ?? 'not said',
                    by: ({ family }) => family,
                  },
                  { head: 'Ahead', cell: ({ ahead }) => aheadWords(ahead), by: ({ ahead }) => ahead },
                  {
                    head: 'Named by',
                    cell: ({ techniques }) =>
                      techniques.length === 0 ? '–' : <NamedBy techniques={techniques} />,
                    by: ({ techniques }) => techniques.length,
                  },
                ]}
              />
              {edited && (
                <EditPosition
                  position={edited}
                  isNew={!positions.some(({ id }) => id === edited.id)}
                  others={standing.filter(({ id }) => id !== edited.id)}
                  merged={positions.filter(({ mergedInto }) => mergedInto === edited.id)}
                  close={() => setEdited(null)}
                />
              )}
            </Panel>
          );
        }}
      </Loaded>
    </Page>
  );
}

const aheadWords = (ahead: Position['ahead']): string =>
  ahead === null
    ? 'not said'
    : ahead === 'neither'
      ? 'neither'
      : ahead === 'above'
        ? 'above or behind'
        : 'below';

function NamedBy({ techniques }: { techniques: readonly string[] }) {
  const library = useApi(endpoints.techniques);
  return (
    <>
      {techniques.map((id, i) => (
        <span key={id}>
          {i > 0 && ', '}
          <Link to={`/library/${id}`}>
            {library.data?.techniques.find(({ technique }) => technique.id === id)?.technique.name ?? id}
          </Link>
        </span>
      ))}
    </>
  );
}

function EditPosition({
  position,
  isNew,
  others,
  merged,
  close,
}: {
  position: Position;
  isNew: boolean;
  others: readonly PositionRow[];
  /** The positions merged into it. */
  merged: readonly Position[];
  close: () => void;
}) {
  const { mergedInto: _, ...start } = position;
  const { control, values, written, submit } = useSchemaForm(endpoints.savePosition.body, start);
  const [refused, setRefused] = useState<ApiRefusal | null>(null);
  const doing = async (task: () => Promise<unknown>, said: string, undo?: () => Promise<unknown>) => {
    try {
      await task();
      await refresh();
      toast(said, undo && (() => undo().then(refresh)));
      close();
    } catch (error) {
      setRefused(error as ApiRefusal);
    }
  };
  const { id } = position;
  const save = (body: typeof start) =>
    doing(() => ask(endpoints.savePosition, { params: { id }, body }), `${body.name} saved`);
  return (
    <Sheet label={isNew ? 'Add a position' : position.name} written={written} close={close}>
      <Form onSubmit={(event) => void submit(save)(event)}>
        <h2>{isNew ? 'Add a position' : position.name}</h2>
        <TextOf control={control} name="name" label="Name" />
        <Aliases control={control} of={values.aliases} />
        <FamilyAndAdvantage control={control} />
        <Refused by={refused} />
        <SheetActions label={isNew ? 'Add' : 'Save'} isDisabled={!written} close={close} />
      </Form>
      {!isNew && <Merges {...{ position, others, merged, doing }} />}
    </Sheet>
  );
}

/** The other names, as one line that is split at semicolons. */
function Aliases({ control, of }: { control: FormOf<Saved>; of: readonly string[] }) {
  const { field, fieldState } = useController({ control, name: 'aliases' });
  const [text, setText] = useState(of.join('; '));
  return (
    <TextField
      label="Also called, separated by semicolons"
      value={text}
      error={fieldState.error?.message}
      onChange={(typed) => {
        setText(typed);
        field.onChange(
          typed
            .split(';')
            .map((one) => one.trim())
            .filter(Boolean),
        );
      }}
    />
  );
}

function FamilyAndAdvantage({ control }: { control: FormOf<Saved> }) {
  return (
    <Row>
      <PickOf
        control={control}
        name="family"
        label="Family"
        options={[
          { value: none, is: null, text: 'not said' },
          ...PositionFamily.options.map((value) => ({ value, text: value })),
        ]}
      />
      <PickOf
        control={control}
        name="ahead"
        label="Advantage"
        options={[
          { value: none, is: null, text: 'not said' },
          { value: 'above', text: 'who is above or behind' },
          { value: 'neither', text: 'neither' },
          { value: 'below', text: 'who is below' },
        ]}
      />
    </Row>
  );
}

/** Merge it into another position, or undo merges into it. */
function Merges({
  position,
  others,
  merged,
  doing,
}: {
  position: Position;
  others: readonly PositionRow[];
  merged: readonly Position[];
  doing: (task: () => Promise<unknown>, said: string, undo?: () => Promise<unknown>) => Promise<void>;
}) {
  const { id } = position;
  return (
    <>
      <Select<string>
        label="Merge into"
        value={none}
        options={[
          { value: none, text: 'no other position' },
          ...others.map(({ id: other, name }) => ({ value: other, text: name })),
        ]}
        onChange={(into) => {
          if (into === none) return;
          void doing(
            () => ask(endpoints.mergePosition, { params: { id }, body: { into } }),
            `${position.name} is ${others.find((one) => one.id === into)?.name ?? into} now`,
            () => ask(endpoints.partPosition, { params: { id } }),
          );
        }}
      />
      {merged.map((one) => (
        <Row key={one.id}>
          <span>{one.name} was merged into it.</span>
          <Button
            $quiet
            onPress={() =>
              void doing(
                () => ask(endpoints.partPosition, { params: { id: one.id } }),
                `${one.name} separated again`,
              )
            }
          >
            Undo merge
          </Button>
        </Row>
      ))}
    </>
  );
}
