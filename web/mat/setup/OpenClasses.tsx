import type { Technique } from '@ulkret/core/breakdown';
import type { Session } from '@ulkret/core/session';
import { openClasses } from '../../device/open-classes';
import { ButtonLink } from '../../ui/button-link';
import { Panel, Quiet, Row } from '../../ui/frame';
import { dayOf, timeOf } from '../../ui/words';

/** How many names are written out; the others are counted. */
const mostNames = 4;

/** Classes that run already, or were never ended: a coach who sets up another one may want one of them. */
export function OpenClasses({
  sessions,
  here,
  nameOf,
  techniques,
}: {
  sessions: readonly Session[];
  here: readonly string[];
  nameOf: (id: string) => string;
  techniques: readonly { technique: Technique }[];
}) {
  const { running, leftOpen } = openClasses(sessions);
  if (running.length + leftOpen.length === 0) return null;
  const titleOf = (id: string) => techniques.find((one) => one.technique.id === id)?.technique.name ?? id;
  const inBoth = ({ pairs }: Session) => pairs.flat().filter((id) => here.includes(id));
  const people = (ids: readonly string[]) =>
    ids.length <= mostNames
      ? ids.map(nameOf).join(', ')
      : `${ids.slice(0, mostNames).map(nameOf).join(', ')} and ${ids.length - mostNames} more`;
  return (
    <Panel style={{ display: 'grid', gap: '0.5rem' }}>
      {running.map((one) => (
        <Row key={one.id}>
          <span>
            <strong>{titleOf(one.technique)}</strong> runs since {timeOf(one.startedAt)}
            {inBoth(one).length > 0 && `, with ${people(inBoth(one))}`}.
          </span>
          <ButtonLink to={`/mat/${one.id}`} $quiet>
            Join it
          </ButtonLink>
        </Row>
      ))}
      {running.filter((one) => inBoth(one).length > 0).length > 1 && (
        <p role="alert">
          These people are in {running.filter((one) => inBoth(one).length > 0).length} classes already. End
          those before you start another.
        </p>
      )}
      {leftOpen.map((one) => (
        <Row key={one.id}>
          <Quiet as="span">
            {titleOf(one.technique)} of {dayOf(one.startedAt)} was never ended.
          </Quiet>
          <ButtonLink to={`/mat/${one.id}/after`} $quiet>
            Look at it
          </ButtonLink>
        </Row>
      ))}
    </Panel>
  );
}
