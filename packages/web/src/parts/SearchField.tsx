import { TextInput } from '@mantine/core';
import { useEffect, useState } from 'react';
import { useStable } from './useStable.ts';

/** Milliseconds without a key after which the search is made. */
const PAUSE = 150;

interface Props {
  label: string;
  /** What is searched for at present: it may come from the address. */
  value: string;
  onChange: (text: string) => void;
}

/** A field to search by. Every letter stands at once; the search follows when the typing pauses. */
export function SearchField({ label, value, onChange }: Props) {
  const [text, setText] = useState(value);
  const [asked, setAsked] = useState(value);
  const [seen, setSeen] = useState(value);
  const ask = useStable(onChange);
  if (value !== seen) {
    setSeen(value);
    // What comes from elsewhere (a link, the way back) stands; what was asked for here does not come over new letters.
    if (value !== asked) {
      setAsked(value);
      setText(value);
    }
  }
  useEffect(() => {
    if (text === asked) return;
    const timer = setTimeout(() => {
      setAsked(text);
      ask(text);
    }, PAUSE);
    return () => clearTimeout(timer);
  }, [text, asked, ask]);
  return (
    <TextInput
      type="search"
      aria-label={label}
      placeholder={label}
      value={text}
      onChange={(e) => setText(e.currentTarget.value)}
    />
  );
}
