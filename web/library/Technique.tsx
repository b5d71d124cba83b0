import { endpoints, type TechniqueRow } from '@ulkret/contract';
import { type Breakdown, readFor, Side, type Technique } from '@ulkret/core/breakdown';
import { legalAt } from '@ulkret/core/care';
import { useRef } from 'react';
import { Link, Navigate, useParams, useSearchParams } from 'react-router';
import styled from 'styled-components';
import { useMay } from '../api/may';
import { useApi } from '../api/use-api';
import { addressOf } from '../api/ask';
import { rulesOf, useKit } from '../device/kit';
import { Loaded, Loading } from '../ui/states';
import { ButtonLink } from '../ui/button-link';
import { Caution } from '../ui/caution';
import { Choice, rightOrLeft } from '../ui/choice';
import { Head, Page, Panel, Quiet, Row } from '../ui/frame';
import { Strand } from '../strand/Strand';
import { CheckpointAnatomy } from './read/Anatomy';
import { beginFrom } from './write/use-draft';
import { Workbench } from './write/Workbench';
import { usePositionName } from '../reader/use-position-name';
import { Title } from '../ui/title';
import { useNarrow } from '../ui/use-narrow';

const Columns = styled.div`
  display: grid;
  grid-template-columns: minmax(20rem, 5fr) minmax(0, 7fr);
  gap: 1.1rem;
  align-items: start;
  @media (max-width: 900px) {
    grid-template-columns: minmax(0, 1fr);
  }
`;

const KnotLink = styled(Link)`
  display: grid;
  padding: 0.45rem 0.7rem;
  border-radius: 8px;
  color: var(--ink);
  text-decoration: none;
  line-height: 1.2;
  strong {
    font-weight: 600;
  }
  &[aria-current] {
    background: var(--wash);
  }
`;

/** A technique, to be read, or to be written where the address says so. */
export default function TechniquePage() {
  const { technique: id = '' } = useParams();
  const [search] = useSearchParams();
  const writes = useMay('coach');
  return search.get('edit') && writes ? <Writing key={id} id={id} /> : <Reading id={id} />;
}

function Writing({ id }: { id: string }) {
  const once = { revalidateOnFocus: false, revalidateIfStale: true, keepPreviousData: false };
  const technique = useApi(endpoints.technique, { params: { id } }, once);
  const saved = useApi(endpoints.draft, { params: { id } }, once);
  const rows = useApi(endpoints.techniques);
  // What is there when the page is opened is what it begins from; a draft of a moment ago would be a meeting with oneself.
  const begun = useRef<ReturnType<typeof beginFrom> | null>(null);
  return (
    <Page>
      <Loaded of={technique} what="the breakdown">
        {({ technique: one, editions }) => (
          <Loaded of={saved} what="the draft">
            {({ draft }) => {
              if (saved.isValidating && !begun.current) return <Loading what="the draft" />;
              begun.current ??= beginFrom(one, editions.at(-1), draft);
              return (
                <Workbench
                  start={begun.current}
                  latest={editions.at(-1)}
                  rows={rows.data?.techniques ?? noRows}
                />
              );
            }}
          </Loaded>
        )}
      </Loaded>
    </Page>
  );
}

const noRows: readonly TechniqueRow[] = [];

/** What the events that the house has written down say of a technique; nothing where it has written down none. */
function AtEvents({ technique }: { technique: Technique }) {
  const { events } = rulesOf(useKit().data);
  if (events.length === 0) return null;
  const told = events.map((event) => {
    const { says, by } = legalAt(technique, event);
    return `${event.name}: ${says === 'not' ? 'not legal' : says}${says === 'legal' || by.length === 0 ? '' : ` (${by.join(', ')})`}`;
  });
  return (
    <Quiet>At events (our reading): {told.join('; ')}. The event’s current rule book comes first.</Quiet>
  );
}

function Reading({ id }: { id: string }) {
  const narrow = useNarrow();
  const writes = useMay('coach');
  const technique = useApi(endpoints.technique, { params: { id } });
  const rows = useApi(endpoints.techniques);
  const [search, setSearch] = useSearchParams();
  const lead = Side.catch('right').parse(search.get('side'));
  const set = (name: string, value: string) =>
    setSearch(
      (at) => {
        at.set(name, value);
        return at;
      },
      { replace: true },
    );
  return (
    <Page>
      <Loaded of={technique} what="the breakdown">
        {({ technique: one, editions }) => {
          const breakdown = editions.at(-1);
          if (!breakdown) return <Navigate to={`/library/${id}?edit=1`} replace />;
          const chosen =
            breakdown.checkpoints.find(({ id: c }) => c === search.get('checkpoint')) ??
            breakdown.checkpoints[0]!;
          const linkTo = (checkpoint: string) => `?side=${lead}&checkpoint=${checkpoint}`;
          return (
            <>
              <BreakdownHead
                {...{ breakdown, lead, writes }}
                technique={one}
                onSide={(side) => set('side', side)}
              />
              <Caution note={one.safetyNote} />
              <AtEvents technique={one} />
              <Links technique={one} writes={writes} />
              <Columns>
                <Panel>
                  <Strand
                    label={`Checkpoints of the ${one.name}`}
                    knots={breakdown.checkpoints}
                    links={breakdown.checkpoints.flatMap(({ id: to, after }) =>
                      after.map((from) => ({ from, to })),
                    )}
                    spans={breakdown.defences.map((one) => ({
                      id: one.id,
                      from: one.opens,
                      to: one.closes,
                      label: one.title,
                      loaded: one.underLoadOnly,
                    }))}
                    selected={chosen.id}
                    rowHeight={narrow ? 108 : 84}
                    width={124}
                    row={({ id: c, kind, belief }, place) => (
                      <KnotLink to={linkTo(c)} replace aria-current={c === chosen.id ? 'true' : undefined}>
                        <strong>
                          {place + 1} {readFor(breakdown.checkpoints[place]!.title, lead)}
                        </strong>
                        <Quiet as="span">
                          {kind}, weight {belief} %
                        </Quiet>
                      </KnotLink>
                    )}
                  />
                </Panel>
                <CheckpointAnatomy
                  breakdown={breakdown}
                  checkpoint={chosen}
                  rows={rows.data?.techniques ?? noRows}
                  read={(text) => readFor(text, lead)}
                />
              </Columns>
            </>
          );
        }}
      </Loaded>
    </Page>
  );
}

function BreakdownHead({
  technique: one,
  breakdown,
  lead,
  writes,
  onSide,
}: {
  technique: Technique;
  breakdown: Breakdown;
  lead: Side;
  writes: boolean;
  onSide: (side: Side) => void;
}) {
  const placeNamed = usePositionName();
  return (
    <Head>
      <div>
        <Title>{one.name}</Title>
        <Quiet>
          {one.kind} from {placeNamed(readFor(one.startPosition, lead))} · {one.mechanism} · edition{' '}
          {breakdown.edition}, {breakdown.source}
          {one.reach &&
            ` · the ${one.reach.limb} closes around the ${one.reach.around}${one.reach.lock && `, ${one.reach.lock}`}`}
        </Quiet>
      </div>
      <Row>
        <Choice label="Lead side" value={lead} options={rightOrLeft} onChange={onSide} />
        {writes && <ButtonLink to={`/library/${one.id}?edit=1`}>Write the next edition</ButtonLink>}
      </Row>
    </Head>
  );
}

function Links({ technique: one, writes }: { technique: Technique; writes: boolean }) {
  return (
    <Row as="nav" aria-label="This technique">
      <Link to={`/readings/${one.id}`}>Where do the reps end?</Link>
      <Link to={`/library/${one.id}/learn`}>For the student</Link>
      <Link to={`/library/${one.id}/print`}>On paper</Link>
      <Link to={`/library/${one.id}/editions`}>Editions</Link>
      {writes && (
        <a
          href={addressOf(endpoints.exportBreakdowns, { query: { technique: one.id } })}
          download={`${one.id}.json`}
        >
          As a file
        </a>
      )}
    </Row>
  );
}
