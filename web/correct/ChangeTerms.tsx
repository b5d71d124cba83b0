import { Form, NumberOf, PickOf, type FormOf, useSchemaForm } from '../ui/form';
import { type Breakdown, readFor, withTokens } from '@ulkret/core/breakdown';
import { type Drill, nearness } from '@ulkret/core/drills';
import {
  type DecisionContext,
  minutesOf,
  proofWords,
  Terms,
  termsElsewhere,
  withProof,
} from '@ulkret/core/prescription';
import { type Rung, rungNames, rungs } from '@ulkret/core/rep';
import { Sheet, SheetActions } from '../ui/dialog';
import { Quiet, Row } from '../ui/frame';
import { Select } from '../ui/select';
import { TextArea } from '../ui/text-field';
import { many } from '../ui/words';

const none = 'none';

/** What is drilled, with what, how much, at which rung and side: as the coach wants it. */
export function ChangeTerms({
  name,
  breakdown,
  drills,
  terms: before,
  load,
  may,
  close,
  keep,
}: {
  name: string;
  breakdown: Breakdown;
  drills: readonly Drill[];
  terms: Terms;
  /** What it loads, and how often a class may. */
  load: NonNullable<DecisionContext['load']>;
  /** May this student work at a rung, by the house's rules? */
  may: (rung: Rung) => boolean;
  close: () => void;
  keep: (terms: Terms) => void;
}) {
  const { control, values: terms, put, written, submit } = useSchemaForm(Terms, before);
  const wanted = { checkpoint: terms.checkpoint, mistake: terms.mistake, defence: terms.defence };
  const fitting = drills
    .filter(({ retired, id }) => !retired || id === terms.drill)
    .map((drill) => ({ drill, near: nearness(drill, breakdown, wanted) }))
    .sort((a, b) => b.near - a.near || a.drill.title.localeCompare(b.drill.title));
  const drill = drills.find(({ id }) => id === terms.drill);
  const outside = drill && (terms.rung < drill.rungs.low || terms.rung > drill.rungs.high);
  const at = breakdown.checkpoints.map(({ id, title }, i) => ({
    value: id,
    text: `${i + 1} ${readFor(title, terms.first)}`,
  }));
  return (
    <Sheet label={`Change what ${name} drills`} written={written} close={close}>
      <Form onSubmit={(event) => void submit((agreed) => keep(withProof(breakdown, load, agreed)))(event)}>
        <h2>What {name} drills</h2>
        <WhatAndHow
          {...{ control, terms, put, at, may }}
          first={before.first}
          elsewhere={(checkpoint) => termsElsewhere(breakdown, drills, load, terms, checkpoint)}
        />
        <PickOf
          control={control}
          name="drill"
          label="Drill"
          options={[
            { value: none, is: null, text: 'just this checkpoint' },
            ...fitting.map(({ drill: one, near }) => ({
              value: one.id,
              text: `${one.title}${near >= 2 ? ', made for this' : near === 0 ? ', for something else' : ''}`,
            })),
          ]}
        />
        {drill && (
          <Quiet>
            {drill.setUp} {drill.constraint}
          </Quiet>
        )}
        {outside && (
          <p role="note">
            “{drill.title}” is for rung {drill.rungs.low}
            {drill.rungs.high > drill.rungs.low && ` to ${drill.rungs.high}`}.
          </p>
        )}
        <TextArea
          label="Cue, for a right lead side"
          value={readFor(terms.cue, 'right')}
          onChange={(cue) => put({ cue: withTokens(cue) })}
          maxLength={380}
        />
        <Dose control={control} at={at} />
        <Quiet>
          About {many(minutesOf(terms, drill), 'minute')}.{' '}
          {proofWords(breakdown, withProof(breakdown, load, terms), terms.first)}
        </Quiet>
        <SheetActions label="Accept" close={close} />
      </Form>
    </Sheet>
  );
}

interface TermsPart {
  control: FormOf<Terms>;
  /** The checkpoints to choose from. */
  at: readonly { value: string; text: string }[];
}

/** Which checkpoint, at which rung, on which sides. */
function WhatAndHow({
  control,
  terms,
  put,
  at,
  elsewhere,
  may,
  first,
}: TermsPart & {
  terms: Terms;
  put: (part: Partial<Terms>) => void;
  /** The terms for another checkpoint. */
  elsewhere: (checkpoint: string) => Terms;
  may: (rung: Rung) => boolean;
  first: Terms['first'];
}) {
  return (
    <Row>
      <Select
        label="Checkpoint"
        options={at}
        value={terms.checkpoint}
        onChange={(checkpoint) => put(elsewhere(checkpoint))}
      />
      <PickOf
        control={control}
        name="rung"
        label="Rung"
        options={rungs
          .filter((rung) => rung <= 3 && may(rung))
          .map((rung) => ({ value: String(rung), is: rung, text: `${rung} ${rungNames[rung]}` }))}
      />
      <Select
        label="Sides"
        options={[
          { value: 'both', text: 'both' },
          { value: 'right', text: 'the right one' },
          { value: 'left', text: 'the left one' },
        ]}
        value={terms.sides}
        onChange={(sides) => put({ sides, first: sides === 'both' ? first : sides })}
      />
    </Row>
  );
}

/** Sets, reps, and the span. */
function Dose({ control, at }: TermsPart) {
  return (
    <Row>
      <NumberOf control={control} name="sets" label="Sets" />
      <NumberOf control={control} name="reps" label="Reps a set" />
      <PickOf
        control={control}
        name="startAt"
        label="Reps start"
        options={[{ value: none, is: null, text: 'at the beginning' }, ...at]}
      />
      <PickOf
        control={control}
        name="endAt"
        label="and stop"
        options={[{ value: none, is: null, text: 'where they end' }, ...at]}
      />
    </Row>
  );
}
