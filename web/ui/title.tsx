import { Children, type ReactNode, useEffect, useRef } from 'react';

let isFirst = true;

/** The heading of a page, which is the title of its tab as well. After a change of page a keyboard goes on from here. */
export const Title = ({ children }: { children: ReactNode }) => {
  const words = Children.toArray(children).join('');
  const heading = useRef<HTMLHeadingElement>(null);
  useEffect(() => {
    if (!isFirst && document.activeElement === document.body) heading.current?.focus({ preventScroll: true });
    isFirst = false;
  }, []);
  return (
    <>
      <title>{`${words} · Ulkret`}</title>
      <h1 ref={heading} tabIndex={-1} style={{ outline: 'none' }}>
        {children}
      </h1>
    </>
  );
};
