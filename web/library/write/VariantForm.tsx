import { Attire, BodyFact, mobilities, RuleTag, type Variant, type When } from '@ulkret/core/breakdown';
import {
  ManyInput,
  NumberInput,
  plainly,
  SelectInput,
  type Path,
  type Set,
  Small,
  TextInput,
  Two,
  Unfold,
} from './fields';
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
export function VariantForm({
  path,
  variant,
  set,
  remove,
}: {
  path: Path;
  variant: Variant;
  set: Set;
  remove: () => void;
}) {
  const { when } = variant;
  const at = (...rest: Path): Path => [...path, ...rest];
  return (
    <Unfold name={variant.name} path={path}>
      <Two>
        <TextInput label="Variant" path={at('name')} value={variant.name} set={set} />
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
        <WhenFields {...{ when, at, set }} />
      </Two>
      <TextInput
        label="Criterion in this variant"
        long
        path={at('criterion')}
        value={variant.criterion ?? ''}
        set={set}
      />
      <TextInput
        label="Caution of this variant"
        long
        path={at('caution')}
        value={variant.caution ?? ''}
        set={(to, value) => set(to, value === '' ? undefined : value)}
      />
      <ProofsForm
        path={at('proofs')}
        proofs={variant.proofs ?? []}
        set={(to, value) => set(to, Array.isArray(value) && value.length === 0 ? undefined : value)}
      />
      <ToleranceForm path={at('tolerance')} tolerance={variant.tolerance} set={set} />
      <ManyInput
        label="Rule tags of this variant alone"
        path={at('ruleTags')}
        value={variant.ruleTags ?? []}
        options={plainly(RuleTag.options)}
        onChange={(tags) => set(at('ruleTags'), tags.length > 0 ? tags : undefined)}
      />
      <Small onClick={remove}>Delete variant</Small>
    </Unfold>
  );
}

interface WhenProps<On extends Variant['when']['on']> {
  when: Extract<Variant['when'], { on: On }>;
  at: (...rest: Path) => Path;
  set: Set;
}

/** The condition of a variant. */
function WhenFields({ when, at, set }: { when: Variant['when'] } & Omit<WhenProps<'body'>, 'when'>) {
  return (
    <>
      {when.on === 'school' && (
        <TextInput label="School" path={at('when', 'school')} value={when.school} set={set} />
      )}
      {when.on === 'situation' && (
        <TextInput label="Situation" path={at('when', 'situation')} value={when.situation} set={set} />
      )}
      {when.on === 'attire' && (
        <SelectInput
          label="Attire"
          path={at('when', 'attire')}
          value={when.attire}
          options={plainly(Attire.options)}
          onChange={(attire) => set(at('when', 'attire'), attire)}
        />
      )}
      {when.on === 'body' && <BodyFields {...{ when, at, set }} />}
    </>
  );
}

/** A fact of the bodies, and the value that it is compared with. */
function BodyFields({ when, at, set }: WhenProps<'body'>) {
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
        <SelectInput
          label="Is"
          path={at('when', 'value')}
          value={String(when.value) as (typeof mobility)[number]}
          options={plainly(mobility)}
          onChange={(value) => set(at('when', 'value'), value)}
        />
      ) : (
        <>
          <SelectInput
            label="Is"
            path={at('when', 'is')}
            value={when.is}
            options={[
              { value: '<', text: 'under' },
              { value: '>', text: 'over' },
              { value: '=', text: 'just' },
            ]}
            onChange={(is) => set(at('when', 'is'), is)}
          />
          <NumberInput label="Value" path={at('when', 'value')} value={Number(when.value)} set={set} />
        </>
      )}
    </>
  );
}
