import { dequal } from 'dequal';
import { type Breakdown, readFor, withTokens } from '@ulkret/core/breakdown';
import { type Drill, nearness } from '@ulkret/core/drills';
import { minutesOf, Terms } from '@ulkret/core/prescription';
import { type Rung, rungNames, rungs } from '@ulkret/core/rep';
import { useState } from 'react';
import { Button } from '../ui/button';
import { Sheet } from '../ui/dialog';
import { Quiet, Row } from '../ui/frame';
import { NumberField } from '../ui/number-field';
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
  may,
  close,
  keep,
}: {
  name: string;
  breakdown: Breakdown;
  drills: readonly Drill[];
  terms: Terms;
  /** May this student work at a rung, by the house's rules? */
  may: (rung: Rung) => boolean;
  close: () => void;
  keep: (terms: Terms) => void;
}) {
  const [terms, setTerms] = useState(before);
  const put = (part: Partial<Terms>) => setTerms({ ...terms, ...part });
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
  const written = !dequal(terms, before);
  const sound = Terms.safeParse(terms).success;
  return (
    <Sheet label={`Change what ${name} drills`} written={written} close={close}>
      <h2>What {name} drills</h2>
      <WhatAndHow {...{ terms, put, breakdown, at, may }} first={before.first} />
      <Select
        label="Drill"
        options={[
          { value: none, text: 'just this checkpoint' },
          ...fitting.map(({ drill: one, near }) => ({
            value: one.id,
            text: `${one.title}${near >= 2 ? ', made for this' : near === 0 ? ', for something else' : ''}`,
          })),
        ]}
        value={terms.drill ?? none}
        onChange={(id) => put({ drill: id === none ? null : id })}
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
      <Dose {...{ terms, put, at }} />
      {sound && <Quiet>About {many(minutesOf(breakdown, terms, drill), 'minute')}.</Quiet>}
      {!sound && (
        <p role="alert" style={{ color: 'var(--stop)' }}>
          Sets are 1 to 20, reps 1 to 100.
        </p>
      )}
      <Row>
        <Button isDisabled={!sound} onPress={() => keep(terms)}>
          Accept
        </Button>
        <Button $quiet onPress={close}>
          Cancel
        </Button>
      </Row>
    </Sheet>
  );
}

interface Part {
  terms: Terms;
  put: (part: Partial<Terms>) => void;
  /** The checkpoints to choose from. */
  at: readonly { value: string; text: string }[];
}

/** Which checkpoint, at which rung, on which sides. */
function WhatAndHow({
  terms,
  put,
  at,
  breakdown,
  may,
  first,
}: Part & { breakdown: Breakdown; may: (rung: Rung) => boolean; first: Terms['first'] }) {
  return (
    <Row>
      <Select
        label="Checkpoint"
        options={at}
        value={terms.checkpoint}
        onChange={(checkpoint) =>
          put({
            checkpoint,
            mistake: null,
            defence: null,
            startAt: null,
            endAt: null,
            // The cue of another checkpoint would mislead.
            cue: breakdown.mistakes.find(({ root }) => root === checkpoint)?.cue ?? '',
          })
        }
      />
      <Select
        label="Rung"
        options={rungs
          .filter((rung) => rung <= 3 && may(rung))
          .map((rung) => ({ value: String(rung), text: `${rung} ${rungNames[rung]}` }))}
        value={String(terms.rung)}
        onChange={(rung) => put({ rung: Number(rung) as Rung })}
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

/** How many, from where to where. */
function Dose({ terms, put, at }: Part) {
  return (
    <Row>
      <NumberField label="Sets" value={terms.sets} onChange={(sets) => put({ sets: sets ?? 1 })} />
      <NumberField label="Reps a set" value={terms.reps} onChange={(reps) => put({ reps: reps ?? 1 })} />
      <Select
        label="Reps start"
        options={[{ value: none, text: 'at the beginning' }, ...at]}
        value={terms.startAt ?? none}
        onChange={(id) => put({ startAt: id === none ? null : id })}
      />
      <Select
        label="and stop"
        options={[{ value: none, text: 'where they end' }, ...at]}
        value={terms.endAt ?? none}
        onChange={(id) => put({ endAt: id === none ? null : id })}
      />
    </Row>
  );
}
