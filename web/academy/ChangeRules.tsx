import { endpoints, type HouseRules } from '@ulkret/contract';
import { Attire, Region, RuleTag } from '@ulkret/core/breakdown';
import {
  newRestriction,
  type RuleSet,
  RuleSet as RuleSetShape,
  rulesChanged,
  ruleTemplates,
} from '@ulkret/core/care';
import { useState } from 'react';
import { useController, useFieldArray, useWatch } from 'react-hook-form';
import { mutate } from 'swr';
import { addressOf, ask } from '../api/ask';
import { useAskingForm } from '../api/use-form';
import { Button } from '../ui/button';
import { Checkbox } from '../ui/checkbox';
import { Sheet, SheetActions } from '../ui/dialog';
import { AreaOf, Form, type FormOf, NumberOf, PickOf, TextOf, TickOf } from '../ui/form';
import { Quiet, Row } from '../ui/frame';
import { NumberField } from '../ui/number-field';
import { Select } from '../ui/select';
import { Refused } from '../ui/states';
import { TextArea } from '../ui/text-field';
import { toast } from '../ui/toast';
import { many } from '../ui/words';
import { EventFields } from './Events';
import { about } from './RuleBook';
import { Fields } from './rule-fields';

const none = '';

const linesOf = (text: string): string[] =>
  text
    .split('\n')
    .map((line) => line.trim())
    .filter((line) => line !== '');

/** The rules while they are changed; nothing applies before it is saved. */
export function ChangeRules({
  told,
  close,
  kept,
}: {
  told: HouseRules;
  close: () => void;
  kept: (next: HouseRules) => void;
}) {
  const {
    control,
    values: rules,
    put,
    submit,
    refusal,
    busy,
  } = useAskingForm(RuleSetShape, told.rules, async (body) => {
    const next = await ask(endpoints.saveRules, { body: { rules: body, revision: told.revision } });
    await mutate(addressOf(endpoints.kit));
    toast('Rules saved. They apply on every Mat.');
    kept(next);
  });
  const restrictions = useFieldArray({ control, name: 'restrictions' });
  // Number fields hold what is typed: a template resets them.
  const [round, setRound] = useState(0);
  const startFrom = (id: string) => {
    const template = ruleTemplates.find((one) => one.id === id && id !== told.rules.id);
    // What an academy calls its grades, and where its people compete, is in no template.
    const { ladder, events } = rules;
    put(template ? { ...template, ladder, events } : told.rules);
    setRound(round + 1);
  };
  const changes = rulesChanged(told.rules, rules);
  return (
    <Sheet label="Change the academy rules" width="62rem" written={changes.length > 0} close={close}>
      <Form onSubmit={(event) => void submit(event)}>
        <h2>Change the academy rules</h2>
        <Row>
          <Templates current={told.rules} value={rules.id} choose={startFrom} />
          <TextOf control={control} name="name" label="Name" maxLength={80} />
        </Row>
        <Texts control={control} />
        <div key={round}>
          {restrictions.fields.map(({ id }, i) => (
            <RestrictionFields key={id} control={control} at={i} remove={() => restrictions.remove(i)} />
          ))}
          <Row style={{ marginTop: '0.8rem' }}>
            <Button $quiet onPress={() => restrictions.append(newRestriction)}>
              Add a restriction
            </Button>
          </Row>
          <LimitFields control={control} />
          <Ladder control={control} />
          <h3>At events</h3>
          <Quiet>As you read their rules. The event’s current rule book comes first.</Quiet>
          <EventFields control={control} />
        </div>
        <Changes changes={changes} />
        <Refused by={refusal} />
        <SheetActions label="Save rules" isDisabled={busy || changes.length === 0} close={close} />
      </Form>
    </Sheet>
  );
}

type Rules = FormOf<RuleSet>;

/** Who may do a group of techniques, from when on. */
function RestrictionFields({ control, at, remove }: { control: Rules; at: number; remove: () => void }) {
  const path = `restrictions.${at}` as const;
  const one = useWatch({ control, name: path });
  return (
    <Fields>
      <legend>{one.name || 'New restriction'}</legend>
      <TextOf control={control} name={`${path}.name`} label="Name" maxLength={80} />
      <NumberOf control={control} name={`${path}.months.learn`} label="Months to learn" />
      <NumberOf control={control} name={`${path}.months.drill`} label="Months to drill" />
      <NumberOf control={control} name={`${path}.months.spar`} label="Months to spar (blank = never)" />
      <NumberOf control={control} name={`${path}.grades.drill`} label="Or grade to drill" />
      <NumberOf control={control} name={`${path}.grades.spar`} label="Or grade to spar" />
      <PickOf control={control} name={`${path}.minors`} above label="Minors" options={minors} />
      <NumberOf control={control} name={`${path}.fromAge`} label="Minimum age" />
      <PickOf control={control} name={`${path}.attire`} above label="Attire" options={attires} />
      <AppliesTo control={control} at={at} />
      <TickOf control={control} name={`${path}.consent`} label="Both must consent" />
      <Button $quiet onPress={remove}>
        Delete restriction
      </Button>
    </Fields>
  );
}

const named = <T extends string>(list: readonly T[]) => list.map((value) => ({ value, text: value }));
const minors = named(['allowed', 'with care', 'not allowed']);
const attires = named(Attire.options);

const turned = <T,>(list: readonly T[], value: T) =>
  list.includes(value) ? list.filter((each) => each !== value) : [...list, value];

/** The rule tags and loaded regions that a restriction is about: choosing one adds it, or takes it out again. */
function AppliesTo({ control, at }: { control: Rules; at: number }) {
  const tags = useController({ control, name: `restrictions.${at}.tags` }).field;
  const regions = useController({ control, name: `restrictions.${at}.regions` }).field;
  return (
    <Select<string>
      above
      label="Applies to"
      options={[
        { value: none, text: about({ tags: tags.value, regions: regions.value }) || 'nothing yet' },
        ...RuleTag.options.map((value) => ({ value: `tag ${value}`, text: value })),
        ...Region.options.map((value) => ({ value: `region ${value}`, text: `loads on the ${value}` })),
      ]}
      value={none}
      onChange={(chosen) => {
        const tag = RuleTag.safeParse(chosen.replace(/^tag /, '')).data;
        const region = Region.safeParse(chosen.replace(/^region /, '')).data;
        if (chosen.startsWith('tag ') && tag) tags.onChange(turned(tags.value, tag));
        if (chosen.startsWith('region ') && region) regions.onChange(turned(regions.value, region));
      }}
    />
  );
}

/** Caps of a class, fast locks, and how long records are kept. */
function LimitFields({ control }: { control: Rules }) {
  const share = useController({ control, name: 'caps.fastSparShare' });
  const counts = useController({ control, name: 'caps.counts' }).field;
  return (
    <>
      <Fields>
        <legend>In one class, on one person</legend>
        <NumberOf control={control} name="caps.neck" label="Finishes on the neck" />
        <NumberOf control={control} name="caps.joint" label="Finishes on a joint" />
        <NumberOf control={control} name="caps.fast" label="Finishes with a fast lock" />
        {(['firm', 'light'] as const).map((how) => (
          <Checkbox
            key={how}
            isSelected={counts.value.includes(how)}
            onChange={() => counts.onChange(turned(counts.value, how))}
          >
            {how === 'firm' ? 'Firm loads on the way count too' : 'Light loads on the way count too'}
          </Checkbox>
        ))}
        <NumberField
          label="Share in sparring, %"
          value={Math.round(share.field.value * 100)}
          error={share.fieldState.error?.message}
          onChange={(percent) => share.field.onChange(percent === null ? null : percent / 100)}
        />
        <NumberOf control={control} name="fast.sparMonths" label="Fast locks: months to spar" />
        <NumberOf control={control} name="fast.careUnderMonths" label="Fast locks: care until, months" />
        <NumberOf control={control} name="massRatio" label="Weight ratio" />
      </Fields>
      <Fields>
        <legend>How long records are kept</legend>
        <NumberOf control={control} name="keep.accessMonths" label="Keep access log (months)" />
        <NumberOf control={control} name="keep.leftMonths" label="Keep leavers (months, blank = forever)" />
      </Fields>
    </>
  );
}

/** The grades, a line each. An empty line is no grade yet. */
function Ladder({ control }: { control: Rules }) {
  const { field, fieldState } = useController({ control, name: 'ladder' });
  const [text, setText] = useState(() => field.value.join('\n'));
  return (
    <TextArea
      label="Grades, one per line, lowest first (blank = numbers)"
      value={text}
      error={fieldState.error?.message}
      onChange={(typed) => {
        setText(typed);
        field.onChange(linesOf(typed));
      }}
    />
  );
}

const Changes = ({ changes }: { changes: readonly string[] }) =>
  changes.length > 0 && (
    <Quiet>
      {many(changes.length, 'change')}: {changes.slice(0, 6).join('; ')}
      {changes.length > 6 && ' …'}
    </Quiet>
  );

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
const Texts = ({ control }: { control: Rules }) => (
  <>
    <AreaOf control={control} name="tap" label="Tap" maxLength={300} />
    <AreaOf
      control={control}
      name="safeguarding"
      label="Safeguarding: who to speak to, and how to reach them"
      maxLength={200}
    />
    <AreaOf control={control} name="note" label="Shown wherever the rules are" maxLength={300} />
  </>
);
