import type { Readable } from 'node:stream';
import { SaxesParser } from 'saxes';
import { DAMAGED } from './archive.ts';
import { FileError } from './rows.ts';

/** Elements within elements, and characters of one text: far more than any workbook has. */
const DEEPEST = 100;
const LONGEST = 1_000_000;

export interface XmlHandler {
  /** An element begins; names come without their prefix. */
  open(name: string, attributes: Record<string, string>): void;
  /** An element ends, with the text since the last beginning or end. */
  close(name: string, text: string): void;
  /** Called between parts of the file; false when no more is wanted. */
  more?(): boolean;
}

const bare = (name: string): string => name.slice(name.indexOf(':') + 1);

/**
 * Reads XML as it comes, never whole in memory. What it declares of its own (entities) is not followed.
 * @throws FileError when it is none
 */
export async function readXml(bytes: Readable, handler: XmlHandler): Promise<void> {
  const parser = new SaxesParser();
  let text = '';
  let depth = 0;
  parser.on('opentag', ({ name, attributes }) => {
    if (++depth > DEEPEST) throw new FileError(DAMAGED);
    text = '';
    handler.open(bare(name), attributes);
  });
  const takeText = (more: string) => {
    text += more;
    if (text.length > LONGEST) throw new FileError(DAMAGED);
  };
  parser.on('text', takeText);
  parser.on('cdata', takeText);
  parser.on('closetag', ({ name }) => {
    depth--;
    handler.close(bare(name), text);
    text = '';
  });
  parser.on('error', (error) => {
    throw error;
  });
  const decoder = new TextDecoder('utf-8', { fatal: true });
  try {
    for await (const part of bytes) {
      parser.write(decoder.decode(part as Buffer, { stream: true }));
      if (handler.more?.() === false) return;
    }
    parser.write(decoder.decode()).close();
  } catch (error) {
    throw error instanceof FileError ? error : new FileError(DAMAGED);
  }
}
