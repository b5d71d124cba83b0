import type { ComponentProps } from 'react';
import { FileTrigger } from 'react-aria-components';
import { Button } from './button';

/** A button that asks for a file of these kinds, and tells which one was chosen. */
export const FileButton = ({
  kinds,
  onChoose,
  ...look
}: { kinds: readonly string[]; onChoose: (file: File) => void } & Pick<
  ComponentProps<typeof Button>,
  '$quiet' | 'isDisabled' | 'children'
>) => (
  <FileTrigger acceptedFileTypes={kinds} onSelect={(files) => files?.[0] && onChoose(files[0])}>
    <Button {...look} />
  </FileTrigger>
);
