import { RuleTag } from '@ulkret/core/breakdown';
import { type EventRules, gradeWords, type Restriction, type RuleSet } from '@ulkret/core/care';
import styled from 'styled-components';
import { Panel } from '../ui/frame';
import { many, percent } from '../ui/words';

const Book = styled.table`
  width: 100%;
  th,
  td {
    padding: 0.5rem 0.9rem 0.5rem 0;
    border-bottom: 1px solid var(--line);
    text-align: left;
    vertical-align: top;
  }
  thead th {
    color: var(--muted);
    font-weight: 500;
  }
  small {
    display: block;
    color: var(--muted);
    font-weight: 400;
  }
  @media (max-width: 640px) {
    thead {
      display: none;
    }
    tr,
    td,
    th {
      display: block;
      border: 0;
      padding: 0.1rem 0;
    }
    tr {
      padding: 0.7rem 0;
      border-bottom: 1px solid var(--line);
    }
    td::before {
      content: attr(data-of) ': ';
      color: var(--muted);
    }
  }
`;

/** Which loads the caps count, in words. */
const countsWords = (counts: RuleSet['caps']['counts']): string => {
  const besides = counts.filter((how) => how !== 'finish');
  return besides.length === 0
    ? 'What is only held on the way counts as no finish'
    : `What is loaded ${besides.map((how) => (how === 'firm' ? 'firmly' : 'lightly')).join(' or ')} on the way counts like a finish`;
};

/** What a restriction is about: rule tags and loaded regions. */
export const about = ({ tags, regions }: Pick<Restriction, 'tags' | 'regions'>): string =>
  [...tags, ...regions.map((region) => `loads on the ${region}`)].join(', ');

/** From when on something may be done, as a rule book says it. */
function fromWhen(rules: RuleSet, months: number | null, grade: number | null): string {
  const parts = [
    ...(months === null ? [] : [months === 0 ? 'from the first day' : `after ${many(months, 'month')}`]),
    ...(grade === null ? [] : [`from ${gradeWords(rules, grade)} on`]),
  ];
  return parts.length === 0 ? 'never' : months === 0 ? parts[0]! : parts.join(', or ');
}

/** The rules as a rule book says them: to be read, and to be printed. */
export function RuleBook({ rules }: { rules: RuleSet }) {
  const { caps, fast, massRatio, keep } = rules;
  return (
    <>
      <Panel>
        <p>
          <strong>Tap:</strong> {rules.tap}
        </p>
        <p>
          <strong>Safeguarding:</strong>{' '}
          {rules.safeguarding ||
            'no contact yet. Add a safeguarding contact and how to reach them. Your club’s and country’s rules come first.'}
        </p>
        <Book>
          <thead>
            <tr>
              {['What', 'Learnt', 'Drilled', 'Sparred with', 'Minors', 'Both consent'].map((head) => (
                <th key={head} scope="col">
                  {head}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rules.restrictions.map((one) => (
              <tr key={one.name}>
                <th scope="row">
                  {one.name}
                  <small>
                    {about(one)}
                    {one.attire !== 'either' && `; in ${one.attire} only`}
                  </small>
                </th>
                <td data-of="Learnt">{fromWhen(rules, one.months.learn, null)}</td>
                <td data-of="Drilled">{fromWhen(rules, one.months.drill, one.grades.drill)}</td>
                <td data-of="Sparred with">{fromWhen(rules, one.months.spar, one.grades.spar)}</td>
                <td data-of="Minors">
                  {one.minors}
                  {one.fromAge !== null && `; minimum age ${one.fromAge}`}
                </td>
                <td data-of="Both consent">{one.consent ? 'needed' : 'not needed'}</td>
              </tr>
            ))}
          </tbody>
        </Book>
      </Panel>
      <Panel>
        <h2>In one class, on one person</h2>
        <ul>
          <li>{many(caps.neck, 'finish', 'finishes')} on the neck or the spine</li>
          <li>{many(caps.joint, 'finish', 'finishes')} on a joint</li>
          <li>{countsWords(caps.counts)}</li>
          <li>
            {many(caps.fast, 'finish', 'finishes')} with a fast lock, {percent(caps.fastSparShare)} of them at
            most at rung 3 and 4
          </li>
        </ul>
        <p>
          Fast locks are sparred with after {many(fast.sparMonths, 'month')}, and put on with special care
          until {many(fast.careUnderMonths, 'month')}. A partner {massRatio} times as heavy, or as light, gets
          a warning.
        </p>
      </Panel>
      {rules.ladder.length > 0 && (
        <Panel>
          <h2>Grades</h2>
          <p>{rules.ladder.join(' · ')}</p>
        </Panel>
      )}
      {rules.events.length > 0 && <Events events={rules.events} />}
      <Panel>
        <h2>How long records are kept</h2>
        <p>
          The access log is kept for {many(keep.accessMonths, 'month')}.{' '}
          {keep.leftMonths === null
            ? 'Leavers are kept until somebody asks to be erased.'
            : `The head coach is reminded to erase leavers after ${many(keep.leftMonths, 'month')}.`}
        </p>
      </Panel>
    </>
  );
}

/** What events say, as the house has read their books: a row a tag, a column an event. */
function Events({ events }: { events: readonly EventRules[] }) {
  const told = RuleTag.options.filter((tag) => events.some(({ tags }) => tags[tag] !== undefined));
  return (
    <Panel>
      <h2>At events</h2>
      <p>Our reading. The event’s current rule book comes first.</p>
      <Book>
        <thead>
          <tr>
            <th scope="col">What</th>
            {events.map(({ name }) => (
              <th key={name} scope="col">
                {name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {told.map((tag) => (
            <tr key={tag}>
              <th scope="row">{tag}</th>
              {events.map(({ name, tags }) => (
                <td key={name} data-of={name}>
                  {tags[tag] ?? 'not said'}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </Book>
    </Panel>
  );
}
