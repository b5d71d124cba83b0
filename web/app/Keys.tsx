import { useLocation } from 'react-router';
import styled from 'styled-components';
import { Button } from '../ui/button';
import { Sheet } from '../ui/dialog';
import { Row } from '../ui/frame';
import { forgetHints } from '../ui/hint';
import { toast } from '../ui/toast';

const List = styled.dl`
  display: grid;
  grid-template-columns: minmax(8rem, auto) 1fr;
  gap: 0.35rem 1rem;
  dt {
    font-weight: 700;
  }
`;

type KeyLine = readonly [keys: string, what: string];

const everywhere: readonly KeyLine[] = [
  ['/', 'find anything'],
  ['?', 'show all keys'],
  ['Tab', 'next control'],
  ['Escape', 'close what is open'],
];

/** What else a place knows, by its address: the first that fits. */
const ofPlace: readonly (readonly [where: RegExp, name: string, lines: readonly KeyLine[]])[] = [
  [
    /^\/library\/[^/]+$/,
    'The workbench',
    [
      ['Ctrl + Z', 'undo'],
      ['Ctrl + Y', 'redo'],
      ['Enter on a grip', 'pick up a checkpoint or a bar; arrows move it, Enter drops it'],
      ['Arrows', 'change a weight by one, on its slider'],
    ],
  ],
  [
    /^\/mat\/new$/,
    'Setting up a class',
    [['Enter on a person', 'pick them up; Enter on another pairs the two']],
  ],
  [/^\/(people|readings)/, 'Tables', [['Enter on a heading', 'sort by it; again to reverse']]],
];

/** The keys of the place that is open, and those that hold everywhere. The Mat has a list of its own, whose keys can be changed. */
export default function Keys({ close }: { close: () => void }) {
  const { pathname } = useLocation();
  const place = ofPlace.find(([where]) => where.test(pathname));
  return (
    <Sheet label="Keys" width="34rem" close={close}>
      <h2>Keys</h2>
      {place && (
        <>
          <h3>{place[1]}</h3>
          <Lines lines={place[2]} />
          <h3>Everywhere</h3>
        </>
      )}
      <Lines lines={everywhere} />
      <Row>
        <Button onPress={close}>Close</Button>
        <Button
          $quiet
          onPress={() => {
            forgetHints();
            toast('Tips will show again');
            close();
          }}
        >
          Show the tips again
        </Button>
      </Row>
    </Sheet>
  );
}

const Lines = ({ lines }: { lines: readonly KeyLine[] }) => (
  <List>
    {lines.map(([keys, what]) => (
      <div key={keys} style={{ display: 'contents' }}>
        <dt>{keys}</dt>
        <dd>{what}</dd>
      </div>
    ))}
  </List>
);
