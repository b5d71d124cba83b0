import {
  type Breakdown,
  changesBetween,
  withAnswerIds,
  changeWords,
  type Finding,
  publishable,
} from '@ulkret/core/breakdown';
import { Button } from '../../ui/button';
import { Panel, Quiet, Row } from '../../ui/frame';
import { Refused } from '../../ui/states';
import { many } from '../../ui/words';
import type { DraftWork } from './use-draft';

interface Props {
  work: DraftWork;
  latest: Breakdown | undefined;
  findings: Finding[] | null;
  trouble: (Error & { todo?: string }) | null;
  /** An edition has come in since the draft was begun, and that has been said. */
  warned: boolean;
  publish: () => void;
  discard: () => void;
}

/** What publishing would change, and whether the critique lets it. */
export function PublishPanel({
  work: { draft },
  latest,
  findings,
  trouble,
  warned,
  publish,
  discard,
}: Props) {
  const ready = findings !== null && publishable(findings);
  const errors = findings?.filter(({ severity }) => severity === 'error').length ?? 0;
  const words = latest
    ? [
        ...new Set(
          changesBetween(withAnswerIds(latest), draft)
            .filter(({ path }) => !['edition', 'date', 'author'].includes(String(path[0])))
            .map((change) => changeWords(change, latest, draft)),
        ),
      ]
    : [];
  return (
    <Panel aria-label="Publish">
      <h2>
        {latest
          ? `Edition ${latest.edition + 1}: ${many(words.length, 'change')}`
          : `The first edition: ${many(draft.checkpoints.length, 'checkpoint')}`}
      </h2>
      <ul style={{ columns: '22rem', margin: '0.5rem 0' }}>
        {words.map((text) => (
          <li key={text}>{text}</li>
        ))}
      </ul>
      <Quiet>Logged reps keep counting at checkpoints that remain. Published editions never change.</Quiet>
      <Row style={{ marginTop: '0.7rem' }}>
        <Button isDisabled={!ready} onPress={publish}>
          Publish edition {(latest?.edition ?? 0) + 1}
          {warned && ' anyway'}
        </Button>
        {errors > 0 && (
          <span style={{ color: 'var(--stop)' }}>
            The critique finds {many(errors, 'error')}: fix them first.
          </span>
        )}
        {/* Away from the hand that publishes. */}
        <Button $quiet onPress={discard} style={{ marginLeft: 'auto' }}>
          Discard draft
        </Button>
      </Row>
      <Refused by={trouble} />
    </Panel>
  );
}
