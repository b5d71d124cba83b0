import styled from 'styled-components';

export const Page = styled.main`
  display: flex;
  flex-direction: column;
  gap: 1.1rem;
  padding: 1.4rem clamp(0.8rem, 2.5vw, 2rem) 3rem;
  max-width: 86rem;
  width: 100%;
`;

export const Head = styled.header`
  display: flex;
  flex-wrap: wrap;
  align-items: end;
  justify-content: space-between;
  gap: 0.8rem 1.5rem;
`;

export const Panel = styled.section`
  background: var(--surface);
  border-radius: 8px;
  padding: 1.1rem 1.2rem;
`;

/** Two columns of panels, one below the other where the screen is narrow. */
export const Columns = styled.div<{ $shares?: string }>`
  display: grid;
  grid-template-columns: ${({ $shares = 'minmax(0, 6fr) minmax(0, 5fr)' }) => $shares};
  gap: 1.1rem;
  align-items: start;
  @media (max-width: 1000px) {
    grid-template-columns: minmax(0, 1fr);
  }
  > div {
    display: grid;
    grid-template-columns: minmax(0, 1fr);
    gap: 1.1rem;
  }
`;

export const Quiet = styled.p`
  color: var(--muted);
`;

export const Row = styled.div`
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 0.6rem 0.9rem;
`;
