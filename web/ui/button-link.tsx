import { Link as RouterLink } from 'react-router';
import styled from 'styled-components';
import { buttonLook } from './button';

/** A link that looks like what it does: it leads to where something is done. */
export const ButtonLink = styled(RouterLink)<{ $quiet?: boolean; $tall?: boolean }>`
  ${buttonLook}
`;
