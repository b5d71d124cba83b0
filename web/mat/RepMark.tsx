import type { Rep } from '@ulkret/core/rep';
import styled from 'styled-components';

const Face = styled.span<{ $stop: boolean }>`
  display: inline-grid;
  place-content: center;
  width: 1.55rem;
  height: 1.55rem;
  border-radius: ${({ $stop }) => ($stop ? '5px' : '50%')};
  border: 2px solid ${({ $stop }) => ($stop ? 'var(--stop)' : 'var(--rope)')};
  color: ${({ $stop }) => ($stop ? 'var(--stop)' : 'var(--ink)')};
  font-size: 0.92rem;
  font-weight: 700;
  line-height: 1;
`;

/** What became of a rep, as a mark: the number of the knot where it stopped, a ring for a finish. */
export function RepMark({ rep, numberOf }: { rep: Rep; numberOf: (checkpoint: string) => number }) {
  if (rep.outcome === 'stopped') {
    const number = numberOf(rep.stop);
    return (
      <Face $stop role="img" aria-label={`stopped at ${number}`}>
        {number}
      </Face>
    );
  }
  const [mark, label] =
    rep.outcome === 'finished'
      ? ['', 'finished']
      : rep.outcome === 'forced'
        ? ['!', 'forced']
        : ['–', 'not judged'];
  return (
    <Face $stop={false} role="img" aria-label={label}>
      {mark}
    </Face>
  );
}
