import { Suspense, useEffect, useState } from 'react';
import { onProofWanted } from '../api/proof';
import { part } from '../ui/part';
import type { ProofSheetProps } from './ProofSheet';

const ProofSheet = part<ProofSheetProps>(() => import('./ProofSheet'));

/** Asks again who is there, before what takes a whole academy out, erases somebody, or changes a role. */
export function ProveAgain() {
  const [answer, setAnswer] = useState<((proved: boolean) => void) | null>(null);
  useEffect(() => onProofWanted(() => new Promise((resolve) => setAnswer(() => resolve))), []);
  const said = (proved: boolean) => {
    setAnswer(null);
    answer?.(proved);
  };
  return <Suspense>{answer && <ProofSheet answer={said} />}</Suspense>;
}
