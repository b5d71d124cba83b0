import { endpoints, type TechniqueRow } from '@ulkret/contract';
import {
  type Breakdown,
  type Checkpoint,
  defencesOpenAt,
  placeOf,
  readFor,
  Side,
} from '@ulkret/core/breakdown';
import { useRef } from 'react';
import { Link, Navigate, useParams, useSearchParams } from 'react-router';
import styled from 'styled-components';
import { useApi } from '../api/use-api';
import { addressOf } from '../api/ask';
import { Loaded, Loading } from '../ui/states';
import { ButtonLink } from '../ui/button-link';
import { Caution } from '../ui/caution';
import { Choice, rightOrLeft } from '../ui/choice';
import { Head, Page, Panel, Quiet, Row } from '../ui/frame';
import { Strand } from '../strand/Strand';
import { MarkIcon } from '../strand/marks';
import { beginFrom } from './use-draft';
import { Workbench } from './Workbench';
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

const Anatomy = styled(Panel)`
  display: grid;
  gap: 1rem;
  position: sticky;
  top: 1rem;
  dl {
    display: grid;
    gap: 0.3rem 0.8rem;
    grid-template-columns: 7.5rem minmax(0, 1fr);
  }
  dt {
    color: var(--muted);
  }
  article {
    border-top: 1px solid var(--line);
    padding-top: 0.7rem;
    display: grid;
    gap: 0.3rem;
  }
`;

/** A technique, to be read, or to be written where the address says so. */
export default function TechniquePage() {
  const { technique: id = '' } = useParams();
  const [search] = useSearchParams();
  return search.get('edit') ? <Writing key={id} id={id} /> : <Reading id={id} />;
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

function Reading({ id }: { id: string }) {
  const narrow = useNarrow();
  const technique = useApi(endpoints.technique, { params: { id } });
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
              <Head>
                <div>
                  <Title>{one.name}</Title>
                  <Quiet>
                    {one.kind} from {one.startPosition.toLowerCase()} · {one.mechanism} · edition{' '}
                    {breakdown.edition}, {breakdown.source}
                  </Quiet>
                </div>
                <Row>
                  <Choice
                    label="Lead side"
                    value={lead}
                    options={rightOrLeft}
                    onChange={(side) => set('side', side)}
                  />
                  <ButtonLink to={`/library/${one.id}?edit=1`}>Write the next edition</ButtonLink>
                </Row>
              </Head>
              <Caution note={one.safetyNote} />
              <Row as="nav" aria-label="This technique">
                <Link to={`/readings/${one.id}`}>Where do the reps end?</Link>
                <Link to={`/library/${one.id}/learn`}>For the student</Link>
                <Link to={`/library/${one.id}/print`}>On paper</Link>
                <Link to={`/library/${one.id}/editions`}>Editions</Link>
                <a
                  href={addressOf(endpoints.exportBreakdowns, { query: { technique: one.id } })}
                  download={`${one.id}.json`}
                >
                  As a file
                </a>
              </Row>
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
                          {kind}, worth {belief} %
                        </Quiet>
                      </KnotLink>
                    )}
                  />
                </Panel>
                <CheckpointAnatomy
                  breakdown={breakdown}
                  checkpoint={chosen}
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

const proofWords = { see: 'You see', feel: 'You feel', ask: 'You ask', measure: 'You measure' } as const;

interface AnatomyProps {
  breakdown: Breakdown;
  checkpoint: Checkpoint;
  /** Text for the lead side. */
  read: (text: string) => string;
}

function CheckpointAnatomy({ breakdown, checkpoint, read }: AnatomyProps) {
  const title = (id: string) =>
    `${placeOf(breakdown, id) + 1} ${read(breakdown.checkpoints[placeOf(breakdown, id)]!.title)}`;
  const { kind, criterion, proofs, tolerance, after, window, mendable, variants } = checkpoint;
  const mistakes = breakdown.mistakes.filter(({ at }) => at === checkpoint.id);
  const defences = defencesOpenAt(breakdown, checkpoint.id);
  return (
    <Anatomy aria-label="Anatomy of the checkpoint">
      <div>
        <Row>
          <MarkIcon kind={kind} size={28} />
          <h2>{title(checkpoint.id)}</h2>
        </Row>
        <p style={{ fontSize: '1.12rem', marginTop: '0.4rem' }}>{read(criterion)}</p>
      </div>
      <dl>
        {proofs.map(({ by, text }) => (
          <Pair key={text} term={proofWords[by]}>
            {read(text)}
          </Pair>
        ))}
        {tolerance && (
          <Pair term="Within">
            {tolerance.low} to {tolerance.high} {tolerance.unit}: {read(tolerance.between)}
          </Pair>
        )}
        {after.length > 0 && <Pair term="After">{after.map(title).join(' · ')}</Pair>}
        {window && (
          <Pair term="Window">
            opens {read(window.opens)}; closes {read(window.closes)}
          </Pair>
        )}
        <Pair term="Once missed">{mendable ? `fix it from ${title(mendable.backTo)}` : 'start over'}</Pair>
        {variants.map(({ id, name, criterion: other }) => (
          <Pair key={id} term="Variant">
            <strong>{name}</strong>. {other && read(other)}
          </Pair>
        ))}
      </dl>
      {mistakes.map(({ id, title: name, seen, believes, breaks, cue, root }) => (
        <article key={id}>
          <h3>Mistake: {read(name)}</h3>
          <p>
            {read(seen)} The student believes: {read(believes)} What it breaks: {read(breaks)}
            {root !== checkpoint.id && <> Its root is {title(root)}.</>}
          </p>
          <p>
            <strong>Cue:</strong> {read(cue)}
          </p>
        </article>
      ))}
      {defences.map(({ id, title: name, type, underLoadOnly, signal, leaves, answers }) => (
        <article key={id}>
          <h3>
            Defence: {read(name)} ({type}
            {underLoadOnly && ', only under load'})
          </h3>
          <p>
            {read(signal)} It leaves {leaves.position};{' '}
            {leaves.ahead === 'neither' ? 'nobody is' : `the ${leaves.ahead} is`} ahead.
          </p>
          {answers.map((answer) => (
            <p key={answer.how}>
              <strong>
                {answer.do === 'mend' ? 'Mend' : answer.do === 'switch' ? 'Switch' : 'Retreat'}:
              </strong>{' '}
              {read(answer.how)}
            </p>
          ))}
          {answers.length === 0 && <p style={{ color: 'var(--stop)' }}>No answer is recorded.</p>}
        </article>
      ))}
    </Anatomy>
  );
}

const Pair = ({ term, children }: { term: string; children: React.ReactNode }) => (
  <>
    <dt>{term}</dt>
    <dd>{children}</dd>
  </>
);
