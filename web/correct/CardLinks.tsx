import { type CardLink, cardLinkDays, endpoints } from '@ulkret/contract';
import type { Student } from '@ulkret/core/people';
import { useState } from 'react';
import QRCode from 'react-qr-code';
import styled from 'styled-components';
import { ApiRefusal, ask } from '../api/ask';
import { useApi } from '../api/use-api';
import { Button } from '../ui/button';
import { Choice } from '../ui/choice';
import { copy } from '../ui/copy';
import { Panel, Quiet, Row } from '../ui/frame';
import { Failed, Refused } from '../ui/states';
import { toast } from '../ui/toast';
import { dayOf, timeOf } from '../ui/words';
import { OnScreen } from './CardSheets';

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
`;

const List = styled.ul`
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

const dayChoices = cardLinkDays.map((days) => ({ value: String(days), text: `${days} days` }));

/** The secret stands behind the #, which no browser sends: no log on the way keeps it. */
const addressOf = (secret: string): string => `${window.location.origin}/card#${secret}`;

/** Only this machine knows itself by such a name. */
const onlyHere = (): boolean => /^(localhost|127\.|\[::1\])/.test(window.location.hostname);

/** Links that open a student's card on their own phone: made, shown once with a code to scan, and taken back. */
export function CardLinks({ student: { id, name } }: { student: Student }) {
  const links = useApi(endpoints.cardLinks, { params: { id } });
  const [days, setDays] = useState<string>('30');
  const [made, setMade] = useState<(CardLink & { secret: string }) | null>(null);
  const [refusal, setRefusal] = useState<ApiRefusal | null>(null);
  const [busy, setBusy] = useState(false);
  /** Without a network nothing of it waits on the device: what did not happen is said, so that nobody relies on it. */
  const asking = async (act: () => Promise<void>, undone: string) => {
    setBusy(true);
    setRefusal(null);
    try {
      await act();
    } catch (error) {
      if (!(error instanceof ApiRefusal)) throw error;
      setRefusal(
        error.status === 0
          ? new ApiRefusal(0, `${undone} ${error.message}`, 'Check the Wi-Fi and press again.')
          : error,
      );
    }
    setBusy(false);
  };
  const make = () =>
    asking(async () => {
      const wanted = cardLinkDays.find((one) => String(one) === days)!;
      setMade(await ask(endpoints.makeCardLink, { params: { id }, body: { days: wanted } }));
      await links.mutate();
    }, 'No link was made.');
  const revoke = (link: CardLink) =>
    asking(async () => {
      await links.mutate(await ask(endpoints.revokeCardLink, { params: { id, link: link.id } }), {
        revalidate: false,
      });
      if (made?.id === link.id) setMade(null);
      toast('The link opens nothing any more');
    }, 'The link still opens.');
  return (
    <>
      {made && (
        <Panel data-testid="card-link">
          <h2>{name}’s card on a phone</h2>
          <Scan>
            <QRCode value={addressOf(made.secret)} title={`Opens ${name}’s card`} />
            <figcaption>
              <p>
                <a href={addressOf(made.secret)} target="_blank" rel="noreferrer">
                  {addressOf(made.secret)}
                </a>
              </p>
              <Quiet>
                Whoever has it sees this card and nothing else, until {dayOf(made.expiresAt)}. It is shown
                only now.
              </Quiet>
              {onlyHere() && (
                <Quiet>
                  This page was opened at an address that only this machine knows. For a phone, open Ulkret at
                  its address in your network and make a link there.
                </Quiet>
              )}
              <OnScreen>
                <Button $quiet onPress={() => void copy(addressOf(made.secret), 'Link copied')}>
                  Copy it
                </Button>
              </OnScreen>
            </figcaption>
          </Scan>
        </Panel>
      )}
      <OnScreen>
        <Panel>
          <h2>Links to this card</h2>
          <Row style={{ marginTop: '0.5rem' }}>
            <Choice label="It opens for" options={dayChoices} value={days} onChange={setDays} />
            <Button $quiet isDisabled={busy} onPress={() => void make()}>
              {made ? 'Make another link' : 'Make a link'}
            </Button>
          </Row>
          <Refused by={refusal} />
          {links.error && !links.data && <Failed error={links.error} retry={() => void links.mutate()} />}
          {links.data && links.data.links.length === 0 && (
            <Quiet>None yet. {name} needs no sign-in to open one.</Quiet>
          )}
          <List>
            {links.data?.links.map((link) => (
              <li key={link.id}>
                <span>
                  Made {dayOf(link.madeAt)} at {timeOf(link.madeAt)} by {link.madeBy}, until{' '}
                  {dayOf(link.expiresAt)};{' '}
                  {link.openedAt
                    ? `last opened ${dayOf(link.openedAt)} at ${timeOf(link.openedAt)}`
                    : 'not opened yet'}
                  .
                </span>
                <Button $quiet isDisabled={busy} onPress={() => void revoke(link)}>
                  Take it back
                </Button>
              </li>
            ))}
          </List>
        </Panel>
      </OnScreen>
    </>
  );
}
