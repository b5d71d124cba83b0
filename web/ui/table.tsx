import styled from 'styled-components';

/** Rows that are compared: heads quiet, a line under each. */
export const Table = styled.table`
  width: 100%;
  th {
    text-align: left;
    color: var(--muted);
    font-weight: 500;
  }
  th,
  td {
    padding: 0.45rem 0.9rem 0.45rem 0;
    border-bottom: 1px solid var(--line);
  }
`;
