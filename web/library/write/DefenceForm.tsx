import type { TechniqueRow } from '@ulkret/contract';
import { type Answer, answersOf, Defence, type Id } from '@ulkret/core/breakdown';
import { type Options, plainly, SelectInput, CheckInput } from './choice-fields';
import { Pane, Small, Two, Unfold } from './parts';
import { TextInput } from './text-fields';
import { type Path, useWriting } from './writing';
import { positionList } from './PositionList';

const indent = { borderLeft: '3px solid var(--line)', paddingLeft: '0.7rem' };

const none = 'none';

const techniqueOptions = (rows: readonly TechniqueRow[]) =>
  rows.map(({ technique }) => ({ value: technique.id, text: technique.name }));

/** One defence: when it opens, how it is noticed, where it ends, and what answers it. */
export function DefenceForm({
  points,
  others: all,
  rows,
  newId,
  defence,
  path,
  remove,
}: {
  points: Options;
  others: readonly Defence[];
  rows: readonly TechniqueRow[];
  newId: (words: string) => Id;
  defence: Defence;
  path: Path;
  remove: () => void;
}) {
  const { set } = useWriting();
  const at = (...rest: Path): Path => [...path, ...rest];
  const techniques = techniqueOptions(rows);
  const add = (answer: Answer) =>
    set(at('answers'), [...answersOf(defence), { ...answer, id: newId('answer') }]);
  const others = all
    .filter(({ id }) => id !== defence.id)
    .map(({ id, title }) => ({ value: id, text: title || 'untitled' }));
  return (
    <Unfold name={defence.title} path={path}>
      <TextInput label="Defence" path={at('title')} />
      <DefenceChoices {...{ points, others, techniques, path }} />
      <CheckInput label="Works only under load" path={at('underLoadOnly')} />
      <TextInput label="Signal: the first thing you notice" long path={at('signal')} />
      <TextInput
        label="The partner’s task: what to do, at which signal, how hard"
        long
        path={at('task')}
        optional
      />
      {defence.answers.map((answer, k) => (
        <AnswerForm
          key={k}
          {...{ answer, points, rows }}
          number={k + 1}
          path={at('answers', k)}
          remove={() => set(at('answers'), defence.answers.toSpliced(k, 1))}
        />
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

/** When a defence opens and closes, and what comes after it. */
function DefenceChoices({
  points,
  others,
  techniques,
  path,
}: {
  points: Options;
  others: readonly { value: Id; text: string }[];
  techniques: readonly { value: Id; text: string }[];
  path: Path;
}) {
  const at = (...rest: Path): Path => [...path, ...rest];
  return (
    <Two>
      <SelectInput label="Type" path={at('type')} options={plainly(Defence.shape.type.options)} />
      <SelectInput label="Opens at" path={at('opens')} options={points} />
      <SelectInput label="Closes once this holds" path={at('closes')} options={points} />
      <SelectInput
        label="Advantage after"
        path={at('leaves', 'ahead')}
        options={plainly(Defence.shape.leaves.shape.ahead.options)}
      />
      <TextInput label="Ending position" path={at('leaves', 'position')} list={positionList} />
      <SelectInput
        label="Turns into"
        path={at('becomes')}
        options={[{ value: none, text: 'nothing else' }, ...others]}
        none={none}
      />
      <SelectInput
        label="Broken down in"
        path={at('brokenDownIn')}
        options={[{ value: none, text: 'no technique' }, ...techniques]}
        none={none}
      />
    </Two>
  );
}

/** One answer to a defence. */
function AnswerForm({
  answer,
  number,
  points,
  rows,
  path,
  remove,
}: {
  answer: Answer;
  number: number;
  points: Options;
  rows: readonly TechniqueRow[];
  path: Path;
  remove: () => void;
}) {
  const { set } = useWriting();
  const at = (...rest: Path): Path => [...path, ...rest];
  const techniques = techniqueOptions(rows);
  return (
    <Pane style={indent} data-path={path.join('.')}>
      <Two>
        {answer.do === 'mend' && <SelectInput label="Fix and stay at" path={at('at')} options={points} />}
        {answer.do === 'switch' && (
          <SelectInput
            label="Switch to"
            path={at('technique')}
            value={answer.technique}
            options={techniques}
            onChange={(technique) =>
              set(path, {
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
            path={at('enteredAt')}
            options={[
              { value: none, text: 'the beginning' },
              ...(rows.find(({ technique }) => technique.id === answer.technique)?.strand ?? []).map(
                ({ id }, n) => ({ value: id, text: `${n + 1} ${id}` }),
              ),
            ]}
            none={none}
          />
        )}
        {answer.do === 'retreat' && <TextInput label="Retreat to" path={at('to')} list={positionList} />}
      </Two>
      <TextInput label={`Answer ${number}: how`} long path={at('how')} />
      <CheckInput label="Offered on purpose, as a bait" path={at('bait')} />
      {answer.do === 'switch' && <CheckInput label="On the other side" path={at('otherSide')} optional />}
      <Small onClick={remove}>Delete answer</Small>
    </Pane>
  );
}
