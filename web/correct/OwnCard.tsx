import type { StudentsCard } from '@ulkret/contract';
import type { ReactNode } from 'react';
import { Button } from '../ui/button';
import { Head, Quiet } from '../ui/frame';
import { Title } from '../ui/title';
import { dayOf } from '../ui/words';
import { CardSheets, OnScreen, Sheet } from './CardSheets';

/** A student's card as the student reads it, by a link or signed in: with nothing of anybody else. */
export const OwnCard = ({ card, from }: { card: StudentsCard; from: ReactNode }) => (
  <>
    <Head>
      <div>
        <Title>What {card.name} works on</Title>
        <Quiet>{from}</Quiet>
      </div>
      <OnScreen>
        <Button $quiet onPress={() => window.print()}>
          Print
        </Button>
      </OnScreen>
    </Head>
    <CardSheets card={card} none={<p>Corrections from your coach will show here.</p>} />
    {card.words.length > 0 && (
      <Sheet>
        <h2>From your coach</h2>
        <ul>
          {card.words.map(({ at, byName, words }) => (
            <li key={`${at} ${words}`}>
              {words}{' '}
              <Quiet as="span">
                {byName}, {dayOf(at)}
              </Quiet>
            </li>
          ))}
        </ul>
      </Sheet>
    )}
  </>
);
