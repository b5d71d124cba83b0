import { isRelation, Measured, Proof, Relation, type Tolerance, unitsOf } from '@ulkret/core/breakdown';
import { OpenNumberInput, plainly, SelectInput, type Path, type Set, Small, TextInput, Two } from './fields';

/** The signs by which one can tell: that it holds, or that it is broken. */
export const ProofsForm = ({ path, proofs, set }: { path: Path; proofs: readonly Proof[]; set: Set }) => (
  <>
    {proofs.map((proof, k) => (
      <div
        key={k}
        style={{
          display: 'grid',
          gridTemplateColumns: 'minmax(0, 1fr) minmax(0, 1fr) auto',
          gap: '0.5rem',
          alignItems: 'end',
        }}
      >
        <SelectInput
          label="By"
          path={[...path, k, 'by']}
          value={proof.by}
          options={plainly(Proof.shape.by.options)}
          onChange={(by) => set([...path, k, 'by'], by)}
        />
        <SelectInput
          label="Tells"
          path={[...path, k, 'shows']}
          value={proof.shows ?? 'holds'}
          options={[
            { value: 'holds', text: 'it holds' },
            { value: 'broken', text: 'it fails' },
          ]}
          onChange={(shows) => set([...path, k, 'shows'], shows === 'holds' ? undefined : shows)}
        />
        <Small label={`Delete sign ${k + 1}`} onClick={() => set(path, proofs.toSpliced(k, 1))}>
          ×
        </Small>
        <div style={{ gridColumn: '1 / -1' }}>
          <TextInput label={`Sign ${k + 1}`} long path={[...path, k, 'text']} value={proof.text} set={set} />
        </div>
      </div>
    ))}
    <Small onClick={() => set(path, [...proofs, { by: 'see', text: '' }])}>Add a sign</Small>
  </>
);

const kinds = {
  none: undefined,
  range: { quantity: 'angle', unit: 'degrees', low: 0, high: 90, between: '' },
  relation: { what: '', is: 'below', of: '' },
} as const satisfies Record<string, Tolerance | undefined>;

/** What is measured of it: nothing, a range that may be open at one end, or where one thing is seen from another. */
export function ToleranceForm({
  path,
  tolerance,
  set,
}: {
  path: Path;
  tolerance: Tolerance | undefined;
  set: Set;
}) {
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
          <TextInput label="What" path={at('what')} value={tolerance.what} set={set} />
          <SelectInput
            label="Is"
            path={at('is')}
            value={tolerance.is}
            options={plainly(Relation.shape.is.options)}
            onChange={(is) => set(at('is'), is)}
          />
          <TextInput label="Seen from" path={at('of')} value={tolerance.of} set={set} />
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
            <SelectInput
              label="Unit"
              path={at('unit')}
              value={tolerance.unit}
              options={plainly(unitsOf[tolerance.quantity])}
              onChange={(unit) => set(at('unit'), unit)}
            />
            <OpenNumberInput label="At least" path={at('low')} value={tolerance.low} set={set} />
            <OpenNumberInput label="At most" path={at('high')} value={tolerance.high} set={set} />
          </Two>
          <TextInput label="Measured between" long path={at('between')} value={tolerance.between} set={set} />
        </>
      )}
    </>
  );
}
