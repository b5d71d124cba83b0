import type { TechniqueRow } from '@ulkret/contract';
import { type Answer, answersOf, Defence, type Id, type Mistake } from '@ulkret/core/breakdown';
import { memo } from 'react';
import {
  Check,
  Unfold,
  Pane,
  Part,
  plainly,
  SelectInput,
  type Path,
  type Set,
  Small,
  TextInput,
  Two,
} from './fields';
import { positionList } from './PositionList';

type Options = readonly { value: Id; text: string }[];

interface Props {
  mistakes: readonly Mistake[];
  defences: readonly Defence[];
  /** The checkpoints to choose from. */
  points: Options;
  checkpoint: Id;
  rows: readonly TechniqueRow[];
  set: Set;
  newId: (words: string) => Id;
}

/** The mistakes that show at a checkpoint, and the defences that open there. */
export const CausesForm = memo(function CausesForm({
  mistakes,
  defences,
  points,
  checkpoint,
  rows,
  set,
  newId,
}: Props) {
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
            set={set}
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
            set={set}
            remove={() => set(['defences'], defences.toSpliced(i, 1))}
          />
        ))}
        <Small onClick={addDefence}>Add a defence</Small>
      </Part>
    </Pane>
  );
});

const indent = { borderLeft: '3px solid var(--line)', paddingLeft: '0.7rem' };

function MistakeForm({
  points,
  mistake,
  path,
  set,
  remove,
}: {
  points: Options;
  mistake: Mistake;
  path: Path;
  set: Set;
  remove: () => void;
}) {
  const at = (...rest: Path): Path => [...path, ...rest];
  return (
    <Unfold name={mistake.title} path={path}>
      <TextInput label="Mistake" path={at('title')} value={mistake.title} set={set} />
      <Two>
        <SelectInput
          label="Shows at"
          path={at('at')}
          value={mistake.at}
          options={points}
          onChange={(id) => set(at('at'), id)}
        />
        <SelectInput
          label="Starts at"
          path={at('root')}
          value={mistake.root}
          options={points}
          onChange={(id) => set(at('root'), id)}
        />
      </Two>
      <TextInput label="What you see" long path={at('seen')} value={mistake.seen} set={set} />
      <TextInput
        label="What the student believes"
        long
        path={at('believes')}
        value={mistake.believes}
        set={set}
      />
      <TextInput label="What it breaks" long path={at('breaks')} value={mistake.breaks} set={set} />
      <TextInput label="Cue" long path={at('cue')} value={mistake.cue} set={set} />
      <TextInput
        label="Drills that fix it, one per line"
        long
        path={at('drills')}
        value={mistake.drills.join('\n')}
        set={(to, value) => set(to, String(value).split('\n').filter(Boolean))}
      />
      <Small onClick={remove}>Delete mistake</Small>
    </Unfold>
  );
}

const none = 'none';

function DefenceForm({
  points,
  others: all,
  rows,
  newId,
  defence,
  path,
  set,
  remove,
}: {
  points: Options;
  others: readonly Defence[];
  rows: readonly TechniqueRow[];
  newId: (words: string) => Id;
  defence: Defence;
  path: Path;
  set: Set;
  remove: () => void;
}) {
  const at = (...rest: Path): Path => [...path, ...rest];
  const techniques = rows.map(({ technique }) => ({ value: technique.id, text: technique.name }));
  const add = (answer: Answer) =>
    set(at('answers'), [...answersOf(defence), { ...answer, id: newId('answer') }]);
  const others = all
    .filter(({ id }) => id !== defence.id)
    .map(({ id, title }) => ({ value: id, text: title || 'untitled' }));
  return (
    <Unfold name={defence.title} path={path}>
      <TextInput label="Defence" path={at('title')} value={defence.title} set={set} />
      <Two>
        <SelectInput
          label="Type"
          path={at('type')}
          value={defence.type}
          options={plainly(Defence.shape.type.options)}
          onChange={(type) => set(at('type'), type)}
        />
        <SelectInput
          label="Opens at"
          path={at('opens')}
          value={defence.opens}
          options={points}
          onChange={(id) => set(at('opens'), id)}
        />
        <SelectInput
          label="Closes once this holds"
          path={at('closes')}
          value={defence.closes}
          options={points}
          onChange={(id) => set(at('closes'), id)}
        />
        <SelectInput
          label="Advantage after"
          path={at('leaves', 'ahead')}
          value={defence.leaves.ahead}
          options={plainly(Defence.shape.leaves.shape.ahead.options)}
          onChange={(ahead) => set(at('leaves', 'ahead'), ahead)}
        />
        <TextInput
          label="Ending position"
          path={at('leaves', 'position')}
          list={positionList}
          value={defence.leaves.position}
          set={set}
        />
        <SelectInput
          label="Turns into"
          path={at('becomes')}
          value={defence.becomes ?? none}
          options={[{ value: none, text: 'nothing else' }, ...others]}
          onChange={(id) => set(at('becomes'), id === none ? undefined : id)}
        />
        <SelectInput
          label="Broken down in"
          path={at('brokenDownIn')}
          value={defence.brokenDownIn ?? none}
          options={[{ value: none, text: 'no technique' }, ...techniques]}
          onChange={(id) => set(at('brokenDownIn'), id === none ? undefined : id)}
        />
      </Two>
      <Check
        label="Works only under load"
        value={defence.underLoadOnly}
        onChange={(on) => set(at('underLoadOnly'), on)}
      />
      <TextInput
        label="Signal: the first thing you notice"
        long
        path={at('signal')}
        value={defence.signal}
        set={set}
      />
      <TextInput
        label="The partner’s task: what to do, at which signal, how hard"
        long
        path={at('task')}
        value={defence.task ?? ''}
        set={(to, value) => set(to, value === '' ? undefined : value)}
      />
      {defence.answers.map((answer, k) => (
        <Pane key={k} style={indent} data-path={at('answers', k).join('.')}>
          <Two>
            {answer.do === 'mend' && (
              <SelectInput
                label="Fix and stay at"
                path={at('answers', k, 'at')}
                value={answer.at}
                options={points}
                onChange={(id) => set(at('answers', k, 'at'), id)}
              />
            )}
            {answer.do === 'switch' && (
              <SelectInput
                label="Switch to"
                path={at('answers', k, 'technique')}
                value={answer.technique}
                options={techniques}
                onChange={(technique) =>
                  set(at('answers', k), {
                    id: answer.id,
                    do: 'switch',
                    technique,
                    how: answer.how,
                    bait: answer.bait,
                  })
                }
              />
            )}
            {answer.do === 'switch' && (
              <SelectInput
                label="Entered at"
                path={at('answers', k, 'enteredAt')}
                value={answer.enteredAt ?? none}
                options={[
                  { value: none, text: 'the beginning' },
                  ...(rows.find(({ technique }) => technique.id === answer.technique)?.strand ?? []).map(
                    ({ id }, n) => ({ value: id, text: `${n + 1} ${id}` }),
                  ),
                ]}
                onChange={(id) => set(at('answers', k, 'enteredAt'), id === none ? undefined : id)}
              />
            )}
            {answer.do === 'retreat' && (
              <TextInput
                label="Retreat to"
                path={at('answers', k, 'to')}
                list={positionList}
                value={answer.to}
                set={set}
              />
            )}
          </Two>
          <TextInput
            label={`Answer ${k + 1}: how`}
            long
            path={at('answers', k, 'how')}
            value={answer.how}
            set={set}
          />
          <Check
            label="Offered on purpose, as a bait"
            value={answer.bait}
            onChange={(on) => set(at('answers', k, 'bait'), on)}
          />
          {answer.do === 'switch' && (
            <Check
              label="On the other side"
              value={answer.otherSide ?? false}
              onChange={(on) => set(at('answers', k, 'otherSide'), on || undefined)}
            />
          )}
          <Small onClick={() => set(at('answers'), defence.answers.toSpliced(k, 1))}>Delete answer</Small>
        </Pane>
      ))}
      <div
        data-path={at('answers').join('.')}
        tabIndex={-1}
        style={{ display: 'flex', gap: '0.5rem', flexWrap: 'wrap' }}
      >
        <Small onClick={() => add({ do: 'mend', at: defence.opens, how: '', bait: false })}>
          Answer: fix and stay
        </Small>
        <Small
          onClick={() => add({ do: 'switch', technique: rows[0]?.technique.id ?? '', how: '', bait: false })}
        >
          Answer: switch
        </Small>
        <Small onClick={() => add({ do: 'retreat', to: '', how: '', bait: false })}>Answer: retreat</Small>
      </div>
      <Small onClick={remove}>Delete defence</Small>
    </Unfold>
  );
}
