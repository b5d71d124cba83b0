import { useEffect, useState } from 'react';
import { many } from '../../ui/words';
import { useUnkept } from '../../device/use-outbox';
import { OfSession, type Opened } from '../OfSession';
import { Advice } from './Advice';
import { Bar } from './Bar';
import { Finish } from './Finish';
import { Flash } from './Flash';
import { Layout, Trouble } from './Layout';
import { LogBar } from './LogBar';
import { MatStore } from './mat-store';
import { Panels } from './Panels';
import { Stage } from './Stage';
import { Tiles } from './Tiles';
import { useClockTurns } from './use-clock-turns';
import { useKnown } from './use-known';
import { MatContext, useMat } from './use-mat';
import { useDoing } from './use-doing';
import { useWakeLock } from './use-wake-lock';
import { afterPaint } from '../../ui/after-paint';
import { DoingContext } from './use-doing';
import { EarlierDay } from './EarlierDay';

export default function LivePage() {
  return <OfSession>{(opened) => <Live {...opened} />}</OfSession>;
}

/** A running class: one store for what is open and begun on this device, which every part follows. */
function Live(opened: Opened) {
  const known = useKnown(opened);
  const [store] = useState(() => new MatStore(opened.work, known));
  useEffect(() => store.know(known), [store, known]);
  useEffect(() => store.follow(), [store]);
  useEffect(() => afterPaint(store.begin), [store]);
  return (
    <MatContext value={store}>
      <Mat />
    </MatContext>
  );
}

/** The one screen of a round: everything in view, nothing moves under a finger. */
function Mat() {
  const doing = useDoing();
  const running = useMat(({ common }) => common.now.clock.since !== null);
  const unkept = useUnkept();
  useWakeLock(running);
  useClockTurns();
  return (
    <DoingContext value={doing}>
      <Layout>
        <Bar />
        <Tiles />
        {unkept > 0 ? (
          <Trouble role="alert">
            {`This device is full: ${many(unkept, 'entry', 'entries')} could not be stored. Keep this page open until all is sent, or note them on paper.`}
          </Trouble>
        ) : (
          <Advice />
        )}
        <Stage />
        <Finish />
        <LogBar />
        <Flash />
        <Panels />
        <EarlierDay />
      </Layout>
    </DoingContext>
  );
}
