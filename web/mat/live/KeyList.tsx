import { type KeyboardEvent, useState } from 'react';
import styled from 'styled-components';
import { Sheet } from '../../ui/dialog';
import { Button } from '../../ui/button';
import { Quiet, Row } from '../../ui/frame';
import { useDoingHere } from './use-doing';
import { type Command, commands, fixedKeys, keepKeys, keyName, type Keys, usualKeys, withKey } from './keys';

const Face = styled.div`
  display: grid;
  gap: 0.8rem;
  justify-items: start;
  dl {
    display: grid;
    gap: 0.15rem;
    width: 100%;
  }
  dl > div {
    display: grid;
    grid-template-columns: 10rem 1fr;
    align-items: center;
    gap: 0 0.8rem;
    min-height: 1.9rem;
  }
  dt {
    font-weight: 700;
  }
  dd {
    display: flex;
    align-items: center;
    justify-content: space-between;
    gap: 0.8rem;
  }
  dl button {
    min-height: 1.8rem;
    min-width: 4.6rem;
    border: 0;
    background: transparent;
    color: var(--action);
    font-weight: 600;
    cursor: pointer;
  }
`;

/** The keys of the Mat, over everything else until it is closed; each can be given another key on this device. */
export default function KeyList({ close }: { close: () => void }) {
  const { keys, setKeys: onKeys } = useDoingHere();
  const [listening, setListening] = useState<Command | null>(null);
  const give = (next: Keys) => {
    keepKeys(next);
    onKeys(next);
  };
  const take = (event: KeyboardEvent) => {
    if (!listening) return;
    event.preventDefault();
    event.stopPropagation();
    if (['Shift', 'Control', 'Alt', 'Meta'].includes(event.key)) return;
    if (event.key !== 'Escape') give(withKey(keys, listening, event.key));
    setListening(null);
  };
  return (
    <Sheet label="Keys of the Mat" close={close}>
      <Face onKeyDownCapture={take}>
        <h2>Keys</h2>
        <dl>
          {fixedKeys.map(([key, what]) => (
            <div key={key}>
              <dt>{key}</dt>
              <dd>{what}</dd>
            </div>
          ))}
          {commands.map(({ name, what }) => (
            <div key={name}>
              <dt>
                {listening === name ? 'press a key …' : keys[name].map(keyName).join(' or ') || 'no key'}
              </dt>
              <dd>
                {what}
                <button
                  type="button"
                  aria-label={`${listening === name ? 'Cancel' : 'Change'} the key for: ${what}`}
                  onClick={() => setListening(listening === name ? null : name)}
                >
                  {listening === name ? 'Cancel' : 'Change'}
                </button>
              </dd>
            </div>
          ))}
        </dl>
        <Quiet>A clicker usually sends PageDown and PageUp. Digits always tap checkpoints.</Quiet>
        <Row>
          <Button onPress={close}>Close</Button>
          <Button $quiet onPress={() => give(usualKeys)}>
            Reset keys
          </Button>
        </Row>
      </Face>
    </Sheet>
  );
}
