import { accessEndpoints, type SentTo } from '@ulkret/contract';
import { useState } from 'react';
import { ask } from '../api/ask';
import { knowsPasskeys, passkeyAnswer } from '../api/passkey';
import { useAsking } from '../api/use-asking';
import { Button } from '../ui/button';
import { Sheet } from '../ui/dialog';
import { Quiet, Row } from '../ui/frame';
import { Refused } from '../ui/states';
import { TextField } from '../ui/text-field';

export interface ProofSheetProps {
  answer: (proved: boolean) => void;
}

/** Asks for the password or a passkey. */
export default function ProofSheet({ answer }: ProofSheetProps) {
  const [password, setPassword] = useState('');
  const { asking, refusal, busy } = useAsking();
  const prove = (by: () => Promise<SentTo<typeof accessEndpoints.prove>['body']>) =>
    asking(async () => {
      await ask(accessEndpoints.prove, { body: await by() });
      answer(true);
    }, 'Nothing was done.');
  return (
    <Sheet label="Is it you?" width="26rem" close={() => answer(false)}>
      <form
        style={{ display: 'grid', gap: '0.8rem' }}
        onSubmit={(event) => {
          event.preventDefault();
          void prove(() => Promise.resolve({ password }));
        }}
      >
        <h2>Is it you?</h2>
        <Quiet>This screen may have been left open. What you asked for goes on after that.</Quiet>
        <TextField
          label="Your password"
          type="password"
          autoComplete="current-password"
          value={password}
          onChange={setPassword}
        />
        <Refused by={refusal} />
        <Row>
          <Button type="submit" isDisabled={busy || password === ''}>
            Go on
          </Button>
          {knowsPasskeys() && (
            <Button
              $quiet
              isDisabled={busy}
              onPress={() => void prove(async () => ({ passkey: await passkeyAnswer() }))}
            >
              Use a passkey
            </Button>
          )}
          <Button $quiet onPress={() => answer(false)}>
            Cancel
          </Button>
        </Row>
      </form>
    </Sheet>
  );
}
