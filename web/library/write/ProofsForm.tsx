import { isRelation, Measured, Proof, Relation, type Tolerance, unitsOf } from '@ulkret/core/breakdown';
import { plainly, SelectInput } from './choice-fields';
import { Small, Two } from './parts';
import { OpenNumberInput, TextInput } from './text-fields';
import { type Path, useWriting } from './writing';

/** The signs by which one can tell: that it holds, or that it is broken. */
export function ProofsForm({
  path,
  proofs,
  optional = false,
}: {
  path: Path;
  proofs: readonly Proof[];
  /** No signs are written as no field at all. */
  optional?: boolean;
}) {
  const writing = useWriting();
  const put = (next: readonly Proof[]) => writing.set(path, optional && next.length === 0 ? undefined : next);
  return (
    <>
      {proofs.map((_, k) => (
        <div
          key={k}
          style={{
            display: 'grid',
            gridTemplateColumns: 'minmax(0, 1fr) minmax(0, 1fr) auto',
            gap: '0.5rem',
            alignItems: 'end',
          }}
        >
          <SelectInput label="By" path={[...path, k, 'by']} options={plainly(Proof.shape.by.options)} />
          <SelectInput
            label="Tells"
            path={[...path, k, 'shows']}
            options={[
              { value: 'holds', text: 'it holds' },
              { value: 'broken', text: 'it fails' },
            ]}
            none="holds"
          />
          <Small label={`Delete sign ${k + 1}`} onClick={() => put(proofs.toSpliced(k, 1))}>
            ×
          </Small>
          <div style={{ gridColumn: '1 / -1' }}>
            <TextInput label={`Sign ${k + 1}`} long path={[...path, k, 'text']} />
          </div>
        </div>
      ))}
      <Small onClick={() => put([...proofs, { by: 'see', text: '' }])}>Add a sign</Small>
    </>
  );
}

const kinds = {
  none: undefined,
  range: { quantity: 'angle', unit: 'degrees', low: 0, high: 90, between: '' },
  relation: { what: '', is: 'below', of: '' },
} as const satisfies Record<string, Tolerance | undefined>;

/** What is measured of it: nothing, a range that may be open at one end, or where one thing is seen from another. */
export function ToleranceForm({ path, tolerance }: { path: Path; tolerance: Tolerance | undefined }) {
  const { set } = useWriting();
  const at = (key: string): Path => [...path, key];
  return (
    <>
      <SelectInput
        label="Measure"
        path={path}
        value={tolerance === undefined ? 'none' : isRelation(tolerance) ? 'relation' : 'range'}
        options={[
          { value: 'none', text: 'nothing is measured' },
          { value: 'range', text: 'a range' },
          { value: 'relation', text: 'one thing against another' },
        ]}
        onChange={(kind) => set(path, kinds[kind])}
      />
      {tolerance && isRelation(tolerance) && (
        <Two>
          <TextInput label="What" path={at('what')} />
          <SelectInput label="Is" path={at('is')} options={plainly(Relation.shape.is.options)} />
          <TextInput label="Seen from" path={at('of')} />
        </Two>
      )}
      {tolerance && !isRelation(tolerance) && (
        <>
          <Two>
            <SelectInput
              label="Quantity"
              path={at('quantity')}
              value={tolerance.quantity}
              options={plainly(Measured.shape.quantity.options)}
              onChange={(quantity) => set(path, { ...tolerance, quantity, unit: unitsOf[quantity][0]! })}
            />
            <SelectInput label="Unit" path={at('unit')} options={plainly(unitsOf[tolerance.quantity])} />
            <OpenNumberInput label="At least" path={at('low')} />
            <OpenNumberInput label="At most" path={at('high')} />
          </Two>
          <TextInput label="Measured between" long path={at('between')} />
        </>
      )}
    </>
  );
}
