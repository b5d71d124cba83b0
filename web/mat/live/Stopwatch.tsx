import { useEffect, useState } from 'react';
import { Button } from '../../ui/button';
import { Row } from '../../ui/frame';

const tickMs = 100;

/** Seconds from a press to the next: for a control that is held. It stops with the sheet. */
export function Stopwatch() {
  const [since, setSince] = useState<number | null>(null);
  const [ran, setRan] = useState(0);
  useEffect(() => {
    if (since === null) return;
    const timer = setInterval(() => setRan(performance.now() - since), tickMs);
    return () => clearInterval(timer);
  }, [since]);
  const seconds = ran / 1000;
  return (
    <Row>
      <strong role="timer" style={{ fontSize: '2rem', minWidth: '5ch', fontVariantNumeric: 'tabular-nums' }}>
        {`${Math.floor(seconds / 60)}:${(seconds % 60).toFixed(1).padStart(4, '0')}`}
      </strong>
      <Button
        $tall
        onPress={() => {
          if (since === null) setSince(performance.now());
          else {
            setRan(performance.now() - since);
            setSince(null);
          }
        }}
      >
        {since === null ? 'Start the stopwatch' : 'Stop'}
      </Button>
    </Row>
  );
}
