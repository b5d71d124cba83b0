import { endpoints } from '@ulkret/contract';
import {
  type Checkpoint,
  type Draft,
  overwritten,
  type Piece,
  pieceFrom,
  takenFrom,
} from '@ulkret/core/breakdown';
import { useState } from 'react';
import { Link } from 'react-router';
import { mutate } from 'swr';
import { uuidv7 } from 'uuidv7';
import { addressOf, type ApiRefusal, ask } from '../../api/ask';
import { useApi } from '../../api/use-api';
import { Quiet } from '../../ui/frame';
import { Refused } from '../../ui/states';
import { SelectInput } from './choice-fields';
import { Part, Small } from './parts';
import type { Path } from './writing';
import { wordsOf } from './piece-words';

const none = 'none';

/** Which shared piece a checkpoint is, and what it says in words of its own. */
export function PiecePart({
  checkpoint,
  path,
  edit,
}: {
  checkpoint: Checkpoint;
  path: Path;
  edit: (next: (draft: Draft) => Draft) => void;
}) {
  const { data } = useApi(endpoints.pieces);
  const [refused, setRefused] = useState<ApiRefusal | null>(null);
  const pieces = data?.pieces ?? [];
  const { id, title, criterion, piece: named } = checkpoint;
  const piece = pieces.find((one) => one.id === named);
  const own = piece ? overwritten(checkpoint, piece) : [];
  const put = (next: (one: Checkpoint) => Checkpoint) =>
    edit((draft) => ({
      ...draft,
      checkpoints: draft.checkpoints.map((one) => (one.id === id ? next(one) : one)),
    }));
  const letGo = ({ piece: _, ...rest }: Checkpoint): Checkpoint => rest;
  const choose = (chosen: string) => {
    const next: Piece | undefined = pieces.find((one) => one.id === chosen);
    put((one) => (next ? takenFrom(one, next) : letGo(one)));
  };
  const share = async () => {
    setRefused(null);
    const made = pieceFrom(checkpoint, `piece-${uuidv7().slice(-12)}`);
    try {
      await ask(endpoints.savePiece, { params: { id: made.id }, body: made });
      await mutate(addressOf(endpoints.pieces));
      put((one) => ({ ...one, piece: made.id }));
    } catch (error) {
      setRefused(error as ApiRefusal);
    }
  };
  return (
    <Part title="The same in other techniques" open={named !== undefined}>
      {pieces.length > 0 && (
        <SelectInput
          label="Shared piece"
          path={[...path, 'piece']}
          value={piece?.id ?? none}
          options={[
            { value: none, text: 'none: only this technique' },
            ...pieces.map((one) => ({ value: one.id, text: one.title })),
          ]}
          onChange={choose}
        />
      )}
      {piece && own.length === 0 && (
        <Quiet>
          Its text comes from the <Link to="/library/pieces">piece</Link>. Changes here apply to this
          technique only.
        </Quiet>
      )}
      {piece && own.length > 0 && (
        <Quiet>
          Own text for: {wordsOf(own)}.{' '}
          <Small onClick={() => put((one) => takenFrom(one, piece))}>Use the piece’s text</Small>
        </Quiet>
      )}
      {data && !piece && (
        <>
          <Quiet>Write a shared grip or finish once. Reps of each technique count for the others.</Quiet>
          <Small disabled={title.trim() === '' || criterion.trim() === ''} onClick={() => void share()}>
            Share this checkpoint
          </Small>
        </>
      )}
      <Refused by={refused} />
    </Part>
  );
}
