import { type CSSProperties, type MouseEvent, type ReactNode } from 'react';
import { useNavigate } from 'react-router';
import styled from 'styled-components';

/** The look of a matrix of rates, squad by checkpoint or technique by kind. */

export const Scroll = styled.div`
  overflow-x: auto;
  background: var(--surface);
  border-radius: 8px;
  padding: 0.6rem 0.9rem;
`;

const Rates = styled.table`
  width: 100%;
  /* Equal columns, in line with the squad’s strand above them. */
  table-layout: fixed;
  th {
    font-weight: 550;
    text-align: left;
    vertical-align: bottom;
    padding: 0.3rem 0.4rem;
    line-height: 1.15;
  }
  tbody th {
    white-space: nowrap;
    vertical-align: middle;
  }
  thead th {
    font-size: 0.86rem;
    width: 6.6rem;
    overflow-wrap: anywhere;
    &:first-child {
      width: 11rem;
    }
  }
  thead svg {
    display: block;
    margin-bottom: 0.2rem;
  }
  td {
    padding: 2px;
    height: 2.9rem;
  }
  tr[data-squad] td,
  tr[data-squad] th {
    border-bottom: 2px solid var(--line);
  }
  td a {
    contain: layout style paint;
    display: flex;
    align-items: baseline;
    justify-content: space-between;
    gap: 0.3rem;
    height: 2.7rem;
    padding: 0.45rem 0.4rem;
    white-space: nowrap;
    border-radius: 5px;
    color: var(--ink);
    text-decoration: none;
    background:
      linear-gradient(var(--stop), var(--stop)) 0 100% / var(--share) 5px no-repeat,
      var(--raised);
    &[data-sparse] {
      background: repeating-linear-gradient(135deg, transparent 0 6px, var(--line) 6px 7px);
      /* A range is longer than a share: how many there were goes below it where it must. */
      flex-wrap: wrap;
      align-content: center;
      gap: 0.1rem 0.3rem;
      padding-block: 0;
      line-height: 1.05;
      small {
        margin-left: auto;
      }
    }
    strong {
      font-weight: 600;
    }
    small {
      font-size: 0.78rem;
      color: var(--muted);
    }
    &[data-first] {
      outline: 2.5px solid var(--stop);
      outline-offset: -2.5px;
    }
  }
  .unseen {
    position: absolute;
    clip-path: inset(50%);
    white-space: nowrap;
  }
`;

/** A matrix has hundreds of links: one listener for all of them, and nothing but an anchor for each. */
export function Matrix({ children }: { children: ReactNode }) {
  const navigate = useNavigate();
  const follow = (event: MouseEvent) => {
    const link = (event.target as Element).closest('td a');
    if (!link || event.button !== 0 || event.metaKey || event.ctrlKey || event.shiftKey || event.altKey)
      return;
    event.preventDefault();
    void navigate(link.getAttribute('href')!);
  };
  return <Rates onClick={follow}>{children}</Rates>;
}

interface CellProps {
  to: string;
  /** 0…1: how much of the line under it is filled. */
  share: number;
  sparse?: boolean;
  first?: boolean;
  title?: string;
  children: ReactNode;
}

/** One rate of a matrix, which leads to what it is made of. */
export const MatrixCell = ({ to, share, sparse, first, title, children }: CellProps) => (
  <a
    href={to}
    style={{ '--share': `${share * 100}%` } as CSSProperties}
    data-sparse={sparse || undefined}
    data-first={first || undefined}
    title={title}
  >
    {children}
  </a>
);
