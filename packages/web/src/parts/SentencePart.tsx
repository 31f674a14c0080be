import { Popover } from '@mantine/core';
import { type ReactNode, useState } from 'react';

interface Props {
  /** What this part of the sentence is about; the button's name for those who cannot see the sentence. */
  about: string;
  text: string;
  missing?: boolean;
  children: (close: () => void) => ReactNode;
  width?: number;
}

/** An underlined part of a sentence that opens its choices. */
export function SentencePart({ about, text, missing, children, width = 340 }: Props) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Popover
        trapFocus
        returnFocus
        opened={open}
        onChange={setOpen}
        position="bottom-start"
        width={width}
        // What fades away would still lie over the next part, and take its click.
        transitionProps={{ duration: 0 }}
      >
        <Popover.Target>
          <button
            type="button"
            className={`part${missing ? ' missing' : ''}`}
            aria-label={`${about}: ${text}`}
            aria-expanded={open}
            onClick={() => setOpen(!open)}
          >
            {text}
          </button>
        </Popover.Target>
        <Popover.Dropdown aria-label={about}>{children(() => setOpen(false))}</Popover.Dropdown>
      </Popover>
      {/* A comma after it does not begin a line (U+2060). */}
      {'\u2060'}
    </>
  );
}
