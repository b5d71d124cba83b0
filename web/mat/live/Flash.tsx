import styled from 'styled-components';
import { signalWords } from './signals';
import { useDoingHere } from './use-doing';

/** The clock's signal, over everything for a moment; it catches no taps. */
const Face = styled.div`
  position: fixed;
  inset: 0;
  z-index: 15;
  pointer-events: none;
  display: grid;
  place-items: center;
  border: 14px solid var(--action);
  strong {
    padding: 0.3rem 1.5rem;
    border-radius: 12px;
    background: var(--action);
    color: var(--on-action);
    font-size: clamp(2.6rem, 9vw, 6rem);
    line-height: 1.1;
    text-align: center;
  }
  &[data-signal='end'] {
    border-color: var(--stop);
    strong {
      background: var(--stop);
      color: var(--surface);
    }
  }
`;

export function Flash() {
  const { flash } = useDoingHere();
  return (
    flash && (
      <Face data-signal={flash} role="alert">
        <strong>{signalWords[flash]}</strong>
      </Face>
    )
  );
}
