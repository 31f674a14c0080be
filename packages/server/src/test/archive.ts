import yauzl from 'yauzl';
import { ZipFile } from 'yazl';

/** The texts of all files of an archive, by name. */
export const archiveOf = (archive: Buffer): Promise<Map<string, string>> =>
  new Promise((resolve, reject) => {
    const files = new Map<string, string>();
    yauzl.fromBuffer(archive, { lazyEntries: true }, (error, zip) => {
      if (error) return reject(error);
      zip.on('entry', (entry: yauzl.Entry) => {
        zip.openReadStream(entry, async (fault, stream) => {
          if (fault) return reject(fault);
          const parts: Buffer[] = [];
          for await (const part of stream) parts.push(part as Buffer);
          files.set(entry.fileName, Buffer.concat(parts).toString('utf8'));
          zip.readEntry();
        });
      });
      zip.on('end', () => resolve(files));
      zip.readEntry();
    });
  });

/** An archive of these files, as if each had been written at `mtime`. */
export async function archived(files: Record<string, string>, mtime?: Date): Promise<Buffer> {
  const zip = new ZipFile();
  for (const [name, text] of Object.entries(files)) zip.addBuffer(Buffer.from(text), name, mtime && { mtime });
  zip.end();
  const parts: Buffer[] = [];
  for await (const part of zip.outputStream) parts.push(part as Buffer);
  return Buffer.concat(parts);
}

const OFFICE = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships';

/** The files of a workbook with these sheets, by name: what stands in `worksheet`. */
export function bookFiles(
  sheets: Record<string, string>,
  { book = '', more = {} }: { book?: string; more?: Record<string, string> } = {},
): Record<string, string> {
  const names = Object.keys(sheets);
  const listed = names.map((name, i) => `<sheet name="${name}" sheetId="${i + 1}" r:id="rId${i + 1}"/>`).join('');
  const parts = names.map(
    (_, i) => `<Relationship Id="rId${i + 1}" Type="${OFFICE}/worksheet" Target="worksheets/sheet${i + 1}.xml"/>`,
  );
  const others = Object.keys(more).map((path) => {
    const type = path.replace(/^.*\/|\.xml$/g, '');
    return `<Relationship Id="${type}" Type="${OFFICE}/${type}" Target="/${path}"/>`;
  });
  return {
    'xl/workbook.xml': `<workbook xmlns:r="${OFFICE}">${book}<sheets>${listed}</sheets></workbook>`,
    'xl/_rels/workbook.xml.rels': `<Relationships>${[...parts, ...others].join('')}</Relationships>`,
    ...Object.fromEntries(
      names.map((name, i) => [`xl/worksheets/sheet${i + 1}.xml`, `<worksheet>${sheets[name]}</worksheet>`]),
    ),
    ...more,
  };
}
