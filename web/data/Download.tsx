import { accessEndpoints, type Endpoint } from '@ulkret/contract';
import type { ReactNode } from 'react';
import { addressOf, ask } from '../api/ask';
import { useAsking } from '../api/use-asking';
import { Refused } from '../ui/states';

/** A file that is taken out only by somebody who has just proved who they are. */
export function Download({ of, file, children }: { of: Endpoint; file: string; children: ReactNode }) {
  const { asking, refusal } = useAsking();
  const href = addressOf(of);
  return (
    <>
      <a
        href={href}
        download={file}
        onClick={(event) => {
          event.preventDefault();
          void asking(async () => {
            await ask(accessEndpoints.proof);
            const link = document.createElement('a');
            link.href = href;
            link.download = file;
            link.click();
          }, 'Nothing was downloaded.');
        }}
      >
        {children}
      </a>
      <Refused by={refusal} />
    </>
  );
}
