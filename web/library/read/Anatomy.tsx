import type { TechniqueRow } from '@ulkret/contract';
import {
  type Breakdown,
  type Checkpoint,
  type Defence,
  defencesOpenAt,
  type Id,
  isRelation,
  type Mistake,
  placeOf,
  type Proof,
  toleranceWords,
  type Variant,
  whenWords,
} from '@ulkret/core/breakdown';
import type { ReactNode } from 'react';
import { Link } from 'react-router';
import styled from 'styled-components';
import { MarkIcon } from '../../strand/marks';
import { SharedPiece } from '../../reader/SharedPiece';
import { usePositionName } from '../../reader/use-position-name';
import { Caution } from '../../ui/caution';
import { Panel, Row } from '../../ui/frame';

const Face = styled(Panel)`
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
  h3 {
    font-size: 1.02rem;
  }
`;

const proofWords = { see: 'You see', feel: 'You feel', ask: 'You ask', measure: 'You measure' } as const;
const answerWords = { mend: 'Fix', switch: 'Switch', retreat: 'Retreat' } as const;

interface AnatomyProps {
  breakdown: Breakdown;
  checkpoint: Checkpoint;
  /** The library, for the names of what it leads to. */
  rows: readonly TechniqueRow[];
  /** Text for the lead side. */
  read: (text: string) => string;
}

/** All that is written of one checkpoint: how one can tell, what goes wrong, what the partner does, where one can come in and leave. */
export function CheckpointAnatomy({ breakdown, checkpoint, rows, read }: AnatomyProps) {
  const title = (id: Id) =>
    `${placeOf(breakdown, id) + 1} ${read(breakdown.checkpoints[placeOf(breakdown, id)]!.title)}`;
  const { id, kind, criterion, proofs, tolerance, after, window, mendable, variants, caution } = checkpoint;
  const { together, withinSeconds } = checkpoint;
  const placeNamed = usePositionName();
  const isLast = breakdown.checkpoints.at(-1)?.id === id;
  const mistakes = breakdown.mistakes.filter(({ at }) => at === id);
  const entries = (breakdown.entries ?? []).filter(({ joinsAt }) => joinsAt === id);
  const exits = (breakdown.exits ?? []).filter(({ at }) => at === id);
  const leadsTo = (technique: Id, enteredAt?: Id) => (
    <LeadsTo rows={rows} technique={technique} enteredAt={enteredAt} read={read} />
  );
  return (
    <Face aria-label="Anatomy of the checkpoint">
      <div>
        <Row>
          <MarkIcon kind={kind} size={28} />
          <h2>{title(id)}</h2>
        </Row>
        <p style={{ fontSize: '1.12rem', marginTop: '0.4rem' }}>{read(criterion)}</p>
      </div>
      <SharedPiece of={checkpoint} technique={breakdown.technique} />
      {caution && <Caution note={read(caution)} />}
      <dl>
        {proofs.map((proof) => (
          <Pair key={proof.text} term={proofWords[proof.by]}>
            <ProofText proof={proof} read={read} />
          </Pair>
        ))}
        {tolerance && (
          <Pair term={isRelation(tolerance) ? 'Seen' : 'Within'}>{read(toleranceWords(tolerance))}</Pair>
        )}
        {withinSeconds !== undefined && <Pair term="In time">{withinSeconds} s after the previous one</Pair>}
        {together !== undefined && <Pair term="Together">at the same moment as {title(together)}</Pair>}
        {after.length > 0 && <Pair term="After">{after.map(title).join(' · ')}</Pair>}
        {window && (
          <Pair term="Window">
            opens {read(window.opens)}; closes {read(window.closes)}
          </Pair>
        )}
        <Pair term="Once missed">
          {mendable
            ? `fix it from ${title(mendable.backTo)}${mendable.price ? `; it costs: ${read(mendable.price)}` : ''}`
            : breakdown.fallback
              ? `start over, from ${placeNamed(read(breakdown.fallback.position))}`
              : 'start over'}
        </Pair>
        {entries.map((one) => (
          <Pair key={one.id} term="Way in">
            From {placeNamed(read(one.from))}. {read(one.how)}
          </Pair>
        ))}
        {exits.map((one) => (
          <Pair key={one.id} term="Way out">
            {leadsTo(one.technique, one.enteredAt)} {read(one.how)}
            {one.when && ` When: ${read(one.when)}.`}
            {one.rank !== undefined && ` Preference ${one.rank}.`}
            {one.unsafe && <Caution note="Not on a training partner." />}
          </Pair>
        ))}
        {isLast &&
          [...(breakdown.finishes ?? [])]
            .sort((a, b) => (a.rank ?? 99) - (b.rank ?? 99))
            .map((one) => (
              <Pair key={one.id} term="Finish">
                <strong>{read(one.title)}</strong> {read(one.how)}
                {one.rank !== undefined && ` Preference ${one.rank}.`}
              </Pair>
            ))}
      </dl>
      {variants.map((variant) => (
        <VariantArticle key={variant.id} variant={variant} read={read} />
      ))}
      {mistakes.map((mistake) => (
        <MistakeArticle key={mistake.id} {...{ mistake, title, read }} />
      ))}
      {defencesOpenAt(breakdown, id).map((defence) => (
        <DefenceArticle key={defence.id} {...{ breakdown, defence, title, leadsTo, read }} />
      ))}
    </Face>
  );
}

/** A sign as it is written; one of the contrary says that it is. */
const ProofText = ({ proof, read }: { proof: Proof; read: (text: string) => string }) => (
  <>
    {proof.shows === 'broken' && <strong>It fails where: </strong>}
    {read(proof.text)}
  </>
);

/** Where an answer goes: back to a checkpoint, to another technique, or to a position. */
function AnswerPlace({
  answer,
  title,
  leadsTo,
  read,
}: {
  answer: Defence['answers'][number];
  title: (id: Id) => string;
  leadsTo: (technique: Id, enteredAt?: Id) => React.ReactNode;
  read: (text: string) => string;
}) {
  const placeNamed = usePositionName();
  switch (answer.do) {
    case 'mend':
      return `at ${title(answer.at)}.`;
    case 'switch':
      return (
        <>
          to {leadsTo(answer.technique, answer.enteredAt)}
          {answer.otherSide && ' on the other side'}.
        </>
      );
    case 'retreat':
      return answer.to && `to ${placeNamed(read(answer.to))}.`;
  }
}

/** Another technique of the library, where it begins; its id where the library has it no more. */
function LeadsTo({
  rows,
  technique,
  enteredAt,
  read,
}: {
  rows: readonly TechniqueRow[];
  technique: Id;
  enteredAt?: Id | undefined;
  read: (text: string) => string;
}) {
  const row = rows.find((one) => one.technique.id === technique);
  const place = row ? row.strand.findIndex((knot) => knot.id === enteredAt) : -1;
  return (
    <>
      <Link to={`/library/${technique}${place >= 0 ? `?checkpoint=${enteredAt}` : ''}`}>
        {row?.technique.name ?? technique}
      </Link>
      {place >= 0 && `, at ${place + 1} ${read(row!.strand[place]!.title)}`}
    </>
  );
}

const Pair = ({ term, children }: { term: string; children: React.ReactNode }) => (
  <>
    <dt>{term}</dt>
    <dd>{children}</dd>
  </>
);

type ForLead = (text: string) => string;

function VariantArticle({ variant, read }: { variant: Variant; read: ForLead }) {
  return (
    <article>
      <h3>
        {read(variant.name) || 'Variant'} ({read(whenWords(variant.when))})
      </h3>
      {variant.criterion && <p>{read(variant.criterion)}</p>}
      {variant.proofs?.map((proof) => (
        <p key={proof.text}>
          {proofWords[proof.by]}: <ProofText proof={proof} read={read} />
        </p>
      ))}
      {variant.tolerance && <p>Measure: {read(toleranceWords(variant.tolerance))}</p>}
      {(variant.ruleTags ?? []).length > 0 && <p>Not allowed everywhere: {variant.ruleTags!.join(', ')}.</p>}
      {variant.caution && <Caution note={read(variant.caution)} />}
    </article>
  );
}

function MistakeArticle({
  mistake: { title: name, seen, believes, breaks, cue, root, at, drills },
  title,
  read,
}: {
  mistake: Mistake;
  title: (id: Id) => string;
  read: ForLead;
}) {
  return (
    <article>
      <h3>Mistake: {read(name)}</h3>
      <p>
        {read(seen)} {believes && <>The student believes: {read(believes)}</>}{' '}
        {breaks && <>What it breaks: {read(breaks)}</>}
        {root !== at && <> It starts at {title(root)}.</>}
      </p>
      {cue && (
        <p>
          <strong>Cue:</strong> {read(cue)}
        </p>
      )}
      {drills.length > 0 && (
        <p>
          <strong>{drills.length === 1 ? 'Drill' : 'Drills'}:</strong> {drills.map(read).join(' · ')}
        </p>
      )}
    </article>
  );
}

function DefenceArticle({
  breakdown,
  defence,
  title,
  leadsTo,
  read,
}: {
  breakdown: Breakdown;
  defence: Defence;
  title: (id: Id) => string;
  leadsTo: (technique: Id, enteredAt?: Id) => ReactNode;
  read: ForLead;
}) {
  const { title: name, type, underLoadOnly, signal, leaves, answers, becomes, brokenDownIn, task } = defence;
  const placeNamed = usePositionName();
  const next = breakdown.defences.find((one) => one.id === becomes);
  return (
    <article>
      <h3>
        Defence: {read(name)} ({type}
        {underLoadOnly && ', only under load'})
      </h3>
      <p>
        {read(signal)}
        {leaves.position && (
          <>
            {' '}
            It leaves {placeNamed(read(leaves.position))};{' '}
            {leaves.ahead === 'neither' ? 'neutral' : `the ${leaves.ahead} is`} ahead.
          </>
        )}
        {next && <> Turns into: {read(next.title)}.</>}
        {brokenDownIn && <> Broken down in {leadsTo(brokenDownIn)}.</>}
      </p>
      {task && (
        <p>
          <strong>The partner’s task:</strong> {read(task)}
        </p>
      )}
      {answers.map((answer) => (
        <p key={answer.how}>
          <strong>
            {answerWords[answer.do]}
            {answer.bait && ', offered as bait'}:
          </strong>{' '}
          <AnswerPlace answer={answer} title={title} leadsTo={leadsTo} read={read} /> {read(answer.how)}
        </p>
      ))}
      {answers.length === 0 && <p style={{ color: 'var(--stop)' }}>No answer recorded.</p>}
    </article>
  );
}
