import type { Draft } from '@chronicon/core/contract/edits';
import { Button } from '@mantine/core';
import { findBlock } from './documentEdits.ts';
import type { EditStore } from './editStore.ts';
import { type Overwritten, settingText } from './ownTexts.ts';
import type { BlockKinds } from './useBlockKinds.ts';
import type { SavedText } from './useCommentary.ts';

interface Props {
  document: Draft['document'];
  kinds: BlockKinds;
  store: EditStore;
  overwritten: readonly Overwritten[];
  /** What was written for a period, in whose place one's own words stand. */
  over: readonly SavedText[];
  onLetGo: (words: SavedText) => void;
}

/** What a field of words is called; null for a choice, which is no text. */
function nameOf({ of, field }: Overwritten, { document, kinds }: Pick<Props, 'document' | 'kinds'>): string | null {
  if (of === null) return 'the title of the report';
  if ('page' in of) return 'the title of a page';
  const block = findBlock(document, of.block);
  if (!block) return 'a block';
  const kind = kinds.of(block);
  const asked = kind?.fields.find((f) => f.key === field);
  if (!asked || (asked.kind !== 'text' && asked.kind !== 'commentary')) return null;
  return `${asked.label.toLowerCase()} of ${kind!.label}`;
}

function Words({ said, words, children }: { said: string; words: string; children: React.ReactNode }) {
  return (
    <div role="alert" className="note small stack tight">
      <span>{said}</span>
      <blockquote className="kept-words">{words}</blockquote>
      <span className="row">
        <Button size="compact-xs" variant="default" onClick={() => void navigator.clipboard?.writeText(words)}>
          Copy
        </Button>
        {children}
      </span>
    </div>
  );
}

/** Words that somebody else’s have taken the place of, or that one’s own have: kept, and shown, until one lets them go. */
export function Overwrote({ document, kinds, store, overwritten, over, onLetGo }: Props) {
  return (
    <>
      {overwritten.map((o) => {
        const name = nameOf(o, { document, kinds });
        if (name === null) return null;
        const gone = o.theirs === null;
        return (
          <Words
            key={JSON.stringify([o.of, o.field, o.mine])}
            said={
              gone
                ? `Someone else deleted what held your text: ${name}. Your text is kept here.`
                : `Someone else changed ${name} after you. Their version is live; yours is saved here.`
            }
            words={o.mine}
          >
            {!gone && (
              <Button
                size="compact-xs"
                variant="default"
                onClick={() => {
                  store.edit(settingText(o, o.mine));
                  store.settle(o);
                }}
              >
                Use mine
              </Button>
            )}
            <Button size="compact-xs" variant="subtle" onClick={() => store.settle(o)}>
              Discard
            </Button>
          </Words>
        );
      })}
      {over.map((o) => (
        <Words
          key={`${o.block} ${o.from} ${o.text}`}
          said="Someone else wrote for this period while you did. Yours is live; theirs is kept here."
          words={o.text}
        >
          <Button size="compact-xs" variant="subtle" onClick={() => onLetGo(o)}>
            Discard
          </Button>
        </Words>
      ))}
    </>
  );
}
