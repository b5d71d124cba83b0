import { RuleTag } from '@ulkret/core/breakdown';
import { Legality, type RuleSet } from '@ulkret/core/care';
import { useController, useFieldArray, useWatch } from 'react-hook-form';
import { Button } from '../ui/button';
import { type FormOf, TextOf } from '../ui/form';
import { Row } from '../ui/frame';
import { Select } from '../ui/select';
import { Fields } from './rule-fields';

const notSaid = 'not said';
const options = ([notSaid, ...Legality.options] as const).map((value) => ({ value, text: value }));

/** What events say, by rule tag, as the academy has read their books. */
export function EventFields({ control }: { control: FormOf<RuleSet> }) {
  const events = useFieldArray({ control, name: 'events' });
  return (
    <>
      {events.fields.map(({ id }, at) => (
        <EventOf key={id} control={control} at={at} remove={() => events.remove(at)} />
      ))}
      <Row style={{ marginTop: '0.8rem' }}>
        <Button $quiet onPress={() => events.append({ name: '', tags: {} })}>
          Add an event
        </Button>
      </Row>
    </>
  );
}

function EventOf({ control, at, remove }: { control: FormOf<RuleSet>; at: number; remove: () => void }) {
  const path = `events.${at}` as const;
  const name = useWatch({ control, name: `${path}.name` });
  const tags = useController({ control, name: `${path}.tags` }).field;
  return (
    <Fields>
      <legend>{name || 'New event'}</legend>
      <TextOf control={control} name={`${path}.name`} label="Event and division" maxLength={80} />
      {RuleTag.options.map((tag) => (
        <Select
          key={tag}
          above
          label={tag}
          options={options}
          value={tags.value[tag] ?? notSaid}
          onChange={(chosen) => {
            const { [tag]: _, ...others } = tags.value;
            const says = Legality.safeParse(chosen).data;
            tags.onChange(says ? { ...others, [tag]: says } : others);
          }}
        />
      ))}
      <Button $quiet onPress={remove}>
        Delete event
      </Button>
    </Fields>
  );
}
