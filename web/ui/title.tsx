import { Children, type ReactNode } from 'react';

/** The heading of a page, which is the title of its tab as well. */
export const Title = ({ children }: { children: ReactNode }) => {
  const words = Children.toArray(children).join('');
  return (
    <>
      <title>{`${words} · Ulkret`}</title>
      <h1>{children}</h1>
    </>
  );
};
