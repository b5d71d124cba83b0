import styled from 'styled-components';
import { dayOf, timeOf } from '../ui/words';
import { useOffline, useShownOf } from './use-offline';

const Face = styled.p`
  padding: 0.5rem 0.8rem;
  border-left: 4px solid var(--soft);
  border-radius: 0 6px 6px 0;
  background: var(--soft-wash);
`;

/** Says that there is no network, and of when what is shown is. */
export function OfflineNotice() {
  const offline = useOffline();
  const since = useShownOf();
  if (!offline) return null;
  const at = since === null ? null : new Date(since).toISOString();
  return (
    <Face role="status">
      <strong>No network.</strong> {at ? `Showing ${dayOf(at)}, ${timeOf(at)}. ` : ''}What you log is saved on
      this device and sent later.
    </Face>
  );
}
