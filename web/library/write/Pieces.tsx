import { endpoints, type ListedPiece } from '@ulkret/contract';
import {
  CheckpointKind,
  type Piece,
  Piece as PieceSchema,
  readFor,
  setAt,
  shippedPieces,
} from '@ulkret/core/breakdown';
import { useCallback, useState } from 'react';
import { Link } from 'react-router';
import { mutate } from 'swr';
import { uuidv7 } from 'uuidv7';
import { useMay } from '../../api/may';
import { addressOf, type ApiRefusal, ask } from '../../api/ask';
import { useApi } from '../../api/use-api';
import { Button } from '../../ui/button';
import { DataTable } from '../../ui/data-table';
import { Sheet, SheetActions } from '../../ui/dialog';
import { Head, Page, Panel, Quiet } from '../../ui/frame';
import { Loaded, Refused } from '../../ui/states';
import { Title } from '../../ui/title';
import { toast } from '../../ui/toast';
import { many } from '../../ui/words';
import { plainly, SelectInput } from './choice-fields';
import { TextInput } from './text-fields';
import { type Set, Writing } from './writing';
import { wordsOf } from './piece-words';
import { ProofsForm, ToleranceForm } from './ProofsForm';

const refresh = () =>
  Promise.all([mutate(addressOf(endpoints.pieces)), mutate(addressOf(endpoints.techniques))]);

const empty = (): Piece => ({
  id: `piece-${uuidv7().slice(-12)}`,
  kind: 'grip',
  title: '',
  criterion: '',
  proofs: [],
});

/** What occurs in several techniques: its words, and where it is. */
export default function Pieces() {
  const listed = useApi(endpoints.pieces);
  const [edited, setEdited] = useState<Piece | null>(null);
  const writes = useMay('coach');
  return (
    <Page>
      <Head>
        <div>
          <Title>Shared pieces</Title>
          <Quiet>
            <Link to="/library">Library</Link>
          </Quiet>
        </div>
        {writes && <Button onPress={() => setEdited(empty())}>Add a piece</Button>}
      </Head>
      <Quiet>
        A grip, angle or finish that several techniques share. Linked checkpoints take its text, and reps of
        one technique count for the others in the full reading.
      </Quiet>
      <Loaded of={listed} what="the pieces">
        {({ pieces }) => (
          <Panel>
            {pieces.length === 0 ? (
              <p>None yet. Share a checkpoint from the workbench, or add one here.</p>
            ) : (
              <DataTable
                label="the pieces"
                rows={pieces}
                keyOf={({ id }) => id}
                wordsOf={({ title, criterion }) => `${title} ${criterion}`}
                columns={[
                  {
                    head: 'Piece',
                    cell: (one) => (
                      <Button $quiet isDisabled={!writes} onPress={() => setEdited(one)}>
                        {readFor(one.title, 'right')}
                      </Button>
                    ),
                    by: ({ title }) => title,
                  },
                  { head: 'Kind', cell: ({ kind }) => kind, by: ({ kind }) => kind },
                  { head: 'Criterion', cell: ({ criterion }) => readFor(criterion, 'right') || '–' },
                  {
                    head: 'Used in',
                    cell: ({ occurs }) => <OccursIn occurs={occurs} />,
                    by: ({ occurs }) => occurs.length,
                  },
                ]}
              />
            )}
            {edited && (
              <EditPiece
                piece={edited}
                before={pieces.find(({ id }) => id === edited.id) ?? null}
                close={() => setEdited(null)}
              />
            )}
          </Panel>
        )}
      </Loaded>
    </Page>
  );
}

function OccursIn({ occurs }: Pick<ListedPiece, 'occurs'>) {
  const library = useApi(endpoints.techniques);
  if (occurs.length === 0) return '–';
  return (
    <>
      {occurs.map(({ technique, checkpoint, overwrites }) => (
        <div key={`${technique} ${checkpoint}`}>
          <Link to={`/library/${technique}`}>
            {library.data?.techniques.find((one) => one.technique.id === technique)?.technique.name ??
              technique}
          </Link>
          {overwrites.length > 0 && ` (${wordsOf(overwrites)} of its own)`}
        </div>
      ))}
    </>
  );
}

function EditPiece({
  piece,
  before,
  close,
}: {
  piece: Piece;
  /** The stored one; null for a new one. */
  before: ListedPiece | null;
  close: () => void;
}) {
  const [now, setNow] = useState<Piece>(() => PieceSchema.safeParse(piece).data ?? piece);
  const [refused, setRefused] = useState<ApiRefusal | null>(null);
  const set: Set = useCallback((path, value) => setNow((was) => setAt(was, path, value)), []);
  const { id } = piece;
  const save = (body: Piece) => ask(endpoints.savePiece, { params: { id }, body });
  const remove = () => ask(endpoints.removePiece, { params: { id } });
  const doing = async (task: () => Promise<string>, undo: () => Promise<unknown>) => {
    try {
      const said = await task();
      await refresh();
      toast(said, () => undo().then(refresh));
      close();
    } catch (error) {
      setRefused(error as ApiRefusal);
    }
  };
  const ships = shippedPieces.some((one) => one.id === id);
  const old = before && PieceSchema.parse(before);
  const saved = async () => {
    const { drafts } = await save(now);
    return drafts.length === 0
      ? `${now.title} saved`
      : `${now.title} saved: ${many(drafts.length, 'draft')} ${drafts.length === 1 ? 'has' : 'have'} the new words, to be published`;
  };
  const label = before ? before.title : 'Add a piece';
  return (
    <Sheet label={label} written close={close}>
      <h2>{label}</h2>
      <Writing whole={now} set={set}>
        <TextInput label="Title, as a short order" path={['title']} />
        <TextInput label="Criterion: one thing that is true or false" long path={['criterion']} />
        <SelectInput label="Kind" path={['kind']} options={plainly(CheckpointKind.options)} />
        <ProofsForm path={['proofs']} proofs={now.proofs} />
        <ToleranceForm path={['tolerance']} tolerance={now.tolerance} />
        <TextInput label="Caution" long path={['caution']} optional />
      </Writing>
      {before && before.occurs.length > 0 && (
        <Quiet>
          Linked checkpoints get the new text as drafts; publish them after review. Edited text stays.
        </Quiet>
      )}
      <Refused by={refused} />
      <SheetActions
        label={before ? 'Save' : 'Add'}
        isDisabled={now.title.trim() === ''}
        onPress={() => void doing(saved, old ? () => save(old) : remove)}
        close={close}
      >
        {old && !ships && (
          <Button
            $quiet
            onPress={() =>
              void doing(
                async () => (await remove(), `${old.title} deleted`),
                () => save(old),
              )
            }
          >
            Delete
          </Button>
        )}
      </SheetActions>
    </Sheet>
  );
}
