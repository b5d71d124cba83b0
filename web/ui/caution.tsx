import styled from 'styled-components';

const CautionLine = styled.div`
  border-left: 4px solid var(--stop);
  background: var(--stop-wash);
  padding: 0.55rem 0.8rem;
  border-radius: 0 6px 6px 0;
  summary {
    cursor: pointer;
  }
`;

/** A technique's caution where it is chosen, drilled or prescribed: its first sentence, the rest at a tap. */
export function Caution({ note }: { note: string }) {
  const [, first = note, rest = ''] = /^(.+?\.)\s+(.+)$/s.exec(note) ?? [];
  return (
    <CautionLine role="note">
      {rest ? (
        <details>
          <summary>{first}</summary>
          {rest}
        </details>
      ) : (
        note
      )}
    </CautionLine>
  );
}
