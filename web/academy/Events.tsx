import { RuleTag } from '@ulkret/core/breakdown';
import { type EventRules, Legality } from '@ulkret/core/care';
import { Button } from '../ui/button';
import { Row } from '../ui/frame';
import { Select } from '../ui/select';
import { TextField } from '../ui/text-field';
import { Fields } from './rule-fields';

const notSaid = 'not said';
const options = ([notSaid, ...Legality.options] as const).map((value) => ({ value, text: value }));

/** What events say, by rule tag, as the house has read their books. */
export function EventFields({
  events,
  onChange,
  removed,
}: {
  events: readonly EventRules[];
  onChange: (events: EventRules[]) => void;
  removed: () => void;
}) {
  const putAt = (at: number, part: Partial<EventRules>) =>
    onChange(events.map((one, i) => (i === at ? { ...one, ...part } : one)));
  return (
    <>
      {events.map((event, at) => (
        <Fields key={at}>
          <legend>{event.name || 'New event'}</legend>
          <TextField
            label="Event and division"
            value={event.name}
            maxLength={80}
            onChange={(name) => putAt(at, { name })}
          />
          {RuleTag.options.map((tag) => (
            <Select
              key={tag}
              above
              label={tag}
              options={options}
              value={event.tags[tag] ?? notSaid}
              onChange={(chosen) => {
                const { [tag]: _, ...others } = event.tags;
                const says = Legality.safeParse(chosen).data;
                putAt(at, { tags: says ? { ...others, [tag]: says } : others });
              }}
            />
          ))}
          <Button
            $quiet
            onPress={() => {
              onChange(events.filter((_, i) => i !== at));
              removed();
            }}
          >
            Delete event
          </Button>
        </Fields>
      ))}
      <Row style={{ marginTop: '0.8rem' }}>
        <Button $quiet onPress={() => onChange([...events, { name: '', tags: {} }])}>
          Add an event
        </Button>
      </Row>
    </>
  );
}
