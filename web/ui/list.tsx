import styled from 'styled-components';

/** Things below each other, each with what can be done with it at its end. */
export const List = styled.ul`
  display: grid;
  gap: 0.3rem;
  margin: 0.6rem 0 0;
  padding: 0;
  list-style: none;
  li {
    display: flex;
    flex-wrap: wrap;
    gap: 0.2rem 1rem;
    align-items: center;
    justify-content: space-between;
    border-top: 1px solid var(--line);
    padding-top: 0.3rem;
  }
`;
