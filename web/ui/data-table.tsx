import { type ReactNode, useState } from 'react';
import { Button } from 'react-aria-components';
import styled from 'styled-components';
import { Checkbox } from './checkbox';
import { Quiet } from './frame';
import { TextField } from './text-field';

export interface Column<Row> {
  head: string;
  cell: (row: Row) => ReactNode;
  /** The value the column is sorted by; a column without it cannot be sorted. Unknown values come last. */
  by?: (row: Row) => string | number | null;
}

/** From more rows than this on, one can type to find some. */
const many = 12;

const Compared = styled.table`
  width: 100%;
  th {
    text-align: left;
    color: var(--muted);
    font-weight: 500;
  }
  th,
  td {
    padding: 0.45rem 0.9rem 0.45rem 0;
    border-bottom: 1px solid var(--line);
  }
  thead th {
    position: sticky;
    top: 0;
    background: var(--surface);
  }
  thead button {
    border: 0;
    min-width: 1.5rem;
    padding: 0.2rem 0;
    background: transparent;
    color: inherit;
    font-weight: inherit;
    text-align: left;
    cursor: pointer;
  }
  th[aria-sort='ascending'] button::after {
    content: ' ↑';
  }
  th[aria-sort='descending'] button::after {
    content: ' ↓';
  }
  @media (max-width: 640px) {
    thead {
      display: none;
    }
    tbody tr {
      display: grid;
      gap: 0.1rem;
      padding: 0.6rem 0;
      border-bottom: 1px solid var(--line);
    }
    tbody td {
      display: grid;
      grid-template-columns: 7rem minmax(0, 1fr);
      align-items: center;
      gap: 0.6rem;
      padding: 0.1rem 0;
      border: 0;
    }
    tbody td::before {
      content: attr(data-head);
      color: var(--muted);
    }
    tbody td:empty {
      display: none;
    }
  }
`;

/** One row is chosen by it. */
const Tick = styled(Checkbox)`
  width: 2.2rem;
  gap: 0;
`;

const compare = (a: string | number | null, b: string | number | null): number =>
  a === b
    ? 0
    : a === null
      ? 1
      : b === null
        ? -1
        : typeof a === 'number' && typeof b === 'number'
          ? a - b
          : String(a).localeCompare(String(b));

/**
 * Rows that are compared: sorted by a column's head, found by typing if there are many, and cards on a phone. It is a plain
 * table: React Aria's makes every cell a focus stop with hooks of its own, and a roster of forty took 250 ms instead of 60.
 */
export function DataTable<Row>({
  label,
  columns,
  rows,
  keyOf,
  wordsOf,
  chosen,
  onChoose,
  nameOf = wordsOf,
}: {
  label: string;
  columns: readonly Column<Row>[];
  rows: readonly Row[];
  keyOf: (row: Row) => string;
  /** What is looked through when somebody types. */
  wordsOf: (row: Row) => string;
  /** Keys of the rows that are chosen, where several can be. */
  chosen?: ReadonlySet<string> | undefined;
  onChoose?: ((chosen: ReadonlySet<string>) => void) | undefined;
  /** The name of a row for somebody who selects it. */
  nameOf?: (row: Row) => string;
}) {
  const [sort, setSort] = useState<{ place: number; down: boolean } | null>(null);
  const [words, setWords] = useState('');
  const wanted = words.trim().toLocaleLowerCase();
  const found =
    wanted === '' ? rows : rows.filter((row) => wordsOf(row).toLocaleLowerCase().includes(wanted));
  const by = sort && columns[sort.place]!.by;
  const shown = by
    ? [...found].sort((a, b) => {
        const [x, y] = [by(a), by(b)];
        // Unknown values come last in both directions.
        return x === null || y === null ? compare(x, y) : compare(x, y) * (sort.down ? -1 : 1);
      })
    : found;
  const press = (place: number) =>
    setSort((now) =>
      now?.place === place ? (now.down ? null : { place, down: true }) : { place, down: false },
    );
  return (
    <>
      {rows.length > many && (
        <div style={{ maxWidth: '20rem', marginBottom: '0.6rem' }}>
          <TextField label={`Find in ${label}`} value={words} onChange={setWords} />
        </div>
      )}
      <Compared aria-label={label}>
        <thead>
          <tr>
            {chosen && (
              <th scope="col">
                <Tick
                  aria-label={`Choose all of ${label}`}
                  isSelected={shown.length > 0 && shown.every((row) => chosen.has(keyOf(row)))}
                  onChange={(on) => onChoose?.(new Set(on ? shown.map(keyOf) : []))}
                />
              </th>
            )}
            {columns.map(({ head, by: sorts }, place) => (
              <th
                key={head}
                scope="col"
                aria-sort={sort?.place !== place ? undefined : sort.down ? 'descending' : 'ascending'}
              >
                {sorts ? <Button onPress={() => press(place)}>{head}</Button> : head}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {shown.map((row) => (
            <tr key={keyOf(row)}>
              {chosen && (
                <td data-head="Choose">
                  <Tick
                    aria-label={`Choose ${nameOf(row)}`}
                    isSelected={chosen.has(keyOf(row))}
                    onChange={(on) => {
                      const next = new Set(chosen);
                      if (on) next.add(keyOf(row));
                      else next.delete(keyOf(row));
                      onChoose?.(next);
                    }}
                  />
                </td>
              )}
              {columns.map(({ head, cell }) => (
                <td key={head} data-head={head}>
                  {cell(row)}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </Compared>
      {shown.length === 0 && <Quiet role="status">No matches for “{words}”.</Quiet>}
    </>
  );
}
