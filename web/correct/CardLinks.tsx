import { type CardLink, cardLinkDays, endpoints } from '@ulkret/contract';
import type { Student } from '@ulkret/core/people';
import { useState } from 'react';
import { ask } from '../api/ask';
import { useApi } from '../api/use-api';
import { useAsking } from '../api/use-asking';
import { Button } from '../ui/button';
import { Choice } from '../ui/choice';
import { Panel, Quiet, Row } from '../ui/frame';
import { LinkToScan, secretAddress } from '../ui/link-to-scan';
import { List } from '../ui/list';
import { Failed, Refused } from '../ui/states';
import { toast } from '../ui/toast';
import { dayOf, timeOf } from '../ui/words';
import { OnScreen } from './CardSheets';

const dayChoices = cardLinkDays.map((days) => ({ value: String(days), text: `${days} days` }));

/** Links that open a student's card on their own phone: made, shown once with a code to scan, and taken back. */
export function CardLinks({ student: { id, name } }: { student: Student }) {
  const links = useApi(endpoints.cardLinks, { params: { id } });
  const [days, setDays] = useState<string>('30');
  const [made, setMade] = useState<(CardLink & { secret: string }) | null>(null);
  const { asking, refusal, busy } = useAsking();
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
      toast('Link revoked');
    }, 'The link still works.');
  return (
    <>
      {made && (
        <Panel data-testid="card-link">
          <h2>{name}’s card on a phone</h2>
          <LinkToScan address={secretAddress('/card', made.secret)} title={`Opens ${name}’s card`}>
            Anyone with this link sees only this card, until {dayOf(made.expiresAt)}. It is shown only now.
          </LinkToScan>
        </Panel>
      )}
      <OnScreen>
        <Panel>
          <h2>Links to this card</h2>
          <Row style={{ marginTop: '0.5rem' }}>
            <Choice label="Valid for" options={dayChoices} value={days} onChange={setDays} />
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
                  Revoke
                </Button>
              </li>
            ))}
          </List>
        </Panel>
      </OnScreen>
    </>
  );
}
