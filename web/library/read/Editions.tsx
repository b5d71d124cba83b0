import { endpoints } from '@ulkret/contract';
import { type Breakdown, type FieldChange, changesBetween, changeWords } from '@ulkret/core/breakdown';
import { Link, useParams, useSearchParams } from 'react-router';
import { useApi } from '../../api/use-api';
import { Loaded } from '../../ui/states';
import { Head, Page, Panel, Quiet, Row } from '../../ui/frame';
import { Select } from '../../ui/select';
import { DataTable } from '../../ui/data-table';
import { Title } from '../../ui/title';

const told = (value: unknown): string => {
  if (value === undefined || value === null) return '–';
  if (typeof value !== 'object') return String(value);
  const titled = value as { title?: string; criterion?: string };
  return titled.title ? [titled.title, titled.criterion].filter(Boolean).join(': ') : JSON.stringify(value);
};

const place = (value: unknown) => `place ${Number(value) + 1}`;

/** Two editions of a breakdown, side by side, where they differ. */
export default function Editions() {
  const { technique: id = '' } = useParams();
  const [search, setSearch] = useSearchParams();
  const technique = useApi(endpoints.technique, { params: { id } });
  return (
    <Page>
      <Loaded of={technique} what="the editions">
        {({ technique: one, editions }) => {
          const of = (name: string, usual: Breakdown | undefined) =>
            editions.find(({ edition }) => String(edition) === search.get(name)) ?? usual;
          const from = of('from', editions.at(-2) ?? editions[0]);
          const to = of('to', editions.at(-1));
          const options = editions.map(({ edition, date, author }) => ({
            value: String(edition),
            text: `${edition} (${date}, ${author})`,
          }));
          const set = (name: string, value: string) =>
            setSearch((at) => (at.set(name, value), at), { replace: true });
          return (
            <>
              <Head>
                <div>
                  <Title>Editions of the {one.name}</Title>
                  <Link to={`/library/${id}`}>Back to the breakdown</Link>
                </div>
                {from && to && (
                  <Row>
                    <Select
                      label="From edition"
                      value={String(from.edition)}
                      options={options}
                      onChange={(value) => set('from', value)}
                    />
                    <Select
                      label="to edition"
                      value={String(to.edition)}
                      options={options}
                      onChange={(value) => set('to', value)}
                    />
                  </Row>
                )}
              </Head>
              {from && to ? <Differences from={from} to={to} /> : <Panel>Not published yet.</Panel>}
            </>
          );
        }}
      </Loaded>
    </Page>
  );
}

function Differences({ from, to }: { from: Breakdown; to: Breakdown }) {
  const changes = changesBetween(from, to).filter(
    ({ path }: FieldChange) => !['edition', 'date', 'author'].includes(String(path[0])),
  );
  return (
    <Panel>
      {changes.length === 0 ? (
        <Quiet>No differences.</Quiet>
      ) : (
        <DataTable
          label="what changed"
          rows={changes}
          keyOf={({ is, path }) => `${is} ${path.join('.')}`}
          wordsOf={(change) => changeWords(change, from, to)}
          columns={[
            { head: 'What', cell: (change) => changeWords(change, from, to) },
            {
              head: `Edition ${from.edition}`,
              cell: ({ is, before }) => (is === 'moved' ? place(before) : told(before)),
            },
            {
              head: `Edition ${to.edition}`,
              cell: ({ is, after }) => (is === 'moved' ? place(after) : told(after)),
            },
          ]}
        />
      )}
    </Panel>
  );
}
