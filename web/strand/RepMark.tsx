import type { Rep } from '@ulkret/core/rep';
import styled from 'styled-components';

const Face = styled.span`
  display: inline-grid;
  place-content: center;
  width: 1.55rem;
  height: 1.55rem;
  border-radius: 50%;
  border: 2px solid var(--rope);
  &[data-stop] {
    border-radius: 5px;
    border-color: var(--stop);
    color: var(--stop);
  }
  font-size: 0.92rem;
  font-weight: 700;
  line-height: 1;
`;

/** What became of a rep, as a mark: the number of the knot where it stopped, a ring for a finish. */
export function RepMark({
  rep,
  numberOf,
}: {
  rep: Rep;
  /** The number of a checkpoint, in the technique of the rep. */
  numberOf: (checkpoint: string, technique: string) => number;
}) {
  if (rep.outcome === 'stopped') {
    const number = numberOf(rep.stop, rep.technique);
    return (
      <Face data-stop role="img" aria-label={`stopped at ${number}`}>
        {number}
      </Face>
    );
  }
  const [mark, label] =
    rep.outcome === 'finished'
      ? ['', 'finished']
      : rep.outcome === 'forced'
        ? ['!', 'forced']
        : rep.outcome === 'left'
          ? ['→', 'switched technique']
          : ['–', 'not judged'];
  return (
    <Face role="img" aria-label={label}>
      {mark}
    </Face>
  );
}
