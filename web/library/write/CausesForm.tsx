import { endpoints, type TechniqueRow } from '@ulkret/contract';
import type { Defence, Id, Mistake } from '@ulkret/core/breakdown';
import { memo, useMemo } from 'react';
import { useApi } from '../../api/use-api';
import { DefenceForm } from './DefenceForm';
import { type Options, SelectInput } from './choice-fields';
import { Pane, Part, Small, Two, Unfold } from './parts';
import { TextInput, lines } from './text-fields';
import { type Path, useAt, useWriting } from './writing';

interface Props {
  mistakes: readonly Mistake[];
  defences: readonly Defence[];
  /** The checkpoints to choose from. */
  points: Options;
  checkpoint: Id;
  rows: readonly TechniqueRow[];
  newId: (words: string) => Id;
}

/** The mistakes that show at a checkpoint, and the defences that open there. */
export const CausesForm = memo(function CausesForm({
  mistakes,
  defences,
  points,
  checkpoint,
  rows,
  newId,
}: Props) {
  const { set } = useWriting();
  const here = mistakes.map((one, i) => ({ one, i })).filter(({ one }) => one.at === checkpoint);
  const open = defences.map((one, i) => ({ one, i })).filter(({ one }) => one.opens === checkpoint);
  const addMistake = () =>
    set(
      ['mistakes'],
      [
        ...mistakes,
        {
          id: newId('mistake'),
          at: checkpoint,
          root: checkpoint,
          title: '',
          seen: '',
          believes: '',
          breaks: '',
          cue: '',
          drills: [],
          priorShare: 1,
        } satisfies Mistake,
      ],
    );
  const addDefence = () =>
    set(
      ['defences'],
      [
        ...defences,
        {
          id: newId('defence'),
          opens: checkpoint,
          closes: checkpoint,
          underLoadOnly: false,
          type: 'escape' as const,
          title: '',
          signal: '',
          leaves: { position: '', ahead: 'neither' as const },
          answers: [],
          priorShare: 1,
        } satisfies Defence,
      ],
    );
  return (
    <Pane>
      <Part title={`Mistakes that show here (${here.length})`}>
        {here.map(({ one, i }) => (
          <MistakeForm
            key={one.id}
            points={points}
            mistake={one}
            path={['mistakes', i]}
            remove={() => set(['mistakes'], mistakes.toSpliced(i, 1))}
          />
        ))}
        <Small onClick={addMistake}>Add a mistake</Small>
      </Part>
      <Part title={`Defences that open here (${open.length})`}>
        {open.map(({ one, i }) => (
          <DefenceForm
            key={one.id}
            points={points}
            others={defences}
            rows={rows}
            newId={newId}
            defence={one}
            path={['defences', i]}
            remove={() => set(['defences'], defences.toSpliced(i, 1))}
          />
        ))}
        <Small onClick={addDefence}>Add a defence</Small>
      </Part>
    </Pane>
  );
});

const noDrill = 'none';

/** Adds a drill of the library by its name; what is not in it stays words. */
function DrillPick({ path }: { path: Path }) {
  const { set } = useWriting();
  const written = useAt(path) as readonly string[] | undefined;
  const drills = useApi(endpoints.drills).data?.drills;
  const options = useMemo(
    () => [
      { value: noDrill, text: 'choose one' },
      ...(drills ?? []).flatMap(({ title, retired }) => (retired ? [] : [{ value: title, text: title }])),
    ],
    [drills],
  );
  return (
    <SelectInput
      label="Add a drill from the library"
      path={[...path, 'pick']}
      value={noDrill}
      options={options}
      onChange={(title) =>
        title !== noDrill && !written?.includes(title) && set(path, [...(written ?? []), title])
      }
    />
  );
}

function MistakeForm({
  points,
  mistake,
  path,
  remove,
}: {
  points: Options;
  mistake: Mistake;
  path: Path;
  remove: () => void;
}) {
  const at = (...rest: Path): Path => [...path, ...rest];
  return (
    <Unfold name={mistake.title} path={path}>
      <TextInput label="Mistake" path={at('title')} />
      <Two>
        <SelectInput label="Shows at" path={at('at')} options={points} />
        <SelectInput label="Starts at" path={at('root')} options={points} />
      </Two>
      <TextInput label="What you see" long path={at('seen')} />
      <TextInput label="What the student believes" long path={at('believes')} />
      <TextInput label="What it breaks" long path={at('breaks')} />
      <TextInput label="Cue" long path={at('cue')} />
      <TextInput label="Drills that fix it, one per line" long path={at('drills')} as={lines} />
      <DrillPick path={at('drills')} />
      <Small onClick={remove}>Delete mistake</Small>
    </Unfold>
  );
}
