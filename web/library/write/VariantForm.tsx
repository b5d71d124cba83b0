import { Attire, BodyFact, mobilities, RuleTag, type Variant, type When } from '@ulkret/core/breakdown';
import { ManyInput, plainly, SelectInput } from './choice-fields';
import { Small, Two, Unfold } from './parts';
import { NumberInput, TextInput } from './text-fields';
import { type Path, useWriting } from './writing';
import { ProofsForm, ToleranceForm } from './ProofsForm';

/** A condition of each sort, as it begins. */
export const conditions: Readonly<Record<When['on'], When>> = {
  school: { on: 'school', school: '' },
  attire: { on: 'attire', attire: 'gi' },
  body: { on: 'body', fact: 'reach margin', is: '<', value: 0 },
  situation: { on: 'situation', situation: '' },
};
const mobility = ['low', 'middle', 'high'] as const;

/** Another way to meet a checkpoint: when it holds, and all that it replaces. */
export function VariantForm({ path, variant, remove }: { path: Path; variant: Variant; remove: () => void }) {
  const { set } = useWriting();
  const { when } = variant;
  const at = (...rest: Path): Path => [...path, ...rest];
  return (
    <Unfold name={variant.name} path={path}>
      <Two>
        <TextInput label="Variant" path={at('name')} />
        <SelectInput
          label="When"
          path={at('when')}
          value={when.on}
          options={[
            { value: 'school', text: 'a school is chosen' },
            { value: 'attire', text: 'of the attire' },
            { value: 'body', text: 'of the bodies' },
            { value: 'situation', text: 'of a situation' },
          ]}
          onChange={(on) => set(at('when'), conditions[on])}
        />
        <WhenFields {...{ when, at }} />
      </Two>
      <TextInput label="Criterion in this variant" long path={at('criterion')} />
      <TextInput label="Caution of this variant" long path={at('caution')} optional />
      <ProofsForm path={at('proofs')} proofs={variant.proofs ?? []} optional />
      <ToleranceForm path={at('tolerance')} tolerance={variant.tolerance} />
      <ManyInput
        label="Rule tags of this variant alone"
        path={at('ruleTags')}
        options={plainly(RuleTag.options)}
        optional
      />
      <Small onClick={remove}>Delete variant</Small>
    </Unfold>
  );
}

interface WhenProps<On extends Variant['when']['on']> {
  when: Extract<Variant['when'], { on: On }>;
  at: (...rest: Path) => Path;
}

/** The condition of a variant. */
function WhenFields({ when, at }: { when: Variant['when'] } & Omit<WhenProps<'body'>, 'when'>) {
  return (
    <>
      {when.on === 'school' && <TextInput label="School" path={at('when', 'school')} />}
      {when.on === 'situation' && <TextInput label="Situation" path={at('when', 'situation')} />}
      {when.on === 'attire' && (
        <SelectInput label="Attire" path={at('when', 'attire')} options={plainly(Attire.options)} />
      )}
      {when.on === 'body' && <BodyFields {...{ when, at }} />}
    </>
  );
}

/** A fact of the bodies, and the value that it is compared with. */
function BodyFields({ when, at }: WhenProps<'body'>) {
  const { set } = useWriting();
  return (
    <>
      <SelectInput
        label="Fact"
        path={at('when', 'fact')}
        value={when.fact}
        options={plainly(BodyFact.options)}
        onChange={(fact) =>
          set(at('when'), {
            ...when,
            fact,
            ...(mobilities.has(fact) ? { is: '=', value: 'low' } : { is: '<', value: 0 }),
          })
        }
      />
      {mobilities.has(when.fact) ? (
        <SelectInput label="Is" path={at('when', 'value')} options={plainly(mobility)} />
      ) : (
        <>
          <SelectInput
            label="Is"
            path={at('when', 'is')}
            options={[
              { value: '<', text: 'under' },
              { value: '>', text: 'over' },
              { value: '=', text: 'just' },
            ]}
          />
          <NumberInput label="Value" path={at('when', 'value')} />
        </>
      )}
    </>
  );
}
