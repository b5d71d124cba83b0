import styled from 'styled-components';

/** The fields of one rule, under its name. */
export const Fields = styled.fieldset`
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(10rem, 1fr));
  gap: 0.6rem 0.8rem;
  align-items: end;
  padding: 0.8rem 0 0;
  border-top: 1px solid var(--line) !important;
  legend {
    padding-top: 0.6rem;
    font-weight: 650;
  }
`;
