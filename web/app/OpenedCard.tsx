import { endpoints } from '@ulkret/contract';
import { useState, useSyncExternalStore } from 'react';
import useSWR from 'swr';
import { type ApiRefusal, ask } from '../api/ask';
import { OwnCard } from '../correct/OwnCard';
import { Page } from '../ui/frame';
import { Empty, Failed, Loading } from '../ui/states';
import { Title } from '../ui/title';
import { dayOf } from '../ui/words';

const secretNow = () => window.location.hash.slice(1);
const follow = (changed: () => void) => {
  window.addEventListener('hashchange', changed);
  return () => window.removeEventListener('hashchange', changed);
};

/** A student's card for anyone with its link, without a sign-in, and with nothing else behind it. */
export default function OpenedCard() {
  const secret = useSyncExternalStore(follow, secretNow);
  const [asked] = useState(() => ({ dedupingInterval: 1000 }));
  const { data, error, mutate } = useSWR(
    secret === '' ? null : ['card', secret],
    () => ask(endpoints.openCard, { body: { secret } }),
    asked,
  );
  const gone = (error as ApiRefusal | undefined)?.status === 404;
  if (secret === '' || gone)
    return (
      <Page>
        <Title>No card here</Title>
        <Empty title="This link has expired.">
          <p>It expired, or your coach revoked it. Ask for a new one.</p>
        </Empty>
      </Page>
    );
  if (!data)
    return (
      <Page>
        {error ? <Failed error={error as Error} retry={() => void mutate()} /> : <Loading what="your card" />}
      </Page>
    );
  return (
    <Page>
      <OwnCard
        card={data}
        from={
          <>
            {data.academy}. This link opens until {dayOf(data.expiresAt)}.
          </>
        }
      />
    </Page>
  );
}
