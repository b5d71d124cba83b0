import styled from 'styled-components';
import { Button } from '../../ui/button';
import { Sheet } from '../../ui/dialog';
import { Row } from '../../ui/frame';
import { useNotes } from './Advice';
import { useAct, useMat, useMatStore } from './use-mat';

const List = styled.ul`
  display: grid;
  gap: 0.5rem;
  list-style: none;
  padding: 0;
  > li {
    display: grid;
    gap: 0.4rem;
    padding: 0.5rem 0.7rem;
    border-radius: 8px;
    border-left: 5px solid var(--line);
    background: var(--raised);
    &[data-grave='stop'] {
      background: var(--stop-wash);
      border-color: var(--stop);
    }
    &[data-grave='care'] {
      background: var(--soft-wash);
      border-color: var(--soft);
    }
  }
`;

/** All that is to be known of the open pair, in whole sentences. */
export default function AboutPanel({ close }: { close: () => void }) {
  const act = useAct();
  const { nameOf, rules } = useMatStore().knows();
  const open = useMat((now) => now.open);
  const notes = useNotes();
  return (
    <Sheet label="About this pair" width="34rem" close={close}>
      <h2>{open ? open.view.members.map(nameOf).join(' and ') : 'No pair is open'}</h2>
      <List>
        {notes.map(({ words, grave, does }) => (
          <li key={words} data-grave={grave}>
            {words}
            {does.length > 0 && (
              <Row>
                {does.map((one) => (
                  <Button
                    key={one.words}
                    $quiet
                    $tall
                    onPress={() => {
                      close();
                      act(one.act);
                    }}
                  >
                    {one.words}
                  </Button>
                ))}
              </Row>
            )}
          </li>
        ))}
        {notes.every(({ is }) => is !== 'rule') && <li>{rules.tap}</li>}
      </List>
      <Button $tall onPress={close}>
        Close
      </Button>
    </Sheet>
  );
}
