import { endpoints, type TechniqueRow } from '@ulkret/contract';
import { Link } from 'react-router';
import styled from 'styled-components';
import { useApi } from '../shell/api';
import { Empty, Loaded } from '../shell/states';
import { Head, Page, Panel, Quiet } from '../shell/ui';
import { many } from '../shell/words';
import { Thumbnail } from '../strand/Strand';

const Entry = styled(Link)`
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 0.5rem 1.4rem;
  padding: 0.9rem 0;
  color: var(--ink);
  text-decoration: none;
  > span:first-child {
    flex: 1 1 16rem;
    display: grid;
  }
  strong {
    font-size: 1.1rem;
    color: var(--action);
    text-decoration: underline;
  }
`;

export default function Library() {
  const techniques = useApi(endpoints.techniques);
  return (
    <Page>
      <Head>
        <h1>Library</h1>
      </Head>
      <Loaded of={techniques} what="the library">
        {({ techniques: rows }) =>
          rows.length === 0 ? (
            <Empty title="The library is empty.">
              <p>This academy was made without the breakdowns that ship with Ulkret.</p>
            </Empty>
          ) : (
            [...new Set(rows.map(({ technique }) => technique.startPosition))].map((position) => (
              <Panel key={position}>
                <h2>From {position.toLowerCase()}</h2>
                {rows
                  .filter(({ technique }) => technique.startPosition === position)
                  .map((row) => (
                    <Row key={row.technique.id} row={row} />
                  ))}
              </Panel>
            ))
          )
        }
      </Loaded>
    </Page>
  );
}

const Row = ({ row: { technique, edition, strand, reps } }: { row: TechniqueRow }) => (
  <Entry to={`/library/${technique.id}`}>
    <span>
      <strong>{technique.name}</strong>
      <Quiet as="span">
        {technique.kind}, {technique.mechanism}
        {technique.regions.length > 0 && `, loads the ${technique.regions.join(' and the ')}`}
      </Quiet>
    </span>
    <Thumbnail knots={strand} />
    <Quiet as="span">
      edition {edition} · {many(strand.length, 'checkpoint')} · {many(reps, 'rep')}
    </Quiet>
  </Entry>
);
