import type { Finding } from '@ulkret/core/breakdown';
import { memo } from 'react';
import styled from 'styled-components';
import { Panel, Quiet } from '../../ui/frame';
import { many } from '../../ui/words';

const Findings = styled.ol`
  display: grid;
  gap: 0.5rem;
  margin-top: 0.6rem;
  button {
    border: 0;
    border-left: 4px solid var(--soft);
    background: var(--raised);
    color: var(--ink);
    text-align: left;
    padding: 0.45rem 0.6rem;
    width: 100%;
    cursor: pointer;
    border-radius: 0 6px 6px 0;
    font-size: 0.94rem;
  }
  button[data-error] {
    border-color: var(--stop);
  }
`;

/** The field of a path, or the first within it, or the nearest one around it: opened, brought into view, and given the focus. */
export function focusField(path: Finding['path']): void {
  for (let n = path.length; n > 0; n--) {
    const at = CSS.escape(path.slice(0, n).join('.')).replaceAll('\\.', '.');
    const field =
      document.querySelector<HTMLElement>(`[data-path="${at}"]`) ??
      document.querySelector<HTMLElement>(`[data-path^="${at}."]`);
    if (!field) continue;
    if (field instanceof HTMLDetailsElement && !field.open) {
      // Folded content is drawn once it is opened.
      field.addEventListener('toggle', () => setTimeout(() => focusField(path)), { once: true });
      field.open = true;
      return;
    }
    for (let fold = field.closest('details'); fold; fold = fold.parentElement?.closest('details') ?? null)
      fold.open = true;
    const target = field instanceof HTMLDetailsElement ? field.querySelector('summary')! : field;
    target.scrollIntoView({ block: 'center' });
    target.focus();
    return;
  }
}

/** What the critique finds, errors first; each leads to its field. */
export const CritiquePane = memo(function CritiquePane({
  findings,
  goTo,
}: {
  findings: Finding[] | null;
  goTo: (finding: Finding) => void;
}) {
  const errors = findings?.filter(({ severity }) => severity === 'error') ?? [];
  const warnings = findings?.filter(({ severity }) => severity === 'warning') ?? [];
  return (
    <Panel
      aria-label="Critique"
      style={{ position: 'sticky', top: '1rem', maxHeight: 'calc(100vh - 2rem)', overflow: 'auto' }}
    >
      <h2>Critique</h2>
      <Quiet role="status">
        {findings === null
          ? 'Looking …'
          : findings.length === 0
            ? 'No problems found.'
            : `${many(errors.length, 'error')}, ${many(warnings.length, 'warning')}`}
      </Quiet>
      <Findings>
        {[...errors, ...warnings].map((finding) => (
          <li key={`${finding.path.join('.')} ${finding.text}`}>
            <button
              type="button"
              data-error={finding.severity === 'error' || undefined}
              onClick={() => goTo(finding)}
            >
              {finding.severity === 'error' && <b>Error. </b>}
              {finding.text}
            </button>
          </li>
        ))}
      </Findings>
    </Panel>
  );
});
