import type { ReactNode } from 'react';
import QRCode from 'react-qr-code';
import styled from 'styled-components';
import { Button } from './button';
import { copy } from './copy';
import { Quiet } from './frame';

const Scan = styled.figure`
  display: grid;
  grid-template-columns: 9.5rem minmax(0, 1fr);
  gap: 1rem;
  align-items: center;
  margin: 0.6rem 0 0;
  svg {
    width: 100%;
    height: auto;
    padding: 0.5rem;
    background: #fff;
    border-radius: 6px;
  }
  p {
    overflow-wrap: anywhere;
  }
  @media (max-width: 460px) {
    grid-template-columns: minmax(0, 1fr);
    svg {
      max-width: 14rem;
    }
  }
  @media print {
    button {
      display: none;
    }
  }
`;

/** Only this machine knows itself by such a name. */
const onlyHere = (): boolean => /^(localhost|127\.|\[::1\])/.test(window.location.hostname);

/** An address with a secret behind the #, which no browser sends: no log on the way keeps it. */
export const secretAddress = (path: '/card' | '/join', secret: string): string =>
  `${window.location.origin}${path}#${secret}`;

/** A link that is shown once, with a code to scan it by. */
export const LinkToScan = ({
  address,
  title,
  children,
}: {
  address: string;
  /** What it does, for a user who cannot see the code. */
  title: string;
  /** The holder's rights, and their end. */
  children: ReactNode;
}) => (
  <Scan>
    <QRCode value={address} title={title} />
    <figcaption>
      <p>
        <a href={address} target="_blank" rel="noreferrer">
          {address}
        </a>
      </p>
      <Quiet>{children}</Quiet>
      {onlyHere() && (
        <Quiet>
          Only this machine knows this page’s address. For a phone, open Ulkret at its network address and
          make a link there.
        </Quiet>
      )}
      <Button $quiet onPress={() => void copy(address, 'Link copied')}>
        Copy
      </Button>
    </figcaption>
  </Scan>
);
