import type { TechniqueRow } from '@ulkret/contract';
import { type Answer, answersOf, Defence, type Id } from '@ulkret/core/breakdown';
import {
  Check,
  type Options,
  Pane,
  type Path,
  plainly,
  SelectInput,
  type Set,
  Small,
  TextInput,
  Two,
  Unfold,
} from './fields';
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
  const techniques = techniqueOptions(rows);
  const add = (answer: Answer) =>
    set(at('answers'), [...answersOf(defence), { ...answer, id: newId('answer') }]);
  const others = all
    .filter(({ id }) => id !== defence.id)
    .map(({ id, title }) => ({ value: id, text: title || 'untitled' }));
  return (
    <Unfold name={defence.title} path={path}>
      <TextInput label="Defence" path={at('title')} value={defence.title} set={set} />
      <DefenceChoices {...{ points, others, techniques, defence, path, set }} />
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
        <AnswerForm
          key={k}
          {...{ answer, points, rows, set }}
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
  defence,
  path,
  set,
}: {
  points: Options;
  others: readonly { value: Id; text: string }[];
  techniques: readonly { value: Id; text: string }[];
  defence: Defence;
  path: Path;
  set: Set;
}) {
  const at = (...rest: Path): Path => [...path, ...rest];
  return (
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
  );
}

/** One answer to a defence. */
function AnswerForm({
  answer,
  number,
  points,
  rows,
  path,
  set,
  remove,
}: {
  answer: Answer;
  number: number;
  points: Options;
  rows: readonly TechniqueRow[];
  path: Path;
  set: Set;
  remove: () => void;
}) {
  const at = (...rest: Path): Path => [...path, ...rest];
  const techniques = techniqueOptions(rows);
  return (
    <Pane style={indent} data-path={path.join('.')}>
      <Two>
        {answer.do === 'mend' && (
          <SelectInput
            label="Fix and stay at"
            path={at('at')}
            value={answer.at}
            options={points}
            onChange={(id) => set(at('at'), id)}
          />
        )}
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
            value={answer.enteredAt ?? none}
            options={[
              { value: none, text: 'the beginning' },
              ...(rows.find(({ technique }) => technique.id === answer.technique)?.strand ?? []).map(
                ({ id }, n) => ({ value: id, text: `${n + 1} ${id}` }),
              ),
            ]}
            onChange={(id) => set(at('enteredAt'), id === none ? undefined : id)}
          />
        )}
        {answer.do === 'retreat' && (
          <TextInput label="Retreat to" path={at('to')} list={positionList} value={answer.to} set={set} />
        )}
      </Two>
      <TextInput label={`Answer ${number}: how`} long path={at('how')} value={answer.how} set={set} />
      <Check
        label="Offered on purpose, as a bait"
        value={answer.bait}
        onChange={(on) => set(at('bait'), on)}
      />
      {answer.do === 'switch' && (
        <Check
          label="On the other side"
          value={answer.otherSide ?? false}
          onChange={(on) => set(at('otherSide'), on || undefined)}
        />
      )}
      <Small onClick={remove}>Delete answer</Small>
    </Pane>
  );
}
