import { endpoints } from '@ulkret/contract';
import { BrowserRouter, Link, Route, Routes } from 'react-router';
import styled from 'styled-components';
import { type Here, HereContext } from '../api/here';
import { ask } from '../api/ask';
import { useApi } from '../api/use-api';
import { useAsking } from '../api/use-asking';
import { leave } from './leave';
import { ProveAgain } from './ProveAgain';
import { OwnCard } from '../correct/OwnCard';
import Account from '../academy/Account';
import Backups from '../academy/Backups';
import { Button } from '../ui/button';
import { Page } from '../ui/frame';
import { Loaded, Refused } from '../ui/states';

const Bar = styled.nav`
  display: flex;
  flex-wrap: wrap;
  gap: 0.3rem 1.2rem;
  align-items: center;
  padding: 0.5rem 1rem;
  background: var(--surface);
  border-bottom: 1px solid var(--line);
  strong {
    flex: 1;
  }
  a {
    display: inline-flex;
    align-items: center;
    min-height: 2.6rem;
  }
  @media print {
    display: none;
  }
`;

/** For those who see one page and nothing of the room: a student their card, an operator the keeping. */
export default function Alone({ here }: { here: Here }) {
  const { asking, refusal } = useAsking();
  const signOut = () =>
    asking(async () => {
      await ask(endpoints.signOut);
      await leave();
    }, 'You are still signed in.');
  return (
    <HereContext value={here}>
      <BrowserRouter>
        <Bar aria-label="Ulkret">
          <strong>{here.academy.name}</strong>
          <Link to="/">{here.coach.role === 'student' ? 'Your card' : 'Backups'}</Link>
          <Link to="/account">Your account</Link>
          <Button $quiet onPress={() => void signOut()}>
            Sign out
          </Button>
        </Bar>
        <Refused by={refusal} />
        <ProveAgain />
        <Routes>
          <Route path="/account" element={<Account />} />
          <Route path="*" element={here.coach.role === 'student' ? <Card /> : <Backups />} />
        </Routes>
      </BrowserRouter>
    </HereContext>
  );
}

function Card() {
  const card = useApi(endpoints.ownCard);
  return (
    <Page>
      <Loaded of={card} what="your card">
        {(data) => <OwnCard card={data} from={data.academy} />}
      </Loaded>
    </Page>
  );
}
