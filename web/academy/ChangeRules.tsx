import { endpoints, type HouseRules } from '@ulkret/contract';
import { Attire, Region, RuleTag } from '@ulkret/core/breakdown';
import {
  newRestriction,
  type Restriction,
  type RuleSet,
  RuleSet as RuleSetShape,
  rulesChanged,
  ruleTemplates,
} from '@ulkret/core/care';
import { type ReactNode, useState } from 'react';
import { mutate } from 'swr';
import { addressOf, ask } from '../api/ask';
import { useAsking } from '../api/use-asking';
import { Button } from '../ui/button';
import { Checkbox } from '../ui/checkbox';
import { Sheet } from '../ui/dialog';
import { Quiet, Row } from '../ui/frame';
import { NumberField } from '../ui/number-field';
import { Select } from '../ui/select';
import { Refused } from '../ui/states';
import { TextArea, TextField } from '../ui/text-field';
import { toast } from '../ui/toast';
import { many } from '../ui/words';
import { EventFields } from './Events';
import { about } from './RuleBook';
import { Fields } from './rule-fields';

const none = -1;

const linesOf = (text: string): string[] =>
  text
    .split('\n')
    .map((line) => line.trim())
    .filter((line) => line !== '');

/** The rules while they are changed; nothing holds before it is kept. */
export function ChangeRules({
  told,
  close,
  kept,
}: {
  told: HouseRules;
  close: () => void;
  kept: (next: HouseRules) => void;
}) {
  const [rules, setRules] = useState<RuleSet>(told.rules);
  // Number fields hold what is typed: a template resets them.
  const [round, setRound] = useState(0);
  // The lines as they are typed: an empty one is no grade yet.
  const [ladder, setLadder] = useState(told.rules.ladder.join('\n'));
  const startFrom = (id: string) => {
    const template = ruleTemplates.find((one) => one.id === id && id !== told.rules.id);
    // What a house calls its grades, and where its people compete, is in no template.
    const { ladder: grades, events } = rules;
    setRules(template ? { ...template, ladder: grades, events } : told.rules);
    if (!template) setLadder(told.rules.ladder.join('\n'));
    setRound(round + 1);
  };
  const { asking, refusal, busy } = useAsking();
  const put = (part: Partial<RuleSet>) => setRules({ ...rules, ...part });
  const putAt = (at: number, part: Partial<Restriction>) =>
    put({ restrictions: rules.restrictions.map((one, i) => (i === at ? { ...one, ...part } : one)) });
  const sound = RuleSetShape.safeParse(rules).success;
  const changes = rulesChanged(told.rules, rules);
  const hold = () =>
    asking(async () => {
      const next = await ask(endpoints.saveRules, { body: { rules, revision: told.revision } });
      await mutate(addressOf(endpoints.kit));
      toast('Rules saved. They apply on every Mat.');
      kept(next);
    }, 'The rules did not change.');
  return (
    <Sheet label="Change the academy rules" width="62rem" written={changes.length > 0} close={close}>
      <h2>Change the academy rules</h2>
      <Row>
        <Templates current={told.rules} value={rules.id} choose={startFrom} />
        <TextField label="Name" value={rules.name} maxLength={80} onChange={(name) => put({ name })} />
      </Row>
      <Texts rules={rules} put={put} />
      <div key={round}>
        {rules.restrictions.map((one, i) => (
          <RestrictionFields
            key={i}
            of={one}
            put={(part) => putAt(i, part)}
            remove={() => {
              put({ restrictions: rules.restrictions.filter((_, at) => at !== i) });
              setRound(round + 1);
            }}
          />
        ))}
        <Row style={{ marginTop: '0.8rem' }}>
          <Button
            $quiet
            onPress={() =>
              put({
                restrictions: [...rules.restrictions, newRestriction],
              })
            }
          >
            Add a restriction
          </Button>
        </Row>
        <LimitFields rules={rules} put={put} />
        <TextArea
          label="Grades, one per line, lowest first (blank = numbers)"
          value={ladder}
          onChange={(typed) => {
            setLadder(typed);
            put({ ladder: linesOf(typed) });
          }}
        />
        <h3>At events</h3>
        <Quiet>As you read their rules. The event’s current rule book comes first.</Quiet>
        <EventFields
          events={rules.events}
          onChange={(events) => put({ events })}
          removed={() => setRound(round + 1)}
        />
      </div>
      <Changes changes={changes} sound={sound} />
      <Refused by={refusal} />
      <Row>
        <Button isDisabled={!sound || busy || changes.length === 0} onPress={() => void hold()}>
          Save rules
        </Button>
        <Button $quiet onPress={close}>
          Cancel
        </Button>
      </Row>
    </Sheet>
  );
}

const months = (label: string, value: number | null, set: (value: number | null) => void): ReactNode => (
  <NumberField label={label} value={value} onChange={set} />
);

/** Who may do a group of techniques, from when on. */
function RestrictionFields({
  of: one,
  put,
  remove,
}: {
  of: Restriction;
  put: (part: Partial<Restriction>) => void;
  remove: () => void;
}) {
  return (
    <Fields>
      <legend>{one.name || 'New restriction'}</legend>
      <TextField label="Name" value={one.name} maxLength={80} onChange={(name) => put({ name })} />
      {months('Months to learn', one.months.learn, (learn) =>
        put({ months: { ...one.months, learn: learn ?? 0 } }),
      )}
      {months('Months to drill', one.months.drill, (drill) =>
        put({ months: { ...one.months, drill: drill ?? 0 } }),
      )}
      {months('Months to spar (blank = never)', one.months.spar, (spar) =>
        put({ months: { ...one.months, spar } }),
      )}
      {months('Or grade to drill', one.grades.drill, (drill) => put({ grades: { ...one.grades, drill } }))}
      {months('Or grade to spar', one.grades.spar, (spar) => put({ grades: { ...one.grades, spar } }))}
      <Select
        above
        label="Minors"
        options={(['allowed', 'with care', 'not allowed'] as const).map((value) => ({
          value,
          text: value,
        }))}
        value={one.minors}
        onChange={(minors) => put({ minors })}
      />
      {months('Minimum age', one.fromAge, (fromAge) => put({ fromAge }))}
      <Select
        above
        label="Attire"
        options={Attire.options.map((value) => ({ value, text: value }))}
        value={one.attire}
        onChange={(attire) => put({ attire })}
      />
      <Select
        above
        label="Applies to"
        options={[
          { value: String(none), text: about(one) || 'nothing yet' },
          ...RuleTag.options.map((value) => ({ value: `tag ${value}`, text: value })),
          ...Region.options.map((value) => ({
            value: `region ${value}`,
            text: `loads on the ${value}`,
          })),
        ]}
        value={String(none)}
        onChange={(chosen) => {
          const tag = RuleTag.safeParse(chosen.replace(/^tag /, '')).data;
          const region = Region.safeParse(chosen.replace(/^region /, '')).data;
          const turned = <T,>(list: readonly T[], value: T) =>
            list.includes(value) ? list.filter((each) => each !== value) : [...list, value];
          if (chosen.startsWith('tag ') && tag) put({ tags: turned(one.tags, tag) });
          if (chosen.startsWith('region ') && region) put({ regions: turned(one.regions, region) });
        }}
      />
      <Checkbox isSelected={one.consent} onChange={(consent) => put({ consent })}>
        Both must consent
      </Checkbox>
      <Button $quiet onPress={remove}>
        Delete restriction
      </Button>
    </Fields>
  );
}

/** Caps of a class, fast locks, and how long records are kept. */
function LimitFields({ rules, put }: { rules: RuleSet; put: (part: Partial<RuleSet>) => void }) {
  const { caps, fast, keep } = rules;
  return (
    <>
      <Fields>
        <legend>In one class, on one person</legend>
        {months('Finishes on the neck', caps.neck, (neck) => put({ caps: { ...caps, neck: neck ?? 0 } }))}
        {months('Finishes on a joint', caps.joint, (joint) => put({ caps: { ...caps, joint: joint ?? 0 } }))}
        {months('Finishes with a fast lock', caps.fast, (one) => put({ caps: { ...caps, fast: one ?? 0 } }))}
        {months('Share in sparring, %', Math.round(caps.fastSparShare * 100), (share) =>
          put({ caps: { ...caps, fastSparShare: (share ?? 0) / 100 } }),
        )}
        {months('Fast locks: months to spar', fast.sparMonths, (sparMonths) =>
          put({ fast: { ...fast, sparMonths: sparMonths ?? 0 } }),
        )}
        {months('Fast locks: care until, months', fast.careUnderMonths, (careUnderMonths) =>
          put({ fast: { ...fast, careUnderMonths: careUnderMonths ?? 0 } }),
        )}
        {months('Weight ratio', rules.massRatio, (massRatio) => put({ massRatio: massRatio ?? 1 }))}
      </Fields>
      <Fields>
        <legend>How long records are kept</legend>
        {months('Keep access log (months)', keep.accessMonths, (accessMonths) =>
          put({ keep: { ...keep, accessMonths: accessMonths ?? 0 } }),
        )}
        {months('Keep leavers (months, blank = forever)', keep.leftMonths, (leftMonths) =>
          put({ keep: { ...keep, leftMonths } }),
        )}
      </Fields>
    </>
  );
}

function Changes({ changes, sound }: { changes: readonly string[]; sound: boolean }) {
  return (
    <>
      {changes.length > 0 && (
        <Quiet>
          {many(changes.length, 'change')}: {changes.slice(0, 6).join('; ')}
          {changes.length > 6 && ' …'}
        </Quiet>
      )}
      {!sound && (
        <p role="alert" style={{ color: 'var(--stop)' }}>
          Every restriction and every event needs a name; months are whole numbers up to 900, finishes 1 to
          100, ages 4 to 99; there are 21 grades at most.
        </p>
      )}
    </>
  );
}

/** The rules as they are, or a template to start from. */
function Templates({
  current,
  value,
  choose,
}: {
  current: RuleSet;
  value: string;
  choose: (id: string) => void;
}) {
  return (
    <Select
      above
      label="Start from"
      options={[
        { value: current.id, text: 'current rules' },
        ...ruleTemplates
          .filter(({ id }) => id !== current.id)
          .map(({ id, name }) => ({ value: id, text: name })),
      ]}
      value={value}
      onChange={choose}
    />
  );
}

/** The rules in words: tapping, safeguarding, a note. */
function Texts({ rules, put }: { rules: RuleSet; put: (part: Partial<RuleSet>) => void }) {
  return (
    <>
      <TextArea label="Tap" value={rules.tap} maxLength={300} onChange={(tap) => put({ tap })} />
      <TextArea
        label="Safeguarding: who to speak to, and how to reach them"
        value={rules.safeguarding}
        maxLength={200}
        onChange={(safeguarding) => put({ safeguarding })}
      />
      <TextArea
        label="Shown wherever the rules are"
        value={rules.note}
        maxLength={300}
        onChange={(note) => put({ note })}
      />
    </>
  );
}
