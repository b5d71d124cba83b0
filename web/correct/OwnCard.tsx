import type { Card } from '@ulkret/core/prescription';
import type { ReactNode } from 'react';
import { Button } from '../ui/button';
import { Head, Quiet } from '../ui/frame';
import { Title } from '../ui/title';
import { CardSheets, OnScreen } from './CardSheets';

/** A student's card as the student reads it, by a link or signed in: with nothing of anybody else. */
export const OwnCard = ({ card, from }: { card: Card; from: ReactNode }) => (
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
    <CardSheets
      card={card}
      none={<p>When your coach and you agree on something to work on, it stands here.</p>}
    />
  </>
);
