import { endpoints } from '@ulkret/contract';
import {
  type Breakdown,
  defencesOpenAt,
  readFor,
  type Side,
  type Technique,
  toleranceWords,
  whenWords,
} from '@ulkret/core/breakdown';
import { useParams, useSearchParams } from 'react-router';
import styled, { createGlobalStyle } from 'styled-components';
import { useApi } from '../../api/use-api';
import { Loaded } from '../../ui/states';
import { Button } from '../../ui/button';
import { Choice } from '../../ui/choice';
import { Page, Row } from '../../ui/frame';
import { MarkIcon } from '../../strand/marks';
import { NotPublished } from '../../ui/not-published';
import { Title } from '../../ui/title';

/** A card is of half the height and width of an A4 sheet; the style of paper by that name is not known to browsers. */
const CardPaper = createGlobalStyle`
  @page { size: 105mm 148mm; margin: 6mm; }
`;

const Sheet = styled.article<{ $card: boolean }>`
  background: #fff;
  color: #000;
  padding: ${({ $card }) => ($card ? '5mm' : '10mm')};
  width: ${({ $card }) => ($card ? '105mm' : '190mm')};
  max-width: 100%;
  font-size: ${({ $card }) => ($card ? '8pt' : '9.6pt')};
  line-height: 1.25;
  break-after: page;
  border: 1px solid #999;
  @media print {
    border: 0;
    padding: 0;
    width: auto;
  }
  h2 {
    font-size: 1.5em;
  }
  /* Down the left column, then down the right: one sheet a side. */
  ol {
    columns: ${({ $card }) => ($card ? 'auto' : '2')};
    column-gap: 8mm;
  }
  ol > li {
    display: grid;
    grid-template-columns: auto minmax(0, 1fr);
    gap: 0.2em 0.5em;
    padding: 0.3em 0;
    border-top: 1px solid #000;
    break-inside: avoid;
  }
  small {
    font-size: 0.88em;
  }
  p[data-caution] {
    border: 2px solid #000;
    padding: 0.3em 0.5em;
    margin: 0.5em 0;
  }
`;

/** A breakdown on paper, in black and white: an A4 sheet, or a pocket card; for a right and for a left lead. */
export default function Print() {
  const { technique: id = '' } = useParams();
  const [search, setSearch] = useSearchParams();
  const technique = useApi(endpoints.technique, { params: { id } });
  const card = search.get('form') === 'card';
  return (
    <Page>
      {card && <CardPaper />}
      <Row data-screen>
        <Title>On paper</Title>
        <Choice
          label="Paper"
          value={card ? 'card' : 'sheet'}
          options={[
            { value: 'sheet', text: 'A4 sheet' },
            { value: 'card', text: 'Pocket card' },
          ]}
          onChange={(form) => setSearch((at) => (at.set('form', form), at), { replace: true })}
        />
        <Button onPress={() => window.print()}>Print</Button>
      </Row>
      <Loaded of={technique} what="the breakdown">
        {({ technique: one, editions }) => {
          const breakdown = editions.at(-1);
          if (!breakdown) return <NotPublished id={id} />;
          return (['right', 'left'] as const).map((lead) => (
            <Page1 key={lead} technique={one} breakdown={breakdown} lead={lead} card={card} />
          ));
        }}
      </Loaded>
    </Page>
  );
}

function Page1({
  technique,
  breakdown,
  lead,
  card,
}: {
  technique: Technique;
  breakdown: Breakdown;
  lead: Side;
  card: boolean;
}) {
  const read = (text: string) => readFor(text, lead);
  return (
    <Sheet $card={card} aria-label={`${technique.name}, ${lead} lead`}>
      <h2>{technique.name}</h2>
      <p>
        {lead} lead · from {read(technique.startPosition).toLowerCase()} · edition {breakdown.edition}
      </p>
      {technique.safetyNote && <p data-caution>{technique.safetyNote}</p>}
      <ol>
        {breakdown.checkpoints.map((checkpoint, i) => (
          <li key={checkpoint.id}>
            <MarkIcon kind={checkpoint.kind} size={card ? 16 : 24} />
            <div>
              <strong>
                {i + 1} {read(checkpoint.title)}
              </strong>
              {card ? '. ' : <br />}
              {read(checkpoint.criterion)}
              {checkpoint.caution && <div data-caution>{read(checkpoint.caution)}</div>}
              {!card && (
                <>
                  <small>
                    {[
                      ...checkpoint.proofs.map(
                        ({ by, text, shows }) =>
                          `${by}${shows === 'broken' ? ' that it fails' : ''}: ${read(text)}`,
                      ),
                      ...(checkpoint.tolerance
                        ? [`measure: ${read(toleranceWords(checkpoint.tolerance))}`]
                        : []),
                      ...checkpoint.variants.map(
                        ({ when, criterion, name, caution = '' }) =>
                          `${read(whenWords(when))}: ${read(criterion ?? name)} ${read(caution)}`,
                      ),
                    ].join(' · ')}
                  </small>
                  {defencesOpenAt(breakdown, checkpoint.id)
                    .filter(({ opens }) => opens === checkpoint.id)
                    .map(({ id, title, answers, task }) => (
                      <div key={id}>
                        <small>
                          Partner: {read(title)}
                          {task && ` (${read(task)})`} → {answers[0] ? read(answers[0].how) : 'no answer yet'}
                        </small>
                      </div>
                    ))}
                  {(breakdown.exits ?? [])
                    .filter(({ at, unsafe }) => at === checkpoint.id && unsafe)
                    .map(({ id, how }) => (
                      <div key={id} data-caution>
                        {read(how)} Not on a training partner.
                      </div>
                    ))}
                </>
              )}
              {breakdown.mistakes
                .filter(({ at }) => at === checkpoint.id)
                .slice(0, card ? 1 : 9)
                .map(({ id, cue }) => (
                  <div key={id}>
                    <em>“{read(cue)}”</em>
                  </div>
                ))}
            </div>
          </li>
        ))}
      </ol>
    </Sheet>
  );
}
